#include "app/instruments/instrument.h"

#include "app/look/theme.h"

#include <QEvent>
#include <QPushButton>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kButton = 24;  ///< px
constexpr int kBeside = 6;

}  // namespace

V3f turnedLevel(const V3f& direction, const V3f& towards) {
    V3f level(towards.x, 0.0F, towards.z);
    const V3f from = direction.normalized();
    if (level.length2() < 1e-6F)
        return towards;
    level.normalize();
    return level * std::sqrt(std::max(0.0F, 1.0F - from.y * from.y)) + V3f(0.0F, from.y, 0.0F);
}

Instrument::Instrument(QWidget* parent) : QWidget(parent), m_enlarge(new QPushButton(this)) {
    m_enlarge->setProperty("role", "icon");
    m_enlarge->setObjectName("enlarge");
    m_enlarge->setIconSize(QSize(13, 13));
    m_enlarge->setFixedSize(kButton, kButton);
    connect(m_enlarge, &QPushButton::clicked, this, &Instrument::enlargeAsked);
    setLarge(false);
}

void Instrument::setLarge(bool large) {
    m_enlarge->setIcon(
        theme::icon(large ? QStringLiteral("minimize-2") : QStringLiteral("maximize-2")));
    m_enlarge->setToolTip(large ? tr("Gives the picture its place back.")
                                : tr("Shows this instrument in the picture's place."));
    m_enlarge->setAccessibleName(large ? tr("Back to the picture") : tr("Enlarge"));
}

void Instrument::setHeadRoom(int room) {
    m_headRoom = room;
    placeButton();
}

bool Instrument::event(QEvent* event) {
    if (event->type() == QEvent::Resize)
        placeButton();
    return QWidget::event(event);
}

void Instrument::placeButton() {
    m_enlarge->move(width() - kButton - kBeside - m_headRoom, 2);
    m_enlarge->raise();
}

}  // namespace noctis
