#include "app/cards/amount_bar.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/settings/parameter.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>

namespace noctis {

namespace {

constexpr int kHeight = 14;
constexpr int kThick = 4;
constexpr qreal kKnob = 5.0;

}  // namespace

AmountBar::AmountBar(const QString& what, QWidget* parent) : QWidget(parent), m_what(what) {
    setFixedHeight(kHeight);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::SizeHorCursor);
    setAccessibleName(tr("Amount"));
}

void AmountBar::setAmount(float amount, bool on) {
    m_amount = amount;
    m_on = on;
    setToolTip(tr("Amount %1: how much of %2 shows. Drag.")
                   .arg(qstring(formatNumber(amount, Unit::Percent)), m_what));
    update();
}

void AmountBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const int y = (kHeight - kThick) / 2;
    painter.fillRect(QRect(0, y, width(), kThick), theme::kHairline);
    painter.fillRect(QRectF(0, y, width() * static_cast<qreal>(m_amount), kThick),
                     m_on ? theme::kAccent : theme::kQuiet);
    if (hasFocus() || m_dragging || underMouse()) {
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::kText);
        painter.drawEllipse(
            QPointF(std::clamp(width() * static_cast<qreal>(m_amount), kKnob, width() - kKnob),
                    kHeight / 2.0),
            kKnob, kKnob);
    }
}

void AmountBar::moveTo(qreal x) {
    const float amount = std::clamp(static_cast<float>(x / width()), 0.0F, 1.0F);
    if (amount != m_amount)
        Q_EMIT moved(amount);
}

void AmountBar::mousePressEvent(QMouseEvent* event) {
    m_dragging = true;
    moveTo(event->position().x());
}

void AmountBar::mouseMoveEvent(QMouseEvent* event) {
    if (m_dragging)
        moveTo(event->position().x());
}

void AmountBar::mouseReleaseEvent(QMouseEvent*) {
    m_dragging = false;
    Q_EMIT rested();
}

void AmountBar::keyPressEvent(QKeyEvent* event) {
    if (event->key() != Qt::Key_Left && event->key() != Qt::Key_Right)
        return QWidget::keyPressEvent(event);
    Q_EMIT moved(
        std::clamp(m_amount + (event->key() == Qt::Key_Left ? -0.02F : 0.02F), 0.0F, 1.0F));
    Q_EMIT rested();
}

}  // namespace noctis
