#include "app/picture/time_strip.h"

#include "app/controls/tab_button.h"
#include "app/look/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSpinBox>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kHeight = 30;
constexpr int kBesideRuler = 24;   ///< px
constexpr int kRoomForText = 640;  ///< in a narrower one, the ruler needs it
constexpr double kLine = kHeight - 7.0;
constexpr double kMarkTop = 15.0;  ///< of the ends of the part that plays
constexpr double kNearestTicks = 7.0;
constexpr double kNearestLabels = 46.0;
constexpr double kPressReach = 6.0;  ///< of a press, px

/// 1, 2, 5, 10, ... frames, so that no two are nearer than that many px.
int roundStep(double framesPerPixel, double pixels) {
    int step = 1;
    for (int decade = 1;; decade *= 10)
        for (const int part : {1, 2, 5}) {
            step = decade * part;
            if (step / framesPerPixel >= pixels || decade >= 1'000'000)
                return step;
        }
}

}  // namespace

TimeStrip::TimeStrip(QWidget* parent) : QWidget(parent) {
    setFixedHeight(kHeight);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Time"));
    setToolTip(tr("Drag to another frame; the arrow keys go one by one. Dots are keys of the "
                  "chosen step: drag them, with Ctrl a copy. The marks at the ends bound what "
                  "plays; double-click for all frames."));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 0, 12, 0);
    layout->setSpacing(4);
    m_play = linkButton(tr("Play"), tr("Plays the frames, and stops them (space)."));
    m_play->setObjectName("play");
    m_afterLast = linkButton({}, tr("What follows the last frame: nothing, the first one again, or "
                                    "the way back."));
    m_afterLast->setObjectName("after-last");
    m_number = new QSpinBox;
    m_number->setObjectName("frame");
    m_number->setKeyboardTracking(false);
    m_number->setAccessibleName(tr("Frame"));
    m_number->setToolTip(tr("The frame that is shown; the recipe stays."));
    m_unit = linkButton({}, tr("Whether the ruler counts frames or seconds."));
    m_unit->setObjectName("time-unit");
    m_curves = tabButton(tr("Curves"),
                         tr("Shows how the keyed settings of the chosen step move, in "
                            "the instruments' place."),
                         QStringLiteral("curves"));
    const auto quiet = [](Qt::Alignment alignment) {
        auto* text = new QLabel;
        text->setFont(theme::font(12));
        text->setProperty("role", "quiet");
        text->setAlignment(alignment | Qt::AlignVCenter);
        return text;
    };
    m_count = quiet(Qt::AlignLeft);
    m_text = quiet(Qt::AlignRight);
    m_text->setFixedWidth(m_text->fontMetrics().horizontalAdvance(tr("24 of 24 fps, 100 dropped")));
    layout->addWidget(m_play);
    layout->addWidget(m_afterLast);
    layout->addWidget(m_number);
    layout->addWidget(m_count);
    layout->addStretch(1);
    layout->addWidget(m_text);
    layout->addWidget(m_unit);
    layout->addWidget(m_curves);
    connect(m_play, &QPushButton::clicked, this, [this] { Q_EMIT playAsked(!playing()); });
    connect(m_afterLast, &QPushButton::clicked, this, [this] {
        setAfterLast(m_after == AfterLast::Stop    ? AfterLast::Again
                     : m_after == AfterLast::Again ? AfterLast::Backwards
                                                   : AfterLast::Stop);
        Q_EMIT afterLastChosen(m_after);
    });
    connect(m_number, &QSpinBox::valueChanged, this, &TimeStrip::frameChosen);
    connect(m_unit, &QPushButton::clicked, this, [this] {
        m_inSeconds = !m_inSeconds;
        showText();
        update();
    });
    connect(m_curves, &QPushButton::toggled, this, &TimeStrip::curvesAsked);
    setAfterLast(m_after);
    showText();
}

void TimeStrip::setFrames(std::pair<int, int> frames, double rate) {
    if (frames != m_frames)
        m_part.reset();
    m_frames = frames;
    m_rate = rate;
    const QSignalBlocker quiet(m_number);
    m_number->setRange(frames.first, frames.second);
    showText();
    update();
}

void TimeStrip::setFrame(int frame) {
    m_frame = frame;
    const QSignalBlocker quiet(m_number);
    m_number->setValue(frame);
    showText();
    update();
}

void TimeStrip::setKeys(std::vector<int> keys) {
    m_keys = std::move(keys);
    update();
}

void TimeStrip::setKept(std::vector<int> kept, std::vector<int> gaps) {
    m_kept = std::move(kept);
    m_gaps = std::move(gaps);
    showText();
    update();
}

void TimeStrip::setPlaying(const std::optional<QString>& plays) {
    m_plays = plays;
    m_play->setText(plays ? tr("Stop") : tr("Play"));
    showText();
}

std::pair<int, int> TimeStrip::part() const { return m_part.value_or(m_frames); }

