#pragma once

#include "app/session/session.h"

#include <QWidget>

#include <functional>

class QDoubleSpinBox;
class QMenu;
class QPushButton;

namespace noctis {

/// The view's lens: by its focal length on a sensor, or by its angle; or parallel, by its height.
class LensControl : public QWidget {
    Q_OBJECT
public:
    explicit LensControl(Session& session, QWidget* parent = nullptr);

private:
    void refresh();
    void showMenu(const QPoint& at);
    void addSensors(QMenu& menu);
    void readBy(LensReading::By by);
    /// The focal length stays, so the view holds more or less.
    void setSensor(double millimetres);
    void setValue(double value);
    void setParallel(bool on);
    /// How far what the view looks at is, m.
    [[nodiscard]] float ahead() const;
    void changeCamera(const std::function<void(Camera&)>& edit);

    Session& m_session;
    QPushButton* m_label;
    QDoubleSpinBox* m_value;
    QPushButton* m_parallel;
};

}  // namespace noctis
