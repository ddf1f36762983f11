#include "app/picture/time_strip.h"

#include "app/controls/tab_button.h"
#include "app/look/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kHeight = 30;
constexpr int kLeft = 150;   ///< px, of the buttons
constexpr int kRight = 160;  ///< of the text
constexpr double kNearestTicks = 7.0;
constexpr double kNearestLabels = 46.0;

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
                  "chosen step."));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 0, 12, 0);
    layout->setSpacing(4);
    m_playButton = linkButton(tr("Play"), tr("Plays the frames, and stops them (space)."));
    m_playButton->setObjectName("play");
    m_loop =
        tabButton(tr("Loop"), tr("Begins again after the last frame."), QStringLiteral("loop"));
    m_loop->setChecked(true);
    m_text = new QLabel;
    m_text->setFont(theme::font(12));
    m_text->setProperty("role", "quiet");
    m_text->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    layout->addWidget(m_playButton);
    layout->addWidget(m_loop);
    layout->addStretch(1);
    layout->addWidget(m_text);
    connect(m_playButton, &QPushButton::clicked, this, [this] { setPlaying(!playing()); });
    connect(&m_play, &QTimer::timeout, this, [this] {
        const bool ends = m_frame >= m_frames.second;
        if (ends && !m_loop->isChecked())
            return setPlaying(false);
        Q_EMIT frameDue(ends ? m_frames.first : m_frame + 1);
    });
    showText();
}

void TimeStrip::setFrames(std::pair<int, int> frames, double rate) {
    m_frames = frames;
    m_rate = rate;
    m_play.setInterval(std::max(1, static_cast<int>(std::lround(1000.0 / rate))));
    showText();
    update();
}

void TimeStrip::setFrame(int frame) {
    m_frame = frame;
    showText();
    update();
}

void TimeStrip::setKeys(std::vector<int> keys) {
    m_keys = std::move(keys);
    update();
}

void TimeStrip::setPlaying(bool playing) {
    m_playButton->setText(playing ? tr("Stop") : tr("Play"));
    if (!playing)
        return m_play.stop();
    if (m_frame >= m_frames.second)
        choose(m_frames.first);
    m_play.start();
}

void TimeStrip::showText() {
    const int count = m_frames.second - m_frames.first + 1;
    m_text->setText(tr("frame %1 of %2 · %3 s")
                        .arg(m_frame)
                        .arg(count)
                        .arg((m_frame - m_frames.first) / m_rate, 0, 'f', 2));
}

QRectF TimeStrip::ruler() const {
    return {static_cast<qreal>(kLeft), 0.0, std::max(40.0, width() - kLeft - kRight - 0.0),
            static_cast<qreal>(kHeight)};
}

double TimeStrip::placeOf(int frame) const {
    const QRectF area = ruler();
    const int span = std::max(1, m_frames.second - m_frames.first);
    return area.left() + area.width() * (frame - m_frames.first) / span;
}

void TimeStrip::choose(int frame) {
    frame = std::clamp(frame, m_frames.first, m_frames.second);
    if (frame != m_frame)
        Q_EMIT frameChosen(frame);
}

void TimeStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme::kPanel);
    const QRectF area = ruler();
    const double framesPerPixel = std::max(1, m_frames.second - m_frames.first) / area.width();
    const int ticks = roundStep(framesPerPixel, kNearestTicks);
    const int labels = roundStep(framesPerPixel, kNearestLabels);
    painter.setFont(theme::font(10));
    std::vector<int> places{m_frames.first};  // the first, and round numbers
    for (int frame = (m_frames.first / ticks + 1) * ticks; frame <= m_frames.second; frame += ticks)
        places.push_back(frame);
    for (const int frame : places) {
        const bool labelled = frame == m_frames.first || frame % labels == 0;
        const double x = placeOf(frame);
        painter.setPen(QPen(labelled ? theme::kQuiet : theme::kHairline, 1));
        painter.drawLine(QPointF(x, kHeight - 5.0), QPointF(x, kHeight - (labelled ? 10.0 : 8.0)));
        if (labelled && std::abs(placeOf(m_frame) - x) > 26.0)
            painter.drawText(QRectF(x - 24, 4, 48, 13), Qt::AlignHCenter | Qt::AlignVCenter,
                             QString::number(frame));
    }
    painter.setPen(QPen(theme::kHairline, 1));
    painter.drawLine(QPointF(area.left(), kHeight - 5.0), QPointF(area.right(), kHeight - 5.0));
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::kAccent);
    for (const int key : m_keys)
        if (key >= m_frames.first && key <= m_frames.second)
            painter.drawEllipse(QPointF(placeOf(key), kHeight - 5.0), 3.2, 3.2);
    const double now = placeOf(m_frame);
    painter.setPen(QPen(theme::kText, 1.4));
    painter.drawLine(QPointF(now, 17), QPointF(now, kHeight - 1.0));
    painter.setFont(theme::font(11, QFont::Medium));
    painter.drawText(QRectF(now - 24, 3, 48, 14), Qt::AlignHCenter | Qt::AlignVCenter,
                     QString::number(m_frame));
    if (hasFocus()) {
        painter.setPen(QPen(theme::kAccent, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(area.adjusted(-8, 1.5, 8, -1.5), 3, 3);
    }
}

void TimeStrip::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton ||
        !ruler().adjusted(-8, 0, 8, 0).contains(event->position()))
        return;
    setPlaying(false);
    mouseMoveEvent(event);
}

void TimeStrip::mouseMoveEvent(QMouseEvent* event) {
    if ((event->buttons() & Qt::LeftButton) == 0)
        return;
    const QRectF area = ruler();
    const double part = (event->position().x() - area.left()) / area.width();
    choose(m_frames.first +
           static_cast<int>(std::lround(part * (m_frames.second - m_frames.first))));
}

void TimeStrip::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Left:
        return choose(m_frame - 1);
    case Qt::Key_Right:
        return choose(m_frame + 1);
    case Qt::Key_Home:
        return choose(m_frames.first);
    case Qt::Key_End:
        return choose(m_frames.second);
    case Qt::Key_Space:
        return setPlaying(!playing());
    default:
        QWidget::keyPressEvent(event);
    }
}

}  // namespace noctis
