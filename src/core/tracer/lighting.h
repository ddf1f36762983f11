#pragma once

#include "core/tracer/accelerator.h"
#include "core/tracer/sampler.h"
#include "core/tracer/stand_in_ground.h"

#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// A direction drawn towards a light.
struct LightSample {
    V3f direction{0.0F};
    float distance = 0.0F;  ///< m; +inf for sun and sky
    LinearRgb radiance{};   ///< divided by nothing; for delta lights divided by their solid angle
    float pdf = 0.0F;       ///< per solid angle, choosing the light included; 0: nothing drawn
    bool delta = false;     ///< no ray can meet it by chance
    int group = 0;          ///< into lightGroups(scene)
};

/// All that shines in a scene: suns, points, spots, surfaces that emit, and the sky.
/// A light is chosen by what it could give at the place, so near lamps win over far ones.
/// Threads  safe to use from any number.
class Lighting {
public:
    /// lights: the scene's, where they stand now.
    Lighting(const Scene& scene, std::vector<Light> lights, const Sky& sky);

    [[nodiscard]] LightSample sample(const V3f& position, const V3f& normal, float choice,
                                     const Sample2& u) const noexcept;

    /// Directions towards the middles of the lights that matter most at a place, without the sky; pdf as
    /// of sampleOne(). No chance is in it, for pictures that move.
    /// Result   how many: `most` at most, and never more than four.
    enum class Lamps { All, WithoutSurface };  ///< surfaces that shine are met by rays, too
    int middles(const V3f& position, const V3f& normal, Lamps which, LightSample* samples,
                int most) const noexcept;
    /// Calls visit(direction) towards the middle of each sun.
    template <typename Visit> void towardsSuns(const Visit& visit) const {
        for (const Middle& middle : m_middles)
            if (middle.kind == Emitter::Kind::Sun)
                visit(middle.sun.direction);
    }
    [[nodiscard]] LinearRgb skyRadiance(const V3f& direction) const noexcept;

    /// Calls visit(radiance, group) for the sky, and each sun that a ray which left the scene meets.
    template <typename Visit> void beyond(const V3f& direction, const Visit& visit) const noexcept {
        visit(skyRadiance(direction), m_skyGroup);
        for (const Emitter& e : m_emitters)
            if (e.kind == Emitter::Kind::Sun && meetsSun(e, direction))
                visit(e.radiance, e.group);
    }
    /// Only under a scene without light, while no panorama is used.
    [[nodiscard]] const std::optional<StandInGround>& ground() const noexcept { return m_ground; }
    /// The light group of what an instance emits.
    [[nodiscard]] int groupOf(int instance) const noexcept;

    /// Which emitters bear a name of lightNames(scene).
    [[nodiscard]] std::vector<int> emittersNamed(const std::string& name) const;
    /// A direction towards one emitter, chosen alone.
    [[nodiscard]] LightSample sampleOne(int emitter, const V3f& position, const V3f& normal,
                                        const Sample2& u) const noexcept;

    /// The chance, per solid angle, that sample() from a place draws the direction that met this
    /// surface, or left the scene. For multiple importance sampling.
    [[nodiscard]] float pdfOfSurface(const V3f& position, const V3f& normal, const Hit& hit,
                                     const Surface& surface, const V3f& direction) const noexcept;
    [[nodiscard]] float pdfBeyond(const V3f& position, const V3f& normal,
                                  const V3f& direction) const noexcept;

private:
    struct Emitter {
        enum class Kind { Delta, Sun, Surface, Sky } kind = Kind::Delta;
        int light = -1;     ///< into m_lights
        int instance = -1;  ///< of a surface
        V3f centre{0.0F};
        float radius = 0.0F;
        float power = 0.0F;
        int group = 0;
        LinearRgb radiance{};      ///< of a sun
        std::vector<float> areas;  ///< summed, one a triangle, of a surface
    };
    /// A point of a surface that shines.
    struct SurfacePoint {
        V3f position{0.0F};
        V3f normal{0.0F};
        LinearRgb radiance{};
    };
    /// What middles() needs of a lamp, side by side.
    struct Middle {
        Emitter::Kind kind = Emitter::Kind::Delta;
        int emitter = 0;
        float power = 0.0F;     ///< as the emitter's
        V3f centre{0.0F};       ///< as the emitter's
        float nearest2 = 0.0F;  ///< m2; it gives no more light at any nearer place
        SurfacePoint point;     ///< of a surface
        float area = 0.0F;      ///< m2, of a surface
        LightSample sun;        ///< the same from everywhere
    };
    void prepareMiddles();
    [[nodiscard]] LightSample sampleMiddle(const Middle& middle,
                                           const V3f& position) const noexcept;
    void addLights();
    void addSurfaces();
    [[nodiscard]] int groupNamed(const std::string& name) const;
    [[nodiscard]] bool meetsSun(const Emitter& sun, const V3f& direction) const noexcept;
    void prepareSky();
    void prepareGround();
    [[nodiscard]] float importance(const Emitter& emitter, const V3f& position,
                                   const V3f& normal) const noexcept;
    [[nodiscard]] float chanceOf(std::size_t emitter, const V3f& position,
                                 const V3f& normal) const noexcept;
    [[nodiscard]] SurfacePoint pointOf(const Emitter& emitter, const Sample2& u) const noexcept;
    static void sampleTowards(const SurfacePoint& point, float area, const V3f& position,
                              LightSample& out) noexcept;
    void sampleSurface(const Emitter& emitter, const V3f& position, const Sample2& u,
                       LightSample& out) const noexcept;
    void sampleSky(const V3f& normal, const Sample2& u, LightSample& out) const noexcept;
    [[nodiscard]] float skyPdf(const V3f& normal, const V3f& direction) const noexcept;

    const Scene& m_scene;
    std::vector<Light> m_lights;
    Sky m_sky;
    std::vector<Emitter> m_emitters;
    std::vector<Middle> m_middles;  ///< of all but the sky
    std::vector<int> m_emitterOfInstance;
    std::vector<std::string> m_groups;
    std::optional<StandInGround> m_ground;
    int m_skyGroup = 0;
    std::vector<float> m_skyRows;     ///< summed over rows, of a panorama
    std::vector<float> m_skyColumns;  ///< summed within each row
};

}  // namespace noctis
