#pragma once

#include "core/tracer/render.h"
#include "core/tracer/seen_before.h"

#include <memory>

namespace noctis {

class Lighting;

/// Draws a scene during a drag it: what is met first, lit by the matt light that was carried over from the last
/// still picture where the same place was seen, and elsewhere by each light's middle with a few shadow rays and
/// an even surround. Mirrors and glass are followed for two turns. No chance is in it, so nothing crawls or
/// speckles.
///
/// The scene drawn last must stay until another is drawn, or this is assigned anew: lights of it are kept.
/// Exact    same bits for any thread count.
/// Errors   as renderPasses.
/// Threads  one picture at a time; it uses all cores.
class MovingPicture {
public:
    /// Whether it can show this pass: beauty and occlusion; others are measured, and quick as they are.
    static bool shows(PassKind kind);

    /// The pass that is asked for first, and depth. before: none if nothing was lit the same way.
    /// Occlusion is 1 where nothing of it was seen before.
    PassSet draw(const Scene& scene, const Accelerator& accelerator, const RenderRequest& request,
                 const SeenBefore* before, const RunContext& run = {});

private:
    /// The lights of the picture drawn last, which are mostly those of the next.
    [[nodiscard]] const Lighting& lighting(const Scene& scene, const RenderRequest& request,
                                           const Settings& light);

    std::shared_ptr<const Lighting> m_lighting;
    const Scene* m_scene = nullptr;
    MovedPlaces m_moved;
    Settings m_settings;
};

}  // namespace noctis
