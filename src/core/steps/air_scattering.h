#pragma once

#include "core/image/camera.h"
#include "core/passes/scene_light.h"
#include "core/steps/air_scattering_row.h"

#include <array>
#include <cstddef>
#include <memory>

namespace noctis {

/// How the colour of scattered light goes over from near a lamp to farther from it.
struct TintByDistance {
    LinearRgb near{1.0F, 1.0F, 1.0F};
    LinearRgb far{1.0F, 1.0F, 1.0F};
    float reach = 0.0F;  ///< m from the lamp to where it is far's; 0: near's everywhere
};

/// Light that even air scatters once towards the viewer along a ray: of a lamp or spot
/// L = I integral over 0..d of sigma p(theta) e^(-sigma (t + r)) / max(r, size)^2 dt, of a sun
/// L = E p(theta) (1 - e^(-sigma d)).
///
/// Units    sigma: 1/m; radiance for a light of that colour and strength.
/// Range    scatter -0.95..0.95: above 0 most light goes on in its direction; sigma, size > 0.
/// Exact    within 1e-3 of what the brightest pixel gets.
/// Errors   Error(BadSetting) for a dome, which has no direction; an area counts as a lamp of its power.
/// Threads  any, once made.
/// Source   p: Henyey and Greenstein 1941; the integral by the angle at the lamp: Sun et al. 2005.
class AirScattering {
public:
    AirScattering(const SceneLight& light, float sigma, float scatter, float size,
                  const TintByDistance& tint = {});
    /// direction: of unit length; distance: m, may be infinite.
    [[nodiscard]] LinearRgb along(const V3f& eye, const V3f& direction, float distance) const;
    /// The same for pixels of a row, added to r, g and b. share: 0..1, of what arrives; none: all of it does.
    void addRow(const RowOfRays& rays, const float* distance, const float* share, float* r,
                float* g, float* b, int count) const;

private:
    class Table;
    struct Ray;
    /// Of light without tint, and of its part that has the far colour.
    struct Parts {
        float all = 0.0F;
        float far = 0.0F;
    };
    struct Cuts {
        std::array<float, 12> angles{};
        std::size_t count = 0;
    };
    [[nodiscard]] ScatterRow scatterRow() const;
    static std::shared_ptr<const Table> tableFor(float scatter);
    [[nodiscard]] Cuts cutsOf(const Ray& ray, float from, float to) const;
    [[nodiscard]] Parts between(const Ray& ray, float from, float to) const;
    [[nodiscard]] Parts summed(const Ray& ray, float from, float to) const;
    [[nodiscard]] Parts closeToLamp(const Ray& ray, float from, float to) const;
    [[nodiscard]] Parts awayFromLamp(const Ray& ray, float from, float to) const;
    [[nodiscard]] bool fromTable(const Ray& ray) const noexcept;
    [[nodiscard]] float looked(const Ray& ray, float from, float to) const;
    [[nodiscard]] bool isClose(const Ray& ray) const noexcept;
    [[nodiscard]] float phase(float cosine) const noexcept;
    [[nodiscard]] float ofSpot(const Ray& ray, float cosAngle, float sinAngle) const noexcept;

    SceneLight m_light;
    float m_sigma;
    float m_scatter;
    float m_size;
    TintByDistance m_tint;
    V3f m_axis;
    float m_inner = 0.0F;  ///< radians
    float m_outer = 0.0F;
    std::shared_ptr<const Table> m_table;
};

}  // namespace noctis
