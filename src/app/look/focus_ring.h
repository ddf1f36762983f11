#pragma once

#include <QObject>
#include <QPointer>
#include <QWidget>

namespace noctis {

/// Frames the widget that the keys go to, the same for all of them, once keys brought the focus there; a click
/// shows no ring. What is typed into has a border of its own.
class FocusRing : public QObject {
    Q_OBJECT
public:
    explicit FocusRing(QObject* parent);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void follow(QWidget* widget);
    void place();

    QPointer<QWidget> m_widget;  ///< that has the focus
    QPointer<QWidget> m_ring;    ///< over its window
    bool m_byKeys = false;       ///< what was used last: keys, or the mouse
};

}  // namespace noctis
