#pragma once

#include "core/scene/scene.h"

namespace bench {

/// What is seen beyond all surfaces of both.
constexpr noctis::LinearRgb kYardSky{0.30F, 0.34F, 0.42F};

/// A yard of posts, a rail, a low wall, a board and a bright far front, all of which only shine: every
/// pinhole and lens picture of it is free of the noise of light. Depths from 2 m to 60 m and the sky.
noctis::Scene yard();

/// The test card: dark posts at 3 m before a middle wall at 8 m that hides the lower half of a bright
/// far one at 40 m.
/// even: one tone to a surface; else three, which change behind posts, too.
noctis::Scene card(bool even);

}  // namespace bench
