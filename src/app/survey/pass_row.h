#pragma once

#include "core/tracer/pass_state.h"

#include <QFrame>

class QLabel;
class QVBoxLayout;

namespace noctis {

class SettingsForm;

/// One pass to render: its state; opened, its settings.
class PassRow : public QFrame {
    Q_OBJECT
public:
    explicit PassRow(const PassRequest& request, QWidget* parent = nullptr);

    /// warnings are what is to be known before it is used.
    void setRequest(const PassRequest& request, const PassState& state,
                    const std::vector<std::string>& warnings = {});
    void setOpen(bool open);
    [[nodiscard]] const PassRequest& request() const { return m_request; }

Q_SIGNALS:
    void opened();
    void edited(const QString& setting, const noctis::PassRequest& request);
    void rested();
    void removeAsked();
    void reachAsked();  ///< a reach that fits the scene

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    /// What of the state fits beside the title; its tooltip has all of it.
    void fitState();

    PassRequest m_request;
    bool m_open = false;
    QColor m_dot;
    QLabel* m_title;
    QLabel* m_summary;
    QLabel* m_warning;
    QLabel* m_state;
    QString m_stateText;
    QVBoxLayout* m_layout;
    QWidget* m_body = nullptr;
    SettingsForm* m_form = nullptr;
};

}  // namespace noctis
