#pragma once

#include "gltf_writer.h"

namespace demo {

/// What the parts of the harbour are made of.
struct Paints {
    int deck, pile, crate, rope, iron, brass, lanternGlass, window, plaster, roof, hull, hullInside,
        reed, rock, land, water, tower, towerLamp;
};

Paints addPaints(GltfWriter& writer);

/// Built things: jetty, crates, ropes, bollards, lantern, dinghy, boathouse, lighthouse, piles.
void addBuiltThings(GltfWriter& writer, const Paints& paints);
/// Water, reeds, breakwater and headland.
void addNature(GltfWriter& writer, const Paints& paints);

/// Where things meet: the land's height at a place, and the deck's.
float landHeight(float x, float z);
inline constexpr float kDeckHeight = 0.75F;
inline const V3f kLighthouse{96.0F, 0.0F, -402.0F};

}  // namespace demo
