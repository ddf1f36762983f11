#include "app/controls/gradient_editor.h"

#include "app/controls/colour_well.h"
#include "app/controls/value_rows.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kGradientHeight = 44;
constexpr qreal kBarHeight = 14.0;
constexpr qreal kGradientMargin = 7.0;
constexpr qreal kStopReach = 8.0;
constexpr qreal kKnob = 5.0;
constexpr float kStopKeyStep = 0.01F;

class GradientEditor : public ValueEditor {
public:
    GradientEditor(const Parameter& parameter, const NameSource&, QWidget* parent)
        : ValueEditor(parent), m_bar(new GradientBar), m_colour(new ColourWell(tr("Stop"))) {
        auto* column = new QVBoxLayout(this);
        column->setContentsMargins(0, 2, 0, 2);
        column->setSpacing(2);
        auto* row = new QHBoxLayout;
        row->setSpacing(0);
        row->addWidget(labelOf(parameter, kLabelWidth));
        row->addWidget(m_bar, 1);
        column->addLayout(row);
        column->addWidget(m_colour);
        m_bar->setAccessibleName(qstring(parameter.label));
        m_bar->setToolTip(tr("%1\nDrag its stops. Click to add one, right-click to remove one.")
                              .arg(qstring(parameter.help)));
        connect(m_bar, &GradientBar::moved, this,
                [this](const Gradient& gradient) { Q_EMIT edited(gradient); });
        connect(m_bar, &GradientBar::rested, this, &ValueEditor::rested);
        connect(m_bar, &GradientBar::chose, this, &GradientEditor::showStop);
        connect(m_colour, &ColourWell::moved, m_bar, &GradientBar::setColour);
        connect(m_colour, &ColourWell::rested, this, &ValueEditor::rested);
    }
    void showValue(const Value& value) override {
        m_bar->setGradient(std::get<Gradient>(value));
        showStop();
    }

private:
    void showStop() {
        const auto& stops = m_bar->gradient().stops;
        const auto at = static_cast<std::size_t>(m_bar->chosen());
        if (at < stops.size())
            m_colour->setColour(stops[at].colour);
    }

    GradientBar* m_bar;
    ColourWell* m_colour;
};

}  // namespace

GradientBar::GradientBar(QWidget* parent) : QWidget(parent) {
    setObjectName("gradient-bar");
    setFixedHeight(kGradientHeight);
    setFocusPolicy(Qt::StrongFocus);
}

void GradientBar::setGradient(const Gradient& gradient) {
    if (gradient == m_gradient)
        return;
    m_gradient = gradient;
    m_chosen = std::clamp(m_chosen, 0, static_cast<int>(gradient.stops.size()) - 1);
    update();
}

void GradientBar::setColour(const LinearRgb& colour) {
    m_gradient.stops[static_cast<std::size_t>(m_chosen)].colour = colour;
    update();
    Q_EMIT moved(m_gradient);
}

QRectF GradientBar::bar() const {
    return {kGradientMargin, 2.0, std::max(width() - 2 * kGradientMargin, 1.0), kBarHeight};
}

QPointF GradientBar::fromPlace(float at) const {
    const QRectF area = bar();
    return {area.left() + static_cast<qreal>(std::clamp(at, 0.0F, 1.0F)) * area.width(),
            area.bottom() + kKnob + 3};
}

float GradientBar::placeOf(qreal x) const {
    return static_cast<float>(std::clamp((x - bar().left()) / bar().width(), 0.0, 1.0));
}

int GradientBar::stopAt(qreal x) const {
    int best = -1;
    qreal nearest = kStopReach;
    for (std::size_t i = 0; i < m_gradient.stops.size(); ++i)
        if (const qreal away = std::abs(fromPlace(m_gradient.stops[i].at).x() - x);
            away < nearest) {
            nearest = away;
            best = static_cast<int>(i);
        }
    return best;
}

void GradientBar::choose(int stop) {
    m_chosen = stop;
    update();
    Q_EMIT chose(stop);
}

void GradientBar::moveStop(float to) {
    auto& stops = m_gradient.stops;
    const auto at = static_cast<std::size_t>(m_chosen);
    const float low = at == 0 ? 0.0F : stops[at - 1].at;
    const float high = at + 1 == stops.size() ? 1.0F : stops[at + 1].at;
    stops[at].at = std::clamp(to, low, std::max(low, high));
    update();
    Q_EMIT moved(m_gradient);
}

