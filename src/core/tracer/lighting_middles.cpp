// The lamps that matter most at a place, by their middles alone: quick, and without chance.
#include "core/tracer/directions.h"
#include "core/tracer/lighting.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

void Lighting::prepareMiddles() {
    for (std::size_t i = 0; i < m_emitters.size(); ++i) {
        const Emitter& e = m_emitters[i];
        Middle middle;
        middle.kind = e.kind;
        middle.emitter = static_cast<int>(i);
        middle.power = e.power;
        middle.centre = e.centre;
        middle.nearest2 = e.radius * e.radius + 1e-8F;
        if (e.kind == Emitter::Kind::Sun) {
            middle.sun = sampleOne(middle.emitter, V3f(0.0F), V3f(0.0F), {0.5F, 0.5F});
            middle.sun.direction = -m_lights[static_cast<std::size_t>(e.light)].direction;
        } else if (e.kind == Emitter::Kind::Surface) {
            middle.point = pointOf(e, {0.5F, 0.5F});
            middle.area = e.areas.back();
        }
        m_middles.push_back(middle);
    }
}

LightSample Lighting::sampleMiddle(const Middle& middle, const V3f& position) const noexcept {
    if (middle.kind == Emitter::Kind::Sun)
        return middle.sun;
    if (middle.kind == Emitter::Kind::Delta)
        return sampleOne(middle.emitter, position, V3f(0.0F), {0.5F, 0.5F});
    LightSample out;
    out.group = m_emitters[static_cast<std::size_t>(middle.emitter)].group;
    sampleTowards(middle.point, middle.area, position, out);
    return out;
}

int Lighting::middles(const V3f& position, const V3f& normal, Lamps which, LightSample* samples,
                      int most) const noexcept {
    // The strongest are found by their importance, which is cheaper than a sample; and most of the weak by
    // what they could give if they stood right above, which is cheaper still.
    constexpr int kMost = 4;
    std::array<std::pair<float, const Middle*>, kMost> strongest{};
    most = std::min(most, kMost);
    int count = 0;
    float weakest = -1.0F;
    for (const Middle& middle : m_middles) {
        if (middle.kind == Emitter::Kind::Surface) {
            if (which == Lamps::WithoutSurface)
                break;  // surfaces come last
            const float d2 = std::max((middle.centre - position).length2(), middle.nearest2);
            if (middle.power <= weakest * d2)
                continue;
        }
        const float light =
            importance(m_emitters[static_cast<std::size_t>(middle.emitter)], position, normal);
        if (light <= weakest)
            continue;
        int at = std::min(count, most - 1);
        for (; at > 0 && strongest[static_cast<std::size_t>(at - 1)].first < light; --at)
            strongest[static_cast<std::size_t>(at)] = strongest[static_cast<std::size_t>(at - 1)];
        strongest[static_cast<std::size_t>(at)] = {light, &middle};
        count = std::min(count + 1, most);
        if (count == most)
            weakest = strongest[static_cast<std::size_t>(most - 1)].first;
    }
    int found = 0;
    for (int i = 0; i < count; ++i) {
        samples[found] = sampleMiddle(*strongest[static_cast<std::size_t>(i)].second, position);
        if (samples[found].pdf > 0.0F && samples[found].direction.dot(normal) > 0.0F)
            ++found;
    }
    return found;
}

}  // namespace noctis
