#pragma once

#include <QLineEdit>

namespace noctis {

/// An editor that lies over part of a widget and closes by itself: Return or losing the focus accepts what was
/// typed; Escape, or nothing typed, changes nothing.
class LineOver : public QLineEdit {
    Q_OBJECT
public:
    /// Takes the focus. As wide as its text needs, extending to the left of place's right side.
    LineOver(QWidget* over, const QRect& place, const QString& text);

Q_SIGNALS:
    void taken(const QString& text);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    void leave(bool take);
    bool m_left = false;
};

}  // namespace noctis