void GradientBar::removeStop(int stop) {
    auto& stops = m_gradient.stops;
    if (stop < 0 || stops.size() <= 1)
        return;
    stops.erase(stops.begin() + stop);
    choose(std::min(m_chosen, static_cast<int>(stops.size()) - 1));
    Q_EMIT moved(m_gradient);
    Q_EMIT rested();
}

void GradientBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF area = bar();
    // Painted column by column, because colours mix in scene-linear light, unlike in Qt's gradients. Where some
    // are brighter than white, all are dimmed alike, so that their hues show.
    float brightest = 1.0F;
    for (const Gradient::Stop& stop : m_gradient.stops)
        brightest = std::max({brightest, stop.colour.r, stop.colour.g, stop.colour.b});
    const auto dimmed = [&](const LinearRgb& c) {
        return shownColour({c.r / brightest, c.g / brightest, c.b / brightest});
    };
    const int columns = static_cast<int>(std::ceil(area.width()));
    QImage strip(columns, 1, QImage::Format_RGB32);
    for (int x = 0; x < columns; ++x) {
        const float at = (static_cast<float>(x) + 0.5F) / static_cast<float>(columns);
        strip.setPixel(x, 0, dimmed(gradientAt(m_gradient, at)).rgb());
    }
    painter.drawImage(area, strip);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::kHairline, 1));
    painter.drawRect(area.adjusted(-0.5, -0.5, 0.5, 0.5));
    for (int i = 0; i < static_cast<int>(m_gradient.stops.size()); ++i) {
        const Gradient::Stop& stop = m_gradient.stops[static_cast<std::size_t>(i)];
        const QPointF at = fromPlace(stop.at);
        painter.setPen(QPen(i == m_chosen ? theme::kText : theme::kQuiet, 1.4));
        painter.drawLine(QPointF(at.x(), area.bottom() + 1), QPointF(at.x(), at.y() - kKnob));
        painter.setBrush(dimmed(stop.colour));
        painter.drawEllipse(at, kKnob, kKnob);
    }
    const Gradient::Stop& chosen = m_gradient.stops[static_cast<std::size_t>(m_chosen)];
    painter.setFont(theme::font(11));
    painter.setPen(theme::kQuiet);
    const QString place = tr("%1 %").arg(std::lround(static_cast<double>(chosen.at) * 100.0));
    const qreal half = 0.5 * painter.fontMetrics().horizontalAdvance(place) + 1;
    const qreal middle = std::clamp(fromPlace(chosen.at).x(), half, std::max(half, width() - half));
    painter.drawText(QRectF(middle - half, kGradientHeight - 15, 2 * half, 14), Qt::AlignCenter,
                     place);
}

void GradientBar::mousePressEvent(QMouseEvent* event) {
    const int there = stopAt(event->position().x());
    if (event->button() == Qt::RightButton) {
        removeStop(there);
        return;
    }
    if (event->button() != Qt::LeftButton)
        return;
    m_dragged = true;
    if (there >= 0) {
        choose(there);
        return;
    }
    const float place = placeOf(event->position().x());
    auto& stops = m_gradient.stops;
    const auto after = std::find_if(stops.begin(), stops.end(),
                                    [&](const Gradient::Stop& each) { return each.at > place; });
    const auto index = static_cast<int>(after - stops.begin());
    stops.insert(after, {place, gradientAt(m_gradient, place)});
    choose(index);
    Q_EMIT moved(m_gradient);
}

void GradientBar::mouseMoveEvent(QMouseEvent* event) {
    if (m_dragged)
        moveStop(placeOf(event->position().x()));
}

void GradientBar::mouseReleaseEvent(QMouseEvent*) {
    if (std::exchange(m_dragged, false))
        Q_EMIT rested();
}

void GradientBar::keyPressEvent(QKeyEvent* event) {
    const int last = static_cast<int>(m_gradient.stops.size()) - 1;
    switch (event->key()) {
    case Qt::Key_PageUp:
        choose(std::max(m_chosen - 1, 0));
        return;
    case Qt::Key_PageDown:
        choose(std::min(m_chosen + 1, last));
        return;
    case Qt::Key_Delete:
        removeStop(m_chosen);
        return;
    case Qt::Key_Left:
    case Qt::Key_Right: {
        const float way = event->key() == Qt::Key_Left ? -kStopKeyStep : kStopKeyStep;
        moveStop(m_gradient.stops[static_cast<std::size_t>(m_chosen)].at + way);
        Q_EMIT rested();
        return;
    }
    default:
        QWidget::keyPressEvent(event);
    }
}

ValueEditor* makeGradientEditor(const Parameter& parameter, const NameSource& names,
                                QWidget* parent) {
    return new GradientEditor(parameter, names, parent);
}

}  // namespace noctis
