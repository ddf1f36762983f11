#include "app/window/exposure_field.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/settings/parameter.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr float kMostStops = 10.0F;
constexpr float kStopsPerPixel = 0.02F;

}  // namespace

ExposureField::ExposureField(QWidget* parent) : QWidget(parent) {
    setFixedSize(sizeHint());
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::SizeHorCursor);
    setAccessibleName(tr("View exposure"));
    setToolTip(tr("View exposure: brightens what is shown, not what is stored. Drag it, or "
                  "double-click to reset."));
}

void ExposureField::setStops(float stops) {
    m_stops = stops;
    update();
}

void ExposureField::moveTo(float stops) {
    stops = std::clamp(std::round(stops * 20.0F) / 20.0F, -kMostStops, kMostStops);
    if (stops != m_stops)
        Q_EMIT moved(stops);
}

void ExposureField::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setPen(m_stops == 0.0F ? theme::kQuiet : theme::kText);
    painter.drawText(rect(), Qt::AlignCenter, qstring(formatNumber(m_stops, Unit::Stop)));
}

void ExposureField::mousePressEvent(QMouseEvent* event) {
    m_grabbed = m_stops;
    m_grabbedX = event->position().x();
}

void ExposureField::mouseMoveEvent(QMouseEvent* event) {
    moveTo(m_grabbed + static_cast<float>(event->position().x() - m_grabbedX) * kStopsPerPixel);
}

void ExposureField::mouseReleaseEvent(QMouseEvent*) { Q_EMIT rested(); }

void ExposureField::mouseDoubleClickEvent(QMouseEvent*) { moveTo(0.0F); }

void ExposureField::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right) {
        moveTo(m_stops + (event->key() == Qt::Key_Left ? -0.1F : 0.1F));
        Q_EMIT rested();
    } else {
        QWidget::keyPressEvent(event);
    }
}

}  // namespace noctis
