#pragma once

#include "app/session/background.h"
#include "app/session/session.h"
#include "core/tracer/moving_picture.h"
#include "core/tracer/render_file.h"

#include <QElapsedTimer>
#include <QObject>
#include <QRectF>

#include <atomic>
#include <chrono>
#include <functional>
#include <mutex>
#include <vector>

namespace noctis {

/// Renders passes of the session's scene in the background, telling how far it is.
class RenderWorker : public QObject {
    Q_OBJECT
public:
    explicit RenderWorker(QObject* parent = nullptr);

    void render(std::shared_ptr<const LoadedScene> scene, const RenderRequest& request);
    /// A quick picture of a view that moves; light is carried over from the still one before.
    /// sameLight: nothing but the view has changed since then.
    void renderMoving(std::shared_ptr<const LoadedScene> scene, const RenderRequest& request,
                      bool sameLight);
    /// A watched picture, the quick one first; it is kept for the next moving one.
    void renderStill(std::shared_ptr<const LoadedScene> scene, const RenderRequest& request,
                     bool sameLight);
    /// Whether all passes of a request can be kept; otherwise a job does it, into a file.
    [[nodiscard]] static bool fitsInMemory(const RenderRequest& request);
    void stop();
    [[nodiscard]] bool running() const { return m_background.running(); }
    [[nodiscard]] double secondsLeft() const;
    [[nodiscard]] float done() const { return m_done; }
    /// How long the last work took, without what it waited for this thread.
    [[nodiscard]] std::chrono::duration<double, std::milli> taken() const { return m_taken; }
    /// Tiles being rendered now, as parts of the frame.
    [[nodiscard]] std::vector<QRectF> tiles() const;

Q_SIGNALS:
    void started();
    void progressed();
    void refined(const std::shared_ptr<const noctis::PassSet>& set);
    void finished(const std::shared_ptr<const noctis::PassSet>& set);
    void stopped();
    void failed(const QString& text);

private:
    /// Works in the background; what work returns is then called in this thread, unless it was stopped.
    using Work = std::function<std::function<void()>(const RunContext&)>;
    void start(const Work& work);
    void clearTiles();
    [[nodiscard]] RenderObserver observer(const RenderRequest& request);
    /// Drops what was seen by other light; nothing may be at work.
    void keepSeen(bool sameLight);
    [[nodiscard]] const SeenBefore* seen() const { return m_seen ? &*m_seen : nullptr; }

    QElapsedTimer m_clock;
    std::chrono::duration<double, std::milli> m_taken{0.0};
    std::atomic<float> m_done = 0.0F;
    mutable std::mutex m_mutex;
    std::vector<QRectF> m_tiles;
    MovingPicture m_moving;
    std::optional<SeenBefore> m_seen;
    Background m_background{this};  ///< last: it uses all of the above
};

}  // namespace noctis
