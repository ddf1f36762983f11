#include "app/controls/value_bar.h"

#include "app/controls/line_over.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QKeyEvent>
#include <QLocale>
#include <QMouseEvent>
#include <QPainter>
#include <QRegularExpression>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kBarLabelWidth = 84;
constexpr int kBarValueWidth = 68;
constexpr float kFineFactor = 0.1F;

/// How the bar maps to values: evenly, or with more room for small ones.
float curveOf(Unit unit, const Range& range) {
    const bool even =
        unit == Unit::Percent || unit == Unit::Degree || unit == Unit::Stop || range.min < 0.0F;
    if (even)
        return 1.0F;
    return unit == Unit::Extinction || unit == Unit::Metre ? 3.0F : 2.0F;
}

}  // namespace

ValueBar::ValueBar(QString label, Unit unit, Range range, QWidget* parent)
    : QWidget(parent), m_label(std::move(label)), m_unit(unit), m_range(range) {
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(24);
    setAccessibleName(m_label);
}

QRect ValueBar::track() const {
    return {kBarLabelWidth, 0, std::max(20, width() - kBarLabelWidth - kBarValueWidth), height()};
}

float ValueBar::placeOf(float value) const {
    const float low = std::max(m_range.min, m_range.min < 0.0F ? -m_range.sliderEnd : m_range.min);
    const float part = std::clamp((value - low) / (m_range.sliderEnd - low), 0.0F, 1.0F);
    return std::pow(part, 1.0F / curveOf(m_unit, m_range));
}

float ValueBar::valueAt(float place) const {
    const float low = std::max(m_range.min, m_range.min < 0.0F ? -m_range.sliderEnd : m_range.min);
    if (!m_unset.isEmpty() &&
        ((place <= 0.0F && m_unsetAt < low) || (place >= 1.0F && m_unsetAt > m_range.sliderEnd)))
        return m_unsetAt;
    return low + (m_range.sliderEnd - low) *
                     std::pow(std::clamp(place, 0.0F, 1.0F), curveOf(m_unit, m_range));
}

void ValueBar::setValue(float value) {
    if (value == m_value)
        return;
    m_value = value;
    update();
}

void ValueBar::setUnset(const QString& meaning, float value) {
    m_unset = meaning;
    m_unsetAt = value;
    update();
}

QString ValueBar::text() const {
    if (!m_instead.isEmpty())
        return m_instead;
    return m_value == m_unsetAt && !m_unset.isEmpty() ? m_unset
                                                      : qstring(formatNumber(m_value, m_unit));
}

void ValueBar::setInstead(const QString& text) {
    m_instead = text;
    setEnabled(text.isEmpty());
    update();
}

void ValueBar::moveTo(float value) {
    value = std::clamp(value, m_range.min, m_range.max);
    if (m_unit == Unit::Count)
        value = std::round(value);
    if (value == m_value)
        return;
    m_value = value;
    update();
    Q_EMIT moved(value);
}

void ValueBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(theme::font(12));
    painter.setPen(theme::kQuiet);
    painter.drawText(QRect(0, 0, kBarLabelWidth - 6, height()), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(m_label, Qt::ElideRight, kBarLabelWidth - 6));
    painter.setPen(isEnabled() ? theme::kText : theme::kQuiet);
    painter.drawText(QRect(width() - kBarValueWidth, 0, kBarValueWidth, height()),
                     Qt::AlignVCenter | Qt::AlignRight, text());
    if (!m_instead.isEmpty())
        return;
    const QRectF bar(track().left() + 5, height() / 2 - 1, track().width() - 14, 2);
    const qreal at = bar.left() + bar.width() * static_cast<qreal>(placeOf(m_value));
    const qreal zero = m_range.min < 0.0F
                           ? bar.left() + bar.width() * static_cast<qreal>(placeOf(0.0F))
                           : bar.left();
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::kHairline);
    painter.drawRect(bar);
    painter.setBrush(theme::kAccent);
    painter.drawRect(
        QRectF(QPointF(std::min(zero, at), bar.top()), QPointF(std::max(zero, at), bar.bottom())));
    painter.setBrush(theme::kText);
    painter.drawEllipse(QPointF(at, bar.center().y()), 5, 5);
}

void ValueBar::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton)
        return;
    if (event->position().x() > width() - kBarValueWidth) {
        edit();
        return;
    }
    m_dragging = true;
    m_grabbedX = static_cast<int>(event->position().x());
    // A press on the bar jumps there; elsewhere the value moves along with the hand.
    const QRect bar = track();
    if (bar.contains(event->position().toPoint()))
        moveTo(valueAt(static_cast<float>(m_grabbedX - bar.left() - 5) /
                       static_cast<float>(bar.width() - 14)));
    m_grabbedPlace = placeOf(m_value);
}

