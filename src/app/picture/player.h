#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

#include <deque>
#include <functional>
#include <utility>

namespace noctis {

/// What follows the last frame.
enum class AfterLast { Stop, Again, Backwards };

/// Plays frames in real time where their pictures are ready: then those that are late are left out, and counted. Where
/// they aren't, one after the other as each is made, none left out.
class Player : public QObject {
    Q_OBJECT
public:
    struct Source {
        std::function<bool(int)> isReady;  ///< the picture of a frame
        std::function<bool()> isIdle;      ///< the last one that was asked for is shown
        std::function<void(int)> show;
    };
    explicit Player(Source source, QObject* parent = nullptr);

    /// Frames from first to last; while it plays, it goes on among them.
    void setFrames(std::pair<int, int> frames);
    void setRate(double framesPerSecond) { m_rate = framesPerSecond; }
    void setAfterLast(AfterLast after) { m_after = after; }
    [[nodiscard]] AfterLast afterLast() const noexcept { return m_after; }
    /// From a frame on; from the first if it is the last one or out of range.
    void play(int from);
    void stop();
    [[nodiscard]] bool playing() const noexcept { return m_timer.isActive(); }
    /// Frames shown in the last second.
    [[nodiscard]] double shownPerSecond() const;
    /// Since it began to play.
    [[nodiscard]] int dropped() const noexcept { return m_dropped; }

Q_SIGNALS:
    void stopped();

private:
    void tick();
    /// Of that many steps since the first frame.
    [[nodiscard]] int frameOf(qint64 step) const;
    [[nodiscard]] bool endsBefore(qint64 step) const;

    Source m_source;
    std::pair<int, int> m_frames{1, 1};
    double m_rate = 24.0;
    AfterLast m_after = AfterLast::Again;
    QTimer m_timer;
    QElapsedTimer m_clock;  ///< since m_anchor was shown
    qint64 m_anchor = 0;    ///< a step
    qint64 m_step = 0;      ///< the last one shown
    int m_dropped = 0;
    std::deque<qint64> m_shown;  ///< ms, of the last second
    QElapsedTimer m_running;
};

}  // namespace noctis
