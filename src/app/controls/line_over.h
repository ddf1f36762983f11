#pragma once

#include <QLineEdit>

namespace noctis {

/// A line to type into that lies over a part of a widget and goes by itself: Return, or the focus going
/// elsewhere, takes what was typed; Escape, or nothing typed, leaves all as it was.
class LineOver : public QLineEdit {
    Q_OBJECT
public:
    /// Takes the focus. It is as wide as its text needs, to the left of place's right side.
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
