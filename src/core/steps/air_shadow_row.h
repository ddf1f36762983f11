#pragma once

#include <cstdint>
#include <vector>

namespace noctis {

/// How far a light gets in planes through it and the eye, by the angle at the lamp or, for a sun, by the distance from
/// the line through the eye along its light.
struct LightReach {
    int planes = 0;
    int bins = 0;
    bool sun = false;
    float lamp = 0.0F;  ///< m from the eye to the lamp
    /// Of the bins' edges and, after them, of their middles. A lamp: sine and cosine of the angle; a sun: m from the
    /// line, and 0.
    std::vector<float> first;
    std::vector<float> second;
    /// For each bin, of every plane (with two more): m from the lamp, or for a sun along its light, to what blocks it; infinite: nothing does.
    std::vector<float> blocked;
};

/// The air that is looked through, and the light's own law.
struct ScatterLaw {
    float density = 0.0F;  ///< 1/m
    float scatter = 0.0F;
    float size = 0.0F;  ///< m, of the lamp
    bool spot = false;
    float innerCosine = 1.0F;
    float outerCosine = -1.0F;
};

/// Pixels of a row, one number each.
struct ShadowRow {
    std::vector<float> cosine;  ///< of the angle between the ray and the direction to the light
    std::vector<float> sine;
    std::vector<float> plane;  ///< the plane's number, with its part; 1 or more
    std::vector<float> end;    ///< lamp: the bin where the ray ends, with its part; sun: m
    std::vector<float>
        across;  ///< spot: its axis along and across the plane, as seen from the lamp
    std::vector<float> towards;  ///< spot
    std::vector<float> share;    ///< the result

    explicit ShadowRow(std::size_t count)
        : cosine(count), sine(count), plane(count), end(count), across(count), towards(count),
          share(count) {}
};

/// Adds weight times how much of the scattered light arrives to share. count: a multiple of 16.
void shadowRow(const LightReach& reach, const ScatterLaw& law, float weight, ShadowRow& row,
               int count) noexcept;

}  // namespace noctis
