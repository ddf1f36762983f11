#include "app/controls/line_over.h"

#include "app/look/theme.h"

#include <QKeyEvent>

#include <algorithm>
#include <utility>

namespace noctis {

namespace {

constexpr int kAroundText = 24;  ///< px: borders, margins and the cursor

}  // namespace

LineOver::LineOver(QWidget* over, const QRect& place, const QString& text) : QLineEdit(text, over) {
    setFont(theme::font(12));
    const int wide = std::max(place.width(), fontMetrics().horizontalAdvance(text) + kAroundText);
    setGeometry(std::max(0, place.right() + 1 - wide), place.top(), wide, place.height());
    selectAll();
    show();
    setFocus();
}

void LineOver::leave(bool take) {
    if (std::exchange(m_left, true))
        return;
    if (hasFocus())
        parentWidget()->setFocus();
    hide();
    deleteLater();
    if (take && isModified())
        Q_EMIT taken(text());
}

void LineOver::keyPressEvent(QKeyEvent* event) {
    const bool take = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
    if (!take && event->key() != Qt::Key_Escape)
        return QLineEdit::keyPressEvent(event);
    leave(take);
}

void LineOver::focusOutEvent(QFocusEvent* event) {
    QLineEdit::focusOutEvent(event);
    // Its own menu and other windows take the focus only for a while.
    if (event->reason() != Qt::PopupFocusReason && event->reason() != Qt::ActiveWindowFocusReason)
        leave(true);
}

}  // namespace noctis