void ValueBar::mouseMoveEvent(QMouseEvent* event) {
    if (!m_dragging)
        return;
    float way = static_cast<float>(event->position().x() - m_grabbedX) /
                static_cast<float>(track().width() - 14);
    if ((event->modifiers() & Qt::ShiftModifier) != 0)
        way *= kFineFactor;
    moveTo(valueAt(m_grabbedPlace + way));
}

void ValueBar::mouseReleaseEvent(QMouseEvent*) {
    if (std::exchange(m_dragging, false))
        Q_EMIT rested();
}

void ValueBar::mouseDoubleClickEvent(QMouseEvent*) { edit(); }

void ValueBar::wheelEvent(QWheelEvent* event) {
    // The wheel scrolls the panel unless the bar has the focus.
    if (!hasFocus()) {
        event->ignore();
        return;
    }
    moveTo(valueAt(placeOf(m_value) + (event->angleDelta().y() > 0 ? 0.02F : -0.02F)));
    Q_EMIT rested();
}

void ValueBar::keyPressEvent(QKeyEvent* event) {
    const float size = (event->modifiers() & Qt::ShiftModifier) != 0 ? 0.002F : 0.02F;
    const float whole = m_unit == Unit::Count ? 1.0F : 0.0F;
    switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Down:
        moveTo(whole > 0.0F ? m_value - whole : valueAt(placeOf(m_value) - size));
        break;
    case Qt::Key_Right:
    case Qt::Key_Up:
        moveTo(whole > 0.0F ? m_value + whole : valueAt(placeOf(m_value) + size));
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        edit();
        return;
    default:
        QWidget::keyPressEvent(event);
        return;
    }
    Q_EMIT rested();
}

void ValueBar::edit() {
    if (m_editor != nullptr)
        return;
    float shown = m_value;
    if (m_unit == Unit::Percent)
        shown *= 100.0F;
    else if (m_unit == Unit::Extinction && m_value > 0.0F)
        shown = 3.0F / m_value;
    m_inMillimetres =
        m_unit == Unit::Metre && formatNumber(m_value, m_unit).find("mm") != std::string::npos;
    if (m_inMillimetres)
        shown *= 1e3F;
    m_editor = new LineOver(this, QRect(width() - kBarValueWidth, 0, kBarValueWidth, height()),
                            m_value == m_unsetAt && m_unsetAt != 0.0F
                                ? m_unset
                                : QLocale::c().toString(static_cast<double>(shown), 'g', 6) +
                                      (m_inMillimetres ? QStringLiteral(" mm") : QString()));
    m_editor->setAccessibleName(m_label);
    connect(m_editor, &LineOver::taken, this, &ValueBar::takeTyped);
}

void ValueBar::takeTyped(const QString& text) {
    if (!m_unset.isEmpty() && text.trimmed().compare(m_unset, Qt::CaseInsensitive) == 0) {
        moveTo(m_unsetAt);
        Q_EMIT rested();
        return;
    }
    // A number with an optional unit of length: "4 mm", "12cm".
    static const QRegularExpression typed(
        QStringLiteral(R"(^\s*([-+]?[0-9]*[.,]?[0-9]+(?:[eE][-+]?[0-9]+)?)\s*(\S*))"));
    const QRegularExpressionMatch match = typed.match(text);
    bool ok = false;
    float value = QLocale::c().toFloat(match.captured(1).replace(',', '.'), &ok);
    if (!ok || !std::isfinite(value))
        return;
    if (m_unit == Unit::Metre) {
        // Without a unit, the one that was shown applies.
        float metres = match.captured(2).isEmpty() && m_inMillimetres ? 1e-3F : 1.0F;
        for (const auto& [name, size] :
             {std::pair{"µm", 1e-6F}, {"um", 1e-6F}, {"mm", 1e-3F}, {"cm", 1e-2F}, {"km", 1e3F}})
            if (match.captured(2) == QString::fromUtf8(name))
                metres = size;
        value *= metres;
    }
    if (m_unit == Unit::Percent)
        value *= 0.01F;
    // A visibility was typed; the extinction that gives it is stored.
    if (m_unit == Unit::Extinction)
        value = value > 0.0F ? 3.0F / value : 0.0F;
    moveTo(value);
    Q_EMIT rested();
}

}  // namespace noctis
