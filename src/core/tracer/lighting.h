#pragma once

#include "core/tracer/accelerator.h"
#include "core/tracer/sampler.h"

#include <vector>

namespace noctis {

/// A direction drawn towards a light.
struct LightSample {
    V3f direction{0.0F};
    float distance = 0.0F;  ///< m; +inf for sun and sky
    LinearRgb radiance{};   ///< divided by nothing; for delta lights divided by their solid angle
    float pdf = 0.0F;       ///< per solid angle, choosing the light included; 0: nothing drawn
    bool delta = false;     ///< no ray can meet it by chance
};

/// All that shines in a scene: suns, points, spots, surfaces that emit, and the sky.
/// A light is chosen by what it could give at the place, so near lamps win over far ones.
/// Threads  safe to use from any number.
class Lighting {
public:
    Lighting(const Scene& scene, const Sky& sky);

    [[nodiscard]] LightSample sample(const V3f& position, const V3f& normal, float choice,
                                     const Sample2& u) const noexcept;

    /// Radiance of sky and suns along a ray that left the scene.
    [[nodiscard]] LinearRgb beyond(const V3f& direction) const noexcept;

    /// The chance, per solid angle, that sample() from a place draws the direction that met this
    /// surface, or left the scene. For multiple importance sampling.
    [[nodiscard]] float pdfOfSurface(const V3f& position, const V3f& normal, const Hit& hit,
                                     const Surface& surface, const V3f& direction) const noexcept;
    [[nodiscard]] float pdfBeyond(const V3f& position, const V3f& normal,
                                  const V3f& direction) const noexcept;

private:
    struct Emitter {
        enum class Kind { Delta, Sun, Surface, Sky } kind = Kind::Delta;
        int light = -1;     ///< into Scene::lights
        int instance = -1;  ///< of a surface
        V3f centre{0.0F};
        float radius = 0.0F;
        float power = 0.0F;
        std::vector<float> areas;  ///< summed, one a triangle, of a surface
    };
    void addSurfaces();
    void prepareSky();
    [[nodiscard]] float importance(const Emitter& emitter, const V3f& position,
                                   const V3f& normal) const noexcept;
    [[nodiscard]] float chanceOf(std::size_t emitter, const V3f& position,
                                 const V3f& normal) const noexcept;
    void sampleSurface(const Emitter& emitter, const V3f& position, const Sample2& u,
                       LightSample& out) const noexcept;
    void sampleSky(const V3f& normal, const Sample2& u, LightSample& out) const noexcept;
    [[nodiscard]] float skyPdf(const V3f& normal, const V3f& direction) const noexcept;
    [[nodiscard]] LinearRgb skyRadiance(const V3f& direction) const noexcept;

    const Scene& m_scene;
    Sky m_sky;
    std::vector<Emitter> m_emitters;
    std::vector<int> m_emitterOfInstance;
    std::vector<float> m_skyRows;     ///< summed over rows, of a panorama
    std::vector<float> m_skyColumns;  ///< summed within each row
};

}  // namespace noctis
