#include "app/relief/solid_view.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>
#include <utility>

namespace noctis {

SolidView::SolidView(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Solid"));
    setToolTip(
        tr("The map as a solid. Drag to turn it, wheel to come nearer; arrow keys turn, + and "
           "- come nearer."));
    setMinimumSize(160, 140);
}

void SolidView::setMap(const std::shared_ptr<const FieldPyramid>& map, const Image& picture) {
    m_waiting = map;
    m_picture = picture;
    if (!map) {
        m_solid.reset();
        redraw();
        return;
    }
    if (!m_background.running())
        buildNext();
}

void SolidView::buildNext() {
    const auto map = std::exchange(m_waiting, nullptr);
    if (!map)
        return;
    m_background.start(
        [this, map, picture = m_picture](const std::stop_token&) -> std::function<void()> {
            auto solid = std::make_shared<const Solid>(map->full(), picture);
            return [this, solid] {
                m_solid = solid;
                m_why.clear();
                redraw();
                buildNext();
            };
        },
        [this](const QString& text) {
            m_solid.reset();
            m_why = text;
            redraw();
            buildNext();
        });
}

void SolidView::setLight(const V3f& towardsLight) {
    m_light = towardsLight;
    redraw();
}

void SolidView::redraw() {
    m_stale = true;
    update();
}

void SolidView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme::kSurround);
    if (m_solid) {
        if (std::exchange(m_stale, false)) {
            const qreal dpr = devicePixelRatioF();
            m_image = toQImage(m_solid->seen(
                m_solid->camera(m_turn, m_up, m_near,
                                static_cast<float>(width()) /
                                    static_cast<float>(std::max(height(), 1))),
                m_light, static_cast<int>(width() * dpr), static_cast<int>(height() * dpr)));
            m_image.setDevicePixelRatio(dpr);
        }
        painter.drawImage(QPointF(0, 0), m_image);
    }
    painter.setFont(theme::font(12));
    painter.setPen(theme::kText);
    painter.drawText(QRectF(10, 8, 100, 18), Qt::AlignLeft, tr("Solid"));
    if (!m_why.isEmpty()) {
        painter.setPen(theme::kQuiet);
        painter.drawText(rect().adjusted(16, 30, -16, -16), Qt::AlignCenter | Qt::TextWordWrap,
                         m_why);
    }
}

void SolidView::mousePressEvent(QMouseEvent* event) { m_last = event->position(); }

void SolidView::mouseMoveEvent(QMouseEvent* event) {
    const QPointF moved = event->position() - std::exchange(m_last, event->position());
    m_turn -= static_cast<float>(moved.x()) * 0.5F;
    m_up = std::clamp(m_up + static_cast<float>(moved.y()) * 0.4F, 2.0F, 89.0F);
    redraw();
}

void SolidView::wheelEvent(QWheelEvent* event) {
    m_near = std::clamp(
        m_near * std::pow(1.15F, static_cast<float>(event->angleDelta().y()) / 120.0F), 0.4F, 8.0F);
    redraw();
}

void SolidView::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Left:
        m_turn += 5.0F;
        break;
    case Qt::Key_Right:
        m_turn -= 5.0F;
        break;
    case Qt::Key_Up:
        m_up = std::min(m_up + 5.0F, 89.0F);
        break;
    case Qt::Key_Down:
        m_up = std::max(m_up - 5.0F, 2.0F);
        break;
    case Qt::Key_Plus:
        m_near = std::min(m_near * 1.15F, 8.0F);
        break;
    case Qt::Key_Minus:
        m_near = std::max(m_near / 1.15F, 0.4F);
        break;
    default:
        return QWidget::keyPressEvent(event);
    }
    redraw();
}

}  // namespace noctis
