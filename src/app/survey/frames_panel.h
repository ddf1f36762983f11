#pragma once

#include "app/session/session.h"

#include <QWidget>

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QSpinBox;

namespace noctis {

/// The range of frames of a view of a scene that moves, kept for each view, and what renders it.
class FramesPanel : public QWidget {
    Q_OBJECT
public:
    explicit FramesPanel(Session& session, QWidget* parent = nullptr);

    void present();
    /// Renders the project's passes of each frame into a folder; frames whose files are there already
    /// are kept.
    void renderInto(const std::filesystem::path& folder);

Q_SIGNALS:
    void closed();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void refresh();
    void keepRange();

    Session& m_session;
    QLabel* m_title;
    QSpinBox* m_first;
    QSpinBox* m_last;
    QDoubleSpinBox* m_speed;
    QComboBox* m_layout;
};

}  // namespace noctis
