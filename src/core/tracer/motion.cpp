#include "core/tracer/motion.h"

namespace noctis {

std::array<float, 4> motionOf(const TracedFrame& frame, const Hit& hit, const V3f& place,
                              const Accelerator& accelerator) noexcept {
    const auto index = static_cast<std::size_t>(hit.instance);
    const V3f now = project(frame.camera, place, frame.width, frame.height);
    const auto at = [&](const Moment* moment) {
        if (moment == nullptr)
            return now;
        V3f then = place;
        if (!moment->instances.empty())
            then = place * accelerator.scene().instances[index].toWorld.inverse() *
                   moment->instances[index];
        return project(moment->camera, then, frame.width, frame.height);
    };
    const V3f before = at(frame.before);
    const V3f after = at(frame.after);
    return {before.x - now.x, before.y - now.y, after.x - now.x, after.y - now.y};
}

}  // namespace noctis
