#pragma once

#include "core/tracer/accelerator.h"
#include "core/tracer/directions.h"
#include "core/tracer/sampler.h"

namespace noctis {

/// What light becomes at a surface, matt and mirrored separately.
struct Scattered {
    LinearRgb diffuse{};
    LinearRgb gloss{};
    [[nodiscard]] LinearRgb sum() const noexcept {
        return {diffuse.r + gloss.r, diffuse.g + gloss.g, diffuse.b + gloss.b};
    }
};

/// A direction drawn from a surface's scattering.
struct BsdfSample {
    V3f direction{0.0F};       ///< unit, away from the surface
    LinearRgb weight{};        ///< value * cosine / pdf
    Scattered value;           ///< value * cosine, where it was not transmitted
    float pdf = 0.0F;          ///< per solid angle
    bool transmitted = false;  ///< lights can't be sampled through it
};

/// How a surface scatters light: diffuse under a rough metal or glass coat (metal-and-roughness
/// model). Transmission refracts through a rough interface.
/// Source   Walter et al. 2007 (GGX); Heitz 2018, Sampling the GGX Distribution of Visible
///          Normals; Schlick 1994 (Fresnel).
class Bsdf {
public:
    Bsdf(const Surface& surface, const Material& material, const Scene& scene,
         const V3f& towardsViewer) noexcept;

    /// Value times cosine for light from direction (reflection only), and the chance of drawing it.
    [[nodiscard]] Scattered evaluate(const V3f& direction, float& pdf) const noexcept;
    /// As roughnessOf().
    [[nodiscard]] float roughness() const noexcept { return m_roughness; }
    [[nodiscard]] BsdfSample sample(float lobe, const Sample2& u) const noexcept;

    /// The colours that divide each kind of light into itself and the surface's part; more than 0
    /// wherever evaluate or sample give more than 0.
    [[nodiscard]] LinearRgb diffuseColour() const noexcept { return m_diffuse; }
    [[nodiscard]] LinearRgb glossColour() const noexcept;
    [[nodiscard]] LinearRgb transmissionColour() const noexcept;

private:
    [[nodiscard]] LinearRgb fresnel(float cosine) const noexcept;
    [[nodiscard]] V3f visibleNormal(const Sample2& u) const noexcept;
    [[nodiscard]] BsdfSample refract(const Sample2& u) const noexcept;

    TangentFrame m_frame;
    V3f m_view;  ///< local
    V3f m_geometricNormal;
    LinearRgb m_diffuse;
    LinearRgb m_specular;  ///< reflectance straight on
    LinearRgb m_base;
    float m_roughness = 0.5F;
    float m_alpha = 0.25F;
    float m_transmission = 0.0F;
    float m_eta = 1.5F;  ///< outside over inside on the way in
    float m_specularChance = 0.5F;
    float m_transmissionChance = 0.0F;
};

/// What a surface shines back along the ray.
LinearRgb baseColourOf(const Surface& surface, const Material& material,
                       const Scene& scene) noexcept;
/// 0..1, with its texture.
float roughnessOf(const Surface& surface, const Material& material, const Scene& scene) noexcept;
LinearRgb emissionOf(const Surface& surface, const Material& material, const Scene& scene) noexcept;

}  // namespace noctis
