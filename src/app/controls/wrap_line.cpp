#include "app/controls/wrap_line.h"

#include <QEvent>

#include <algorithm>

namespace noctis {

namespace {
constexpr int kBetween = 12;
}

WrapLine::WrapLine(QWidget* left, QWidget* right, QWidget* parent)
    : QWidget(parent), m_left(left), m_right(right) {
    left->setParent(this);
    right->setParent(this);
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
}

bool WrapLine::inOne(int width) const {
    return m_left->sizeHint().width() + kBetween + m_right->sizeHint().width() <= width;
}

QSize WrapLine::minimumSizeHint() const {
    const QSize left = m_left->sizeHint();
    const QSize right = m_right->sizeHint();
    return {std::max(left.width(), right.width()), inOne(width())
                                                       ? std::max(left.height(), right.height())
                                                       : left.height() + right.height()};
}

void WrapLine::place() {
    const QSize left = m_left->sizeHint();
    const QSize right = m_right->sizeHint();
    const bool one = inOne(width());
    const int high = minimumSizeHint().height();
    m_left->setGeometry(0, 0, std::min(left.width(), width()), one ? high : left.height());
    const int room = one ? width() - left.width() - kBetween : width();
    const bool expands = (m_right->sizePolicy().expandingDirections() & Qt::Horizontal) != 0;
    const int wide = expands ? room : std::min(right.width(), room);
    m_right->setGeometry(one ? width() - wide : 0, one ? 0 : left.height(), wide,
                         one ? high : right.height());
    if (high != height())
        setFixedHeight(high);
}

void WrapLine::resizeEvent(QResizeEvent*) { place(); }

bool WrapLine::event(QEvent* event) {
    if (event->type() == QEvent::LayoutRequest || event->type() == QEvent::Polish)
        place();
    return QWidget::event(event);
}

}  // namespace noctis
