#pragma once

#include "app/session/session.h"

#include <QWidget>

class QComboBox;
class QPushButton;
class QSpinBox;

namespace noctis {

/// Sets up views of one thing from several sides; keeps them as views, or queues a job that renders them.
class TurnaroundPanel : public QWidget {
    Q_OBJECT
public:
    explicit TurnaroundPanel(Session& session, QWidget* parent = nullptr);

    /// Opens it for this object; for everything where it is empty.
    void present(const std::string& object);
    [[nodiscard]] std::vector<View> views() const;
    /// Queues rendering the project's passes of each view into a folder, one file each.
    void renderInto(const std::filesystem::path& folder);

Q_SIGNALS:
    void closed();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void keepViews();

    Session& m_session;
    QComboBox* m_object;
    QSpinBox* m_count;
    QSpinBox* m_start;
    QSpinBox* m_elevation;
    QPushButton* m_parallel;
};

}  // namespace noctis
