#include "core/tracer/stand_in_ground.h"

#include "core/tracer/directions.h"
#include "core/tracer/rgb.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

const V3f kUp(0.0F, 1.0F, 0.0F);

/// Height above the ground, as a part of the distance it is seen from.
constexpr float kClear = 1e-6F;
constexpr float kLeastClear = 1e-5F;

}  // namespace

StandInGround::StandInGround(float level, const Light& key, int group, float skyIrradiance,
                             int skyGroup)
    : m_level(level), m_towardsKey(-key.direction), m_keyCosine(std::cos(0.5F * key.angleRadians)),
      m_keyGroup(group), m_skyGroup(skyGroup) {
    const float ofKey = luminance(key.power) * std::max(m_towardsKey.y, 0.0F);
    const float all = ofKey + skyIrradiance;
    m_keyShare = all > 0.0F ? ofKey / all : 0.0F;
}

std::optional<V3f> StandInGround::metAt(float level, const V3f& origin,
                                        const V3f& direction) noexcept {
    const float distance = (level - origin.y) / direction.y;
    if (!(direction.y < 0.0F) || !(distance > 0.0F) || !std::isfinite(distance))
        return std::nullopt;
    return origin + direction * distance;
}

std::optional<V3f> StandInGround::met(const V3f& origin, const V3f& direction) const noexcept {
    std::optional<V3f> place = metAt(m_level, origin, direction);
    if (place)
        *place += kUp * (kLeastClear + kClear * (*place - origin).length());
    return place;
}

std::array<StandInGround::Part, 2> StandInGround::parts(const Sample2& onKey,
                                                        const Sample2& onSky) const noexcept {
    const V2f disc = discFromSquare(onSky.x, onSky.y);
    return {Part{TangentFrame(m_towardsKey).toWorld(coneFromSquare(onKey.x, onKey.y, m_keyCosine)),
                 m_keyShare, m_keyGroup},
            Part{{disc.x, std::sqrt(std::max(0.0F, 1.0F - disc.length2())), disc.y},
                 1.0F - m_keyShare,
                 m_skyGroup}};
}

}  // namespace noctis
