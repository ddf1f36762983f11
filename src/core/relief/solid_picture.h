#pragma once

#include "core/image/run_context.h"
#include "core/relief/height_field.h"
#include "core/relief/relief_mesh.h"
#include "core/tracer/accelerator.h"

#include <memory>

namespace noctis {

/// A height map as a solid to look at, made ready to trace: thinned by leaving out cells where it is large.
class Solid {
public:
    /// picture: its colours over the source's frame, encoded R G B; empty: plain stone.
    /// Errors   as reliefMesh.
    explicit Solid(const HeightField& field, const Image& picture = {});

    /// As seen from a camera, R G B, encoded.
    /// towardsLight: in the map's axes, +x right, +y up the picture, +z off the plane.
    [[nodiscard]] Image seen(const Camera& camera, const V3f& towardsLight, int width, int height,
                             const RunContext& run = {}) const;
    /// A camera that holds all of it, from a turn about the upright axis and a height in degrees.
    /// aspect: width over height of the picture.
    [[nodiscard]] Camera camera(float turnDegrees, float upDegrees, float nearness,
                                float aspect = 1.0F) const;

private:
    HeightField m_field;  ///< as it is traced
    Image m_open;
    Image m_colours;
    ReliefMesh m_mesh;
    Scene m_scene;
    std::unique_ptr<Accelerator> m_accelerator;
};

}  // namespace noctis
