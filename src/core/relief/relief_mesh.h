#pragma once

#include "core/image/run_context.h"
#include "core/relief/height_field.h"
#include "core/scene/scene.h"

#include <filesystem>

namespace noctis {

struct ReliefMeshSettings {
    bool closed = true;
    float base = 0.005F;        ///< m below the lowest height, of a closed one
    std::size_t triangles = 0;  ///< the most wanted; 0: as the height error has it
    float heightError = 0.0F;   ///< m it may be off; 0 with triangles 0: every cell is kept
    bool operator==(const ReliefMeshSettings&) const = default;
};

/// A height map as a solid.
struct ReliefMesh {
    std::vector<V3f> positions;  ///< m; x right, y up off the plane, z down the picture
    std::vector<std::array<std::uint32_t, 3>> triangles;  ///< seen from outside, counter-clockwise
    float heightError =
        0.0F;  ///< the farthest a height of the map is off the solid's top, m; measured
};

/// The map's top, its corners at the cells' middles, and where it is closed walls and a floor. Holes and what
/// they touch have no top.
/// Errors   Error(BadFile) where no four known heights are neighbours; Error(BadSetting) where the triangles
///          asked for can't keep the height error asked for.
/// Source   thinned by halving right-angled triangles (Evans, Kirkpatrick, Townsend 2001), and measured against the map.
ReliefMesh reliefMesh(const HeightField& field, const ReliefMeshSettings& settings,
                      const RunContext& run = {});

/// As a scene with one object, for our own rays.
Scene sceneOf(const ReliefMesh& mesh, const std::string& name);

/// Writes .glb, .ply, .obj or .stl, in metres.
/// Errors   Error(UnknownName) for another ending, Error(FileAccess).
void writeReliefMesh(const std::filesystem::path& path, const ReliefMesh& mesh,
                     const std::string& name);

/// The endings a solid can be written with, with the dot.
const std::vector<std::string>& meshEndings();

}  // namespace noctis
