#include "app/picture/player.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kTicksPerFrame = 4;
constexpr qint64 kSecondMs = 1000;

}  // namespace

Player::Player(Source source, QObject* parent) : QObject(parent), m_source(std::move(source)) {
    m_timer.setTimerType(Qt::PreciseTimer);
    connect(&m_timer, &QTimer::timeout, this, &Player::tick);
}

void Player::setFrames(std::pair<int, int> frames) {
    if (frames == m_frames)
        return;
    const int now = frameOf(m_step);
    m_frames = frames;
    if (playing())
        play(now);
}

void Player::play(int from) {
    const bool inside = from >= m_frames.first && from < m_frames.second;
    m_anchor = m_step = inside ? from - m_frames.first : 0;
    m_dropped = 0;
    m_shown.clear();
    m_clock.start();
    m_running.start();
    m_timer.start(std::max(1, static_cast<int>(std::lround(1000.0 / (m_rate * kTicksPerFrame)))));
    m_source.show(frameOf(m_step));
}

void Player::stop() {
    if (!playing())
        return;
    m_timer.stop();
    Q_EMIT stopped();
}

int Player::frameOf(qint64 step) const {
    const qint64 count = m_frames.second - m_frames.first + 1;
    if (m_after == AfterLast::Backwards && count > 1) {
        const qint64 place = step % (2 * (count - 1));
        return m_frames.first + static_cast<int>(place < count ? place : 2 * (count - 1) - place);
    }
    return m_frames.first + static_cast<int>(step % count);
}

bool Player::endsBefore(qint64 step) const {
    return m_after == AfterLast::Stop && step > m_frames.second - m_frames.first;
}

void Player::tick() {
    const qint64 due =
        m_anchor + static_cast<qint64>(static_cast<double>(m_clock.nsecsElapsed()) / 1e9 * m_rate);
    if (due <= m_step || !m_source.isIdle())
        return;
    if (endsBefore(m_step + 1))
        return stop();
    qint64 next = m_step + 1;
    bool ready = m_source.isReady(frameOf(next));
    while (ready && next < due && !endsBefore(next + 1) && m_source.isReady(frameOf(next + 1)))
        ++next;
    m_dropped += static_cast<int>(next - m_step - 1);
    m_step = next;
    if (next < due) {  // what isn't ready holds up the rest
        m_anchor = next;
        m_clock.start();
    }
    const qint64 now = m_running.elapsed();
    m_shown.push_back(now);
    while (m_shown.front() + kSecondMs <= now)
        m_shown.pop_front();
    m_source.show(frameOf(next));
}

double Player::shownPerSecond() const {
    const qint64 span = std::min(m_running.isValid() ? m_running.elapsed() : 0, kSecondMs);
    return span < kSecondMs / 4
               ? 0.0
               : static_cast<double>(m_shown.size()) * 1000.0 / static_cast<double>(span);
}

}  // namespace noctis
