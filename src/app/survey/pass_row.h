#pragma once

#include "app/controls/names_picker.h"
#include "core/tracer/pass_state.h"

#include <QFrame>

#include <functional>
#include <optional>
#include <tuple>

class QLabel;
class QVBoxLayout;

namespace noctis {

class SettingsForm;

/// One pass to render: its state; opened, its settings.
class PassRow : public QFrame {
    Q_OBJECT
public:
    /// choices: names of the scene, for settings that take them.
    PassRow(const PassRequest& request, std::function<NameChoices()> choices,
            QWidget* parent = nullptr);

    /// warnings: what users should know before using it.
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
    /// Shows what of the state and summary fits; their tooltips have all of it.
    void fitText();

    PassRequest m_request;
    std::optional<std::tuple<PassRequest, PassState, std::vector<std::string>>> m_shown;
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
    std::function<NameChoices()> m_choices;
};

}  // namespace noctis
