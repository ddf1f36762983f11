#pragma once

#include "core/scene/scene.h"

namespace noctis {

// What a stranger's file, a project or a typed number may hold, and no ray can start from: infinite places, angles of
// nothing. Each returns whether something had to be changed; callers warn.

/// m from the origin. Embree traces up to 1.8e18 m, and squares of distances must stay finite.
inline constexpr float kFarthest = 1e9F;

bool isFinite(const V3f& v) noexcept;
bool isFinite(const M44f& m) noexcept;

/// Within kFarthest, its axes at right angles, with an angle above 0 and below 180 degrees.
bool makeTraceable(Camera& camera);

/// Finite, and not negative. Infinite parts of a panorama, as half floats have them where the sun is, get the value
/// of its brightest finite one, 65504 at least.
bool makeTraceable(Sky& sky);

/// Finite; what isn't gives no light.
bool makeTraceable(Light& light);

}  // namespace noctis
