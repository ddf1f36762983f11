#include "app/controls/curve_editor.h"

#include "app/controls/value_rows.h"

#include <QKeyEvent>
#include <QLineF>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kHeight = 132;
constexpr qreal kMargin = 7.0;
constexpr qreal kReach = 10.0;
constexpr float kBetweenPoints = 0.005F;  ///< the least way from point to point
constexpr float kKeyStep = 0.01F;

class CurveEditor : public ValueEditor {
public:
    CurveEditor(const Parameter& parameter, const NameSource&, QWidget* parent)
        : ValueEditor(parent), m_graph(new CurveGraph) {
        auto* column = new QVBoxLayout(this);
        column->setContentsMargins(0, 2, 0, 2);
        column->setSpacing(2);
        m_graph->setAccessibleName(qstring(parameter.label));
        m_graph->setToolTip(tr("%1\nDrag its points. Click to add one, right-click to remove one.")
                                .arg(qstring(parameter.help)));
        column->addWidget(m_graph);
        connect(m_graph, &CurveGraph::moved, this,
                [this](const Curve& curve) { Q_EMIT edited(curve); });
        connect(m_graph, &CurveGraph::rested, this, &ValueEditor::rested);
    }
    void showValue(const Value& value) override { m_graph->setCurve(std::get<Curve>(value)); }

private:
    CurveGraph* m_graph;
};

}  // namespace

CurveGraph::CurveGraph(QWidget* parent) : QWidget(parent) {
    setObjectName("curve-graph");
    setFixedHeight(kHeight);
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
}

void CurveGraph::setCurve(const Curve& curve) {
    if (curve == m_curve)
        return;
    m_curve = curve;
    if (m_chosen >= static_cast<int>(m_curve.points.size()))
        m_chosen = -1;
    update();
}

QRectF CurveGraph::plot() const {
    return QRectF(rect()).adjusted(kMargin, kMargin, -kMargin, -kMargin);
}

QPointF CurveGraph::fromCurve(const V2f& place) const {
    const QRectF area = plot();
    return {area.left() + static_cast<qreal>(place.x) * area.width(),
            area.bottom() - static_cast<qreal>(place.y) * area.height()};
}

V2f CurveGraph::toCurve(const QPointF& widget) const {
    const QRectF area = plot();
    return {static_cast<float>((widget.x() - area.left()) / area.width()),
            static_cast<float>((area.bottom() - widget.y()) / area.height())};
}

int CurveGraph::pointAt(const QPointF& widget) const {
    int best = -1;
    qreal nearest = kReach;
    for (std::size_t i = 0; i < m_curve.points.size(); ++i)
        if (const qreal away = QLineF(fromCurve(m_curve.points[i]), widget).length();
            away < nearest) {
            nearest = away;
            best = static_cast<int>(i);
        }
    return best;
}

void CurveGraph::movePoint(int index, V2f to) {
    auto& points = m_curve.points;
    const auto at = static_cast<std::size_t>(index);
    const float low = at == 0 ? 0.0F : points[at - 1].x + kBetweenPoints;
    const float high = at + 1 == points.size() ? 1.0F : points[at + 1].x - kBetweenPoints;
    points[at] = {std::clamp(to.x, std::min(low, high), high), std::clamp(to.y, 0.0F, 1.0F)};
    update();
    Q_EMIT moved(m_curve);
}

void CurveGraph::removePoint(int index) {
    if (index < 0 || m_curve.points.size() <= 2)
        return;
    m_curve.points.erase(m_curve.points.begin() + index);
    m_chosen = m_over = -1;
    update();
    Q_EMIT moved(m_curve);
    Q_EMIT rested();
}

