#pragma once

#include "app/session/render_worker.h"
#include "app/session/session.h"

#include <QTimer>

#include <chrono>
#include <functional>

namespace noctis {

/// Keeps a traced picture of the session's view up to date: small and quick while it moves, and better from
/// round to round when it rests.
class LiveTrace : public QObject {
    Q_OBJECT
public:
    /// The frame at its full quality, and the part of it that is looked at.
    struct Size {
        QSizeF pixels;
        std::optional<QRectF> part;  ///< of 0..1; none for all of it
    };
    LiveTrace(Session& session, std::function<Size()> size, QObject* parent = nullptr);

    void setShown(const PassName& pass);
    [[nodiscard]] const PassName& shown() const { return m_shown; }
    /// Traces what has changed; moving: a quick picture now, and the full one once it rests.
    void restart(bool moving);
    /// The next restart traces whatever has changed or not.
    void forget() { m_traced.reset(); }
    /// The hand was lifted: the full picture comes soon.
    void rest();
    void stop();
    /// While paused, nothing is traced.
    void setPaused(bool paused) { m_paused = paused; }
    /// Whether it shows, or is about to show, a quick picture.
    [[nodiscard]] bool moves() const { return m_moves; }
    void setMoves(bool moves) { m_moves = moves; }
    [[nodiscard]] bool settled() const { return !m_worker.running() && !m_rest.isActive(); }

Q_SIGNALS:
    /// moving: quick and small. inPart: the rest of the frame was not traced.
    void seen(const std::shared_ptr<const noctis::PassSet>& set, bool moving, bool inPart);

private:
    void trace(bool moving);
    [[nodiscard]] RenderRequest requestOf(bool moving) const;
    void adaptScale(std::chrono::duration<double> taken);
    /// Says once why there is no picture, and takes it back when there is one.
    void setFailure(const QString& text);

    Session& m_session;
    std::function<Size()> m_size;
    RenderWorker m_worker;
    PassName m_shown{PassKind::Beauty, {}};
    QTimer m_rest;
    bool m_paused = false;
    bool m_moves = false;
    bool m_drawsMoving = false;
    bool m_movedOn = false;  ///< the hand has moved since the picture being made was begun
    bool m_inPart = false;
    QString m_failure;
    double m_scale = 0.5;  ///< of a moving picture
    std::optional<View> m_traced;
    PassName m_tracedShown{};
    std::vector<PassRequest> m_tracedPasses;
    std::shared_ptr<const LoadedScene> m_tracedScene;
    MovedPlaces m_tracedMoved;
};

}  // namespace noctis
