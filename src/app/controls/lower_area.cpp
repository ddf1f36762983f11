#include "app/controls/lower_area.h"

#include <QFrame>
#include <QPushButton>

namespace noctis {

namespace {
constexpr int kHeadings = 32;
}

LowerArea::LowerArea(QWidget& instruments, int least, int most, QWidget* parent)
    : QScrollArea(parent), m_least(least), m_most(most) {
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::NoFocus);
    setWidget(&instruments);
    m_button = new QPushButton(this);
    m_button->setProperty("role", "link");
    m_button->setObjectName("lower");
    m_button->setToolTip(tr("Collapses the instruments to their headings to give the picture more "
                            "room, or shows them again."));
    connect(m_button, &QPushButton::clicked, this, [this] { setLowered(!m_lowered); });
    setLowered(false);
}

void LowerArea::setLowered(bool lowered) {
    m_lowered = lowered;
    setMinimumHeight(lowered ? kHeadings : m_least);
    setMaximumHeight(lowered ? kHeadings : m_most);
    m_button->setText(lowered ? tr("Expand") : tr("Collapse"));
    m_button->adjustSize();
    placeButton();
}

void LowerArea::setLarge(bool large) {
    setLowered(false);
    setMaximumHeight(large ? QWIDGETSIZE_MAX : m_most);
    m_button->setHidden(large);
}

void LowerArea::resizeEvent(QResizeEvent* event) {
    QScrollArea::resizeEvent(event);
    placeButton();
}

void LowerArea::placeButton() {
    m_button->move(width() - m_button->width() - 12, 4);
    m_button->raise();
}

}  // namespace noctis