void CurveGraph::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF area = plot();
    painter.setPen(QPen(theme::kHairline, 1));
    painter.setBrush(theme::kPanel);
    painter.drawRect(area.adjusted(-0.5, -0.5, 0.5, 0.5));
    painter.setPen(QPen(theme::kHairline, 1));
    for (int i = 1; i < 4; ++i) {
        const auto part = static_cast<float>(i) / 4.0F;
        painter.drawLine(fromCurve({part, 0.0F}), fromCurve({part, 1.0F}));
        painter.drawLine(fromCurve({0.0F, part}), fromCurve({1.0F, part}));
    }
    QPainterPath path;
    const int steps = static_cast<int>(area.width());
    for (int i = 0; i <= steps; ++i) {
        const float x = static_cast<float>(i) / static_cast<float>(steps);
        const QPointF at = fromCurve({x, std::clamp(curveAt(m_curve, x), 0.0F, 1.0F)});
        i == 0 ? path.moveTo(at) : path.lineTo(at);
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::kText, 1.4));
    painter.drawPath(path);
    for (int i = 0; i < static_cast<int>(m_curve.points.size()); ++i) {
        const bool hot = i == m_chosen || i == m_over;
        painter.setPen(QPen(hot ? theme::kText : theme::kAccent, 1.6));
        painter.setBrush(hot ? theme::kAccent : theme::kPanel);
        painter.drawEllipse(fromCurve(m_curve.points[static_cast<std::size_t>(i)]), 4.5, 4.5);
    }
    if (const int named = m_chosen >= 0 ? m_chosen : m_over; named >= 0) {
        const V2f& place = m_curve.points[static_cast<std::size_t>(named)];
        painter.setFont(theme::font(11));
        painter.setPen(theme::kQuiet);
        painter.drawText(area.adjusted(6, 3, -6, -3), Qt::AlignLeft | Qt::AlignTop,
                         tr("%1 becomes %2")
                             .arg(static_cast<double>(place.x), 0, 'f', 2)
                             .arg(static_cast<double>(place.y), 0, 'f', 2));
    }
}

void CurveGraph::mousePressEvent(QMouseEvent* event) {
    const int there = pointAt(event->position());
    if (event->button() == Qt::RightButton) {
        removePoint(there);
        return;
    }
    if (event->button() != Qt::LeftButton)
        return;
    m_chosen = there;
    m_dragged = true;
    if (there < 0) {
        const V2f place = toCurve(event->position());
        const auto after = std::find_if(m_curve.points.begin(), m_curve.points.end(),
                                        [&](const V2f& each) { return each.x > place.x; });
        m_chosen = static_cast<int>(after - m_curve.points.begin());
        m_curve.points.insert(after, place);
        movePoint(m_chosen, place);
    }
    update();
}

void CurveGraph::mouseMoveEvent(QMouseEvent* event) {
    if (m_dragged && m_chosen >= 0) {
        movePoint(m_chosen, toCurve(event->position()));
        return;
    }
    m_over = pointAt(event->position());
    update();
}

void CurveGraph::mouseReleaseEvent(QMouseEvent*) {
    if (m_dragged)
        Q_EMIT rested();
    m_dragged = false;
}

void CurveGraph::keyPressEvent(QKeyEvent* event) {
    const int count = static_cast<int>(m_curve.points.size());
    V2f way(0.0F);
    switch (event->key()) {
    case Qt::Key_PageUp:
    case Qt::Key_PageDown:
        m_chosen = event->key() == Qt::Key_PageDown ? std::min(m_chosen + 1, count - 1)
                                                    : std::max(m_chosen - 1, 0);
        update();
        return;
    case Qt::Key_Delete:
        removePoint(m_chosen);
        return;
    case Qt::Key_Left:
        way.x = -kKeyStep;
        break;
    case Qt::Key_Right:
        way.x = kKeyStep;
        break;
    case Qt::Key_Up:
        way.y = kKeyStep;
        break;
    case Qt::Key_Down:
        way.y = -kKeyStep;
        break;
    default:
        QWidget::keyPressEvent(event);
        return;
    }
    if (m_chosen >= 0) {
        movePoint(m_chosen, m_curve.points[static_cast<std::size_t>(m_chosen)] + way);
        Q_EMIT rested();
    }
}

void CurveGraph::leaveEvent(QEvent*) {
    m_over = -1;
    update();
}

ValueEditor* makeCurveEditor(const Parameter& parameter, const NameSource& names, QWidget* parent) {
    return new CurveEditor(parameter, names, parent);
}

}  // namespace noctis
