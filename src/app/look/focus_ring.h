#pragma once

#include <QObject>
#include <QPointer>
#include <QWidget>

namespace noctis {

/// Draws a ring around the widget with the keyboard focus, the same for all widgets, once a key moved the focus
/// there; clicks show no ring. Text fields have a border instead.
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
