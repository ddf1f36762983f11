#include "app/controls/wrap_line.h"

#include <QEvent>
#include <QHBoxLayout>

#include <algorithm>

namespace noctis {

namespace {
constexpr int kBetween = 8;
constexpr int kBetweenLines = 4;
}  // namespace

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
    return {std::max(left.width(), right.width()),
            inOne(width()) ? std::max(left.height(), right.height())
                           : left.height() + kBetweenLines + right.height()};
}

void WrapLine::place() {
    const QSize left = m_left->sizeHint();
    const QSize right = m_right->sizeHint();
    const bool one = inOne(width());
    const int high = minimumSizeHint().height();
    const auto widthOf = [&](const QWidget* group, int hint, int other) {
        const int room = one ? width() - other - kBetween : width();
        const bool expands = (group->sizePolicy().expandingDirections() & Qt::Horizontal) != 0;
        return expands ? room : std::min(hint, room);
    };
    const int ofRight = widthOf(m_right, right.width(), left.width());
    m_left->setGeometry(0, 0, widthOf(m_left, left.width(), right.width()),
                        one ? high : left.height());
    m_right->setGeometry(one ? width() - ofRight : 0, one ? 0 : left.height() + kBetweenLines,
                         ofRight, one ? high : right.height());
    if (high != height())
        setFixedHeight(high);
}

void WrapLine::resizeEvent(QResizeEvent*) { place(); }

bool WrapLine::event(QEvent* event) {
    if (event->type() == QEvent::LayoutRequest || event->type() == QEvent::Polish)
        place();
    return QWidget::event(event);
}

QWidget* lineGroup(const std::vector<QWidget*>& widgets, int spacing, QWidget* expanding) {
    auto* group = new QWidget;
    auto* layout = new QHBoxLayout(group);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(spacing);
    for (QWidget* each : widgets)
        layout->addWidget(each, each == expanding ? 1 : 0);
    group->setSizePolicy(expanding != nullptr ? QSizePolicy::Expanding : QSizePolicy::Preferred,
                         QSizePolicy::Fixed);
    return group;
}

}  // namespace noctis
