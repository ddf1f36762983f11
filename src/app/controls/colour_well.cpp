#include "app/controls/colour_well.h"

#include "app/look/theme.h"
#include "core/image/colour.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kWellLabelWidth = 84;
constexpr int kWellValueWidth = 48;
constexpr int kRow = 18;
constexpr int kNameIndent = 8;
/// Lightness runs over encoded values up to this, a little beyond white.
constexpr float kBrightest = 1.2F;

LinearRgb colourOf(const float parts[3]) {
    const QColor pure = QColor::fromHsvF(std::min(parts[1], 0.9999F), parts[2], 1.0F);
    const float light = parts[0] * kBrightest;
    return {linearFromSrgb(pure.redF() * light), linearFromSrgb(pure.greenF() * light),
            linearFromSrgb(pure.blueF() * light)};
}

}  // namespace

QColor shownColour(const LinearRgb& c) {
    const auto part = [](float v) { return std::clamp(srgbFromLinear(v), 0.0F, 1.0F); };
    return QColor::fromRgbF(part(c.r), part(c.g), part(c.b));
}

ColourWell::ColourWell(QString label, QWidget* parent)
    : QWidget(parent), m_label(std::move(label)) {
    setFixedHeight(4 * kRow + 2);
    setToolTip(tr("Lightness, hue and saturation of the colour."));
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(m_label);
}

void ColourWell::setColour(const LinearRgb& colour) {
    if (colour == m_colour)
        return;
    m_colour = colour;
    const float r = srgbFromLinear(colour.r);
    const float g = srgbFromLinear(colour.g);
    const float b = srgbFromLinear(colour.b);
    const float most = std::max({r, g, b});
    m_parts[0] = std::clamp(most / kBrightest, 0.0F, 1.0F);
    if (most > 0.0F) {
        const QColor pure = QColor::fromRgbF(std::max(r, 0.0F) / most, std::max(g, 0.0F) / most,
                                             std::max(b, 0.0F) / most);
        m_parts[2] = static_cast<float>(pure.hsvSaturationF());
        if (m_parts[2] > 0.001F)
            m_parts[1] = static_cast<float>(std::max(pure.hsvHueF(), 0.0F));
    }
    update();
}

QRectF ColourWell::bar(int part) const {
    return {static_cast<qreal>(kWellLabelWidth), static_cast<qreal>(1 + kRow * (part + 1)),
            static_cast<qreal>(std::max(20, width() - kWellLabelWidth - kWellValueWidth)),
            static_cast<qreal>(kRow)};
}

QString ColourWell::reading(int part) const {
    const float value = m_parts[part];
    if (part == 0)
        return tr("%1 %").arg(std::lround(value * kBrightest * 100.0F));
    return part == 1 ? tr("%1°").arg(std::lround(value * 360.0F))
                     : tr("%1 %").arg(std::lround(value * 100.0F));
}

void ColourWell::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(theme::font(12));
    painter.setPen(theme::kQuiet);
    const auto write = [&](const QString& text, int row, int indent) {
        painter.drawText(
            QRect(indent, 1 + kRow * row, kWellLabelWidth - 6 - indent, kRow), Qt::AlignVCenter,
            painter.fontMetrics().elidedText(text, Qt::ElideRight, kWellLabelWidth - 6 - indent));
    };
    write(m_label, 0, 0);
    painter.setPen(QPen(theme::kHairline, 1));
    painter.setBrush(shownColour(m_colour));
    painter.drawRoundedRect(QRectF(kWellLabelWidth + 0.5, 3.5, bar(0).width() - 1.0, kRow - 6.0), 3,
                            3);
    const QString names[3] = {tr("Lightness"), tr("Hue"), tr("Saturation")};
    for (int part = 0; part < 3; ++part) {
        const QRectF area = bar(part);
        painter.setPen(theme::kQuiet);
        write(names[part], part + 1, kNameIndent);
        QLinearGradient run(area.left(), 0, area.right(), 0);
        for (int i = 0; i <= 6; ++i) {
            float parts[3] = {m_parts[0], m_parts[1], m_parts[2]};
            if (part != 0)
                parts[0] = std::max(parts[0], 0.5F);
            if (part == 1)
                parts[2] = std::max(parts[2], 0.5F);
            parts[part] = static_cast<float>(i) / 6.0F;
            run.setColorAt(i / 6.0, shownColour(colourOf(parts)));
        }
        painter.setPen(Qt::NoPen);
        painter.setBrush(run);
        painter.drawRoundedRect(QRectF(area.left(), area.center().y() - 2, area.width(), 4), 2, 2);
        const qreal at = area.left() + area.width() * static_cast<qreal>(m_parts[part]);
        painter.setBrush(theme::kText);
        painter.setPen(hasFocus() && part == m_chosen ? QPen(theme::kAccent, 2)
                                                      : QPen(theme::kPanel, 1));
        painter.drawEllipse(QPointF(at, area.center().y()), 5, 5);
        painter.setPen(theme::kQuiet);
        painter.drawText(QRectF(width() - kWellValueWidth, area.top(), kWellValueWidth, kRow),
                         Qt::AlignRight | Qt::AlignVCenter, reading(part));
    }
}

void ColourWell::setPart(int part, float value) {
    m_parts[part] = std::clamp(value, 0.0F, 1.0F);
    m_colour = colourOf(m_parts);
    update();
    Q_EMIT moved(m_colour);
}

void ColourWell::mousePressEvent(QMouseEvent* event) {
    for (int part = 0; part < 3; ++part)
        if (bar(part).adjusted(-6, 0, 6, 0).contains(event->position())) {
            m_part = m_chosen = part;
            setPart(part, static_cast<float>((event->position().x() - bar(part).left()) /
                                             bar(part).width()));
        }
}

void ColourWell::mouseMoveEvent(QMouseEvent* event) {
    if (m_part >= 0)
        setPart(m_part, static_cast<float>((event->position().x() - bar(m_part).left()) /
                                           bar(m_part).width()));
}

void ColourWell::mouseReleaseEvent(QMouseEvent*) {
    if (std::exchange(m_part, -1) >= 0)
        Q_EMIT rested();
}

void ColourWell::keyPressEvent(QKeyEvent* event) {
    const float way = (event->modifiers() & Qt::ShiftModifier) != 0 ? 0.002F : 0.02F;
    switch (event->key()) {
    case Qt::Key_Up:
    case Qt::Key_Down:
        m_chosen = (m_chosen + (event->key() == Qt::Key_Up ? 2 : 1)) % 3;
        update();
        return;
    case Qt::Key_Left:
    case Qt::Key_Right:
        setPart(m_chosen, m_parts[m_chosen] + (event->key() == Qt::Key_Left ? -way : way));
        Q_EMIT rested();
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

}  // namespace noctis
