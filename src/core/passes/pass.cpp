#include "core/passes/pass.h"

#include "core/image/resample.h"

#include <algorithm>

namespace noctis {

const std::vector<PassKindInfo>& passKinds() {
    static const std::vector<PassKindInfo> kinds{
        {PassKind::Beauty,
         "beauty",
         "Beauty",
         "",
         "",
         {"R", "G", "B"},
         0.0F,
         false,
         true,
         "The lit picture, scene-linear."},
        {PassKind::Coverage,
         "coverage",
         "Coverage",
         "",
         "coverage",
         {"Y"},
         0.0F,
         true,
         true,
         "How much of a pixel a surface covers, 0 to 1."},
        {PassKind::Depth,
         "depth",
         "Depth",
         "m",
         "",
         {"Z"},
         kNothingHit,
         true,
         false,
         "Planar distance along the camera's axis."},
        {PassKind::Distance,
         "distance",
         "Distance",
         "m",
         "distance",
         {"Y"},
         kNothingHit,
         true,
         false,
         "Radial distance from the camera's point."},
        {PassKind::Position,
         "position",
         "Position",
         "m",
         "position",
         {"X", "Y", "Z"},
         0.0F,
         true,
         false,
         "Where the surface is in the world."},
        {PassKind::Normal,
         "normal",
         "Normal",
         "",
         "normal",
         {"X", "Y", "Z"},
         0.0F,
         true,
         false,
         "Which way the surface faces, in the world."},
        {PassKind::Occlusion,
         "occlusion",
         "Occlusion",
         "",
         "occlusion",
         {"Y"},
         1.0F,
         true,
         true,
         "How open a surface is to its surroundings: 1 is open, 0 closed in."},
        {PassKind::Mist,
         "mist",
         "Mist",
         "",
         "mist",
         {"Y"},
         1.0F,
         true,
         true,
         "From 0 where the mist starts to 1 where it is full."},
        {PassKind::Objects,
         "objects",
         "Objects",
         "",
         "objects",
         {},
         0.0F,
         true,
         false,
         "Which objects a pixel shows, and how much of each."},
        {PassKind::Materials,
         "materials",
         "Materials",
         "",
         "materials",
         {},
         0.0F,
         true,
         false,
         "Which materials a pixel shows, and how much of each."},
        {PassKind::Colour,
         "colour",
         "Colour",
         "",
         "colour",
         {"R", "G", "B"},
         0.0F,
         false,
         true,
         "A colour layer with no further meaning known."},
    };
    return kinds;
}

const PassKindInfo& passKindInfo(PassKind kind) {
    return *std::find_if(passKinds().begin(), passKinds().end(),
                         [&](const PassKindInfo& info) { return info.kind == kind; });
}

std::optional<PassKind> passKindNamed(std::string_view id) {
    for (const PassKindInfo& info : passKinds())
        if (info.id == id)
            return info.kind;
    return std::nullopt;
}

Pass shrink(const Pass& pass, int factor) {
    Pass small = pass;
    small.image = passKindInfo(pass.kind).data ? shrinkByCentre(pass.image, factor)
                                               : shrinkByMean(pass.image, factor);
    small.raw = {};
    return small;
}

}  // namespace noctis
