#pragma once

#include "core/tracer/accelerator.h"
#include "core/tracer/pass_settings.h"

#include <functional>
#include <vector>

namespace noctis {

/// Ambient occlusion: the cosine-weighted open fraction about a shading normal.
///
/// The sample directions lie on a Fermat spiral on the unit disc, lifted to the hemisphere
/// (Malley's method), turned by a random angle at each pixel: on visibility, whose edges are
/// curves, its error falls faster than N^-1/2. They are in an order of which every beginning is
/// spread evenly too.
/// Range    result 0..1, 1 = open.
/// Source   Vogel 1979, A better way to construct the sunflower head; Malley in Pharr et al.,
///          Physically Based Rendering 13.6.
class OcclusionSampler {
public:
    OcclusionSampler(const Accelerator& occluders, const OcclusionSettings& settings);

    /// Sum of the openness of directions [first, last) of all, at a surface.
    [[nodiscard]] float openSum(const Surface& surface, int first, int last,
                                std::uint32_t pixelHash) const;

    /// The same of several surfaces beside each other, whose rays are traced by their direction: those
    /// that run alike go together.
    void openSums(const std::vector<Surface>& surfaces, const std::vector<std::uint32_t>& hashes,
                  int first, int last, std::vector<float>& sums) const;

    /// Sum of the unblocked directions of [first, last), in the world.
    [[nodiscard]] V3f bentSum(const Surface& surface, int first, int last,
                              std::uint32_t pixelHash) const noexcept;

    /// Calls visit(origin, direction, from, to) for each ray that openSum would trace.
    void visitRays(const Surface& surface, int first, int last, std::uint32_t pixelHash,
                   const std::function<void(const V3f&, const V3f&, float, float)>& visit) const;

    [[nodiscard]] int samples() const noexcept { return m_settings.samples; }

private:
    struct Turned {
        V3f tangent;
        V3f bitangent;
        V3f normal;
        V3f origin;
        const V3f* directions;
    };
    [[nodiscard]] Turned turnedAt(const Surface& surface, std::uint32_t pixelHash) const noexcept;
    [[nodiscard]] float openByNearest(const Surface& s, const Turned& t, int first,
                                      int last) const noexcept;

    const Accelerator& m_occluders;
    OcclusionSettings m_settings;
    std::vector<std::vector<V3f>> m_tables;
};

/// A reach that shows contacts and corners in a picture of these depths, neither white nor black: a
/// twelfth of the middle distance, rounded. 0 where nothing is hit.
float suggestedReach(const Image& depth);

}  // namespace noctis
