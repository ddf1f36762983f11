#pragma once

#include "core/image/run_context.h"
#include "core/passes/pass.h"
#include "core/relief/height_field.h"

#include <functional>
#include <string_view>

namespace noctis {

// Maps that follow from heights. A hole stays NaN, and what lies beside one is measured on its other side.

/// Unit normals in the map's own axes: +x right, +y up the picture (down if greenDown), +z off the plane.
/// Shape    X Y Z.
/// Exact    slopes from four neighbours: within 0.2 degrees of the surface's own where waves are ten cells or longer.
Image normalsOf(const HeightField& field, bool greenDown = false);

/// How steep the field is, degrees from level.
Image slopeOf(const HeightField& field);

/// Mean curvature, 1/m: positive where it bends out.
Image curvatureOf(const HeightField& field);

/// The open part of what each place faces, cosine-weighted about its normal, 0..1.
/// Exact    in time proportional to the cells, however far off what rises is.
/// Source   horizons by a hull of what was passed along parallel lines (Timonen and Westerholm 2010, Scalable
///          Height Field Self-Shadowing); the open part of a slice as in Jimenez et al. 2016, Practical
///          Real-Time Strategies for Accurate Indirect Occlusion.
Image openPartOf(const HeightField& field, int directions = 16, const RunContext& run = {});

/// How much light falls from a direction given in the map's own axes, 0..1.
Image shadeOf(const HeightField& field, const V3f& towardsLight);

/// 1 on lines of equal height, a cell wide, 0 elsewhere.
Image contoursOf(const HeightField& field, float spacing);

/// A map that can be written and given to Picture.
struct DerivedMap {
    std::string_view id;
    std::string_view label;
    PassKind kind;
    std::string_view help;
    std::function<Image(const HeightField&)> make;
    /// Brings it into 0..1 for integer files, as it is said in help.
    std::function<Image(const Image&)> encoded;
};
const std::vector<DerivedMap>& derivedMaps();
/// Errors   Error(UnknownName), naming those there are.
const DerivedMap& derivedMap(std::string_view id);

}  // namespace noctis