void TimeStrip::setCurves(bool shown, bool any) {
    const QSignalBlocker quiet(m_curves);
    m_curves->setChecked(shown);
    m_curves->setEnabled(any || shown);
}

void TimeStrip::setAfterLast(AfterLast after) {
    m_after = after;
    m_afterLast->setText(after == AfterLast::Stop    ? tr("once")
                         : after == AfterLast::Again ? tr("loop")
                                                     : tr("there and back"));
}

void TimeStrip::showText() {
    const int count = m_frames.second - m_frames.first + 1;
    m_unit->setText(m_inSeconds ? tr("seconds") : tr("frames"));
    m_count->setText(tr("of %1").arg(count));
    const bool missing = std::ranges::find(m_gaps, m_frame) != m_gaps.end();
    m_text->setStyleSheet(
        missing && !m_plays ? QStringLiteral("color: %1").arg(theme::kWarning.name()) : QString());
    m_text->setText(m_plays   ? *m_plays
                    : missing ? tr("missing: another stands in")
                              : tr("%1 s at %2 fps")
                                    .arg((m_frame - m_frames.first) / m_rate, 0, 'f', 2)
                                    .arg(m_rate, 0, 'g', 4));
}

QRectF TimeStrip::ruler() const {
    const int left = m_count->geometry().right() + kBesideRuler;
    const QWidget& after = m_text->isHidden() ? static_cast<const QWidget&>(*m_unit) : *m_text;
    const int right = after.geometry().left() - kBesideRuler / 2;
    return {static_cast<qreal>(left), 0.0, std::max(40.0, right - left - 0.0),
            static_cast<qreal>(kHeight)};
}

double TimeStrip::placeOf(int frame) const {
    const QRectF area = ruler();
    const int span = std::max(1, m_frames.second - m_frames.first);
    return area.left() + area.width() * (frame - m_frames.first) / span;
}

QPointF TimeStrip::markOf(bool last) const {
    const auto [from, to] = part();
    return {placeOf(last ? to : from) + (last ? 6.0 : -6.0), (kMarkTop + kLine) / 2.0};
}

QPointF TimeStrip::keyPlace(int frame) const { return {placeOf(frame), kLine}; }

int TimeStrip::frameAt(double x) const {
    const QRectF area = ruler();
    const double along = (x - area.left()) / area.width();
    return std::clamp(m_frames.first +
                          static_cast<int>(std::lround(along * (m_frames.second - m_frames.first))),
                      m_frames.first, m_frames.second);
}

TimeStrip::Drag TimeStrip::dragAt(const QPointF& at) const {
    if (!ruler().adjusted(-12, 0, 12, 0).contains(at))
        return Drag::None;
    for (const bool last : {false, true})
        if (QLineF(at, markOf(last)).length() < kPressReach)
            return last ? Drag::Last : Drag::First;
    for (const int key : m_keys)
        if (QLineF(at, keyPlace(key)).length() < kPressReach)
            return Drag::Key;
    return Drag::Frame;
}

void TimeStrip::choose(int frame) {
    frame = std::clamp(frame, m_frames.first, m_frames.second);
    if (frame != m_frame)
        Q_EMIT frameChosen(frame);
}

void TimeStrip::paintRuler(QPainter& painter) const {
    const QRectF area = ruler();
    const double framesPerPixel = std::max(1, m_frames.second - m_frames.first) / area.width();
    // In seconds, ticks stand where those are round.
    const double unit = m_inSeconds ? m_rate / 10.0 : 1.0;
    const int ticks = roundStep(framesPerPixel / unit, kNearestTicks);
    const int labels = roundStep(framesPerPixel / unit, kNearestLabels);
    const auto label = [&](int count) {
        return m_inSeconds ? QString::number(count / 10.0) : QString::number(count);
    };
    const auto tick = [&](double frame, const QString& text) {
        const double x = area.left() + (frame - m_frames.first) / framesPerPixel;
        painter.setPen(QPen(!text.isEmpty() ? theme::kQuiet : theme::kHairline, 1));
        painter.drawLine(QPointF(x, kLine), QPointF(x, kLine - (!text.isEmpty() ? 5.0 : 3.0)));
        if (!text.isEmpty() && std::abs(placeOf(m_frame) - x) > 20.0)
            painter.drawText(QRectF(x - 24, 4, 48, 13), Qt::AlignHCenter | Qt::AlignVCenter, text);
    };
    const int origin = m_inSeconds ? 0 : m_frames.first;
    tick(m_frames.first, label(origin));
    for (int count = (origin / ticks + 1) * ticks;; count += ticks) {
        const double frame = m_inSeconds ? m_frames.first + count * unit : count;
        if (frame > m_frames.second + 1e-6)
            break;
        tick(frame, count % labels == 0 ? label(count) : QString());
    }
}

void TimeStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme::kPanel);
    const QRectF area = ruler();
    painter.setFont(theme::font(10));
    paintRuler(painter);
    painter.setPen(QPen(theme::kHairline, 1));
    painter.drawLine(QPointF(area.left(), kLine), QPointF(area.right(), kLine));
    // What is kept is a full line below the ruler, what is missing a hole in the ruler itself.
    const double half =
        std::max(1.0, area.width() / std::max(1, m_frames.second - m_frames.first)) / 2;
    painter.setPen(Qt::NoPen);
    const auto strip = [&](int frame, double y, double height, const QColor& colour) {
        if (frame < m_frames.first || frame > m_frames.second)
            return;
        const double from = std::max(placeOf(frame) - half, area.left());
        const double to = std::min(placeOf(frame) + half, area.right());
        painter.fillRect(QRectF(from, y, to - from, height), colour);
    };
    for (const int frame : m_kept)
        strip(frame, kLine + 3.5, 2.0, theme::kAccent.darker(150));
    for (const int frame : m_gaps)
        strip(frame, kLine - 6.0, 7.0, theme::kField);
    painter.setPen(QPen(theme::kWarning, 1.2));
    for (const int frame : m_gaps)
        painter.drawLine(QPointF(placeOf(frame) - 2.5, kLine + 4.5),
                         QPointF(placeOf(frame) + 2.5, kLine + 4.5));
    painter.setPen(Qt::NoPen);
    for (const bool last : {false, true}) {
        painter.setBrush(m_part ? theme::kText : theme::kAxis);
        const QPointF at = markOf(last);
        const double way = last ? 1.0 : -1.0;
        painter.drawRect(QRectF(at.x(), kMarkTop, way * 1.5, kLine - kMarkTop + 4.0).normalized());
        painter.drawRect(QRectF(at.x() - way * 4.0, kMarkTop, way * 5.0, 1.5).normalized());
    }
    painter.setBrush(theme::kAccent);
    for (const int key : m_keys)
        if (key >= m_frames.first && key <= m_frames.second)
            painter.drawEllipse(keyPlace(key), 3.2, 3.2);
    const double now = placeOf(m_frame);
    painter.setPen(QPen(theme::kText, 1.4));
    painter.drawLine(QPointF(now, 17), QPointF(now, kHeight - 1.0));
    painter.setFont(theme::font(11, QFont::Medium));
    painter.drawText(QRectF(now - 30, 3, 60, 14), Qt::AlignHCenter | Qt::AlignVCenter,
                     m_inSeconds ? QString::number((m_frame - m_frames.first) / m_rate, 'f', 2)
                                 : QString::number(m_frame));
    if (hasFocus()) {
        painter.setPen(QPen(theme::kAccent, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(area.adjusted(-12, 1.5, 12, -1.5), 3, 3);
    }
}

void TimeStrip::resizeEvent(QResizeEvent*) { m_text->setHidden(width() < kRoomForText); }

void TimeStrip::mousePressEvent(QMouseEvent* event) {
    m_drag = event->button() == Qt::LeftButton ? dragAt(event->position()) : Drag::None;
    if (m_drag == Drag::Key)
        m_key = *std::ranges::min_element(
            m_keys, {}, [&](int key) { return std::abs(placeOf(key) - event->position().x()); });
    if (m_drag == Drag::Frame) {
        Q_EMIT playAsked(false);
        choose(frameAt(event->position().x()));
    }
}

void TimeStrip::mouseMoveEvent(QMouseEvent* event) {
    const int frame = frameAt(event->position().x());
    auto [from, to] = part();
    switch (m_drag) {
    case Drag::None:
        return;
    case Drag::Frame:
        return choose(frame);
    case Drag::First:
        m_part = {std::min(frame, to), to};
        break;
    case Drag::Last:
        m_part = {from, std::max(frame, from)};
        break;
    case Drag::Key:
        if (frame != m_key) {
            const int was = std::exchange(m_key, frame);
            Q_EMIT keysMoved(was, frame, event->modifiers().testFlag(Qt::ControlModifier));
        }
        return;
    }
    if (m_part == m_frames)
        m_part.reset();
    update();
    Q_EMIT partChanged();
}

void TimeStrip::mouseReleaseEvent(QMouseEvent*) {
    const Drag was = std::exchange(m_drag, Drag::None);
    if (was == Drag::Key)
        Q_EMIT keysRested();
}

void TimeStrip::mouseDoubleClickEvent(QMouseEvent* event) {
    const Drag on = dragAt(event->position());
    if (on != Drag::First && on != Drag::Last)
        return mousePressEvent(event);
    m_part.reset();
    update();
    Q_EMIT partChanged();
}

void TimeStrip::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Left:
        return choose(m_frame - 1);
    case Qt::Key_Right:
        return choose(m_frame + 1);
    case Qt::Key_Home:
        return choose(part().first);
    case Qt::Key_End:
        return choose(part().second);
    case Qt::Key_Space:
        return Q_EMIT playAsked(!playing());
    default:
        QWidget::keyPressEvent(event);
    }
}

}  // namespace noctis
