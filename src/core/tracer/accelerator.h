#pragma once

#include "core/scene/scene.h"

#include <cmath>
#include <cstdint>
#include <map>
#include <memory>

struct RTCDeviceTy;
struct RTCSceneTy;

namespace noctis {

/// What a ray met first.
struct Hit {
    float distance = kNothingHit;
    int instance = -1;
    std::uint32_t triangle = 0;
    float u = 0.0F;
    float v = 0.0F;

    [[nodiscard]] bool any() const noexcept { return instance >= 0; }
};

/// A surface point as shading wants it. Normals are unit, in the world, towards the ray's origin.
struct Surface {
    V3f position;
    V3f geometricNormal;
    V3f normal;         ///< shading normal with the normal map
    V3f smoothNormal;   ///< shading normal without it
    V3f tangent{0.0F};  ///< unit, at a right angle to smoothNormal; 0 where there is no texture
    V3f bitangent{0.0F};
    V2f texture{0.0F};
    LinearRgb tint{1.0F, 1.0F, 1.0F};  ///< vertex colour
    int instance = -1;
    int material = 0;
    bool entering = true;  ///< the ray came from the side the triangle's own normal points to
    float offset = 0.0F;   ///< m; rays that leave start this far off, to miss the surface itself
};

/// The scene as Embree traces it.
/// Errors   Error(BadScene) if Embree refuses, Error(TooLarge) if memory runs out.
/// Threads  safe to trace from any number.
class Accelerator {
public:
    /// keep says which instances take part; all if empty. scene must outlive this.
    explicit Accelerator(const Scene& scene, const std::vector<bool>& keep = {});
    ~Accelerator();
    Accelerator(const Accelerator&) = delete;
    Accelerator& operator=(const Accelerator&) = delete;

    [[nodiscard]] Hit intersect(const V3f& origin, const V3f& direction, float from,
                                float to) const noexcept;
    /// What the first object along a ray hides: the first hit of another object. missed is set where the
    /// ray meets nothing at all.
    [[nodiscard]] Hit behindFirst(const V3f& origin, const V3f& direction,
                                  bool& missed) const noexcept;
    [[nodiscard]] bool occluded(const V3f& origin, const V3f& direction, float from,
                                float to) const noexcept;
    /// The surface at a hit of this ray.
    [[nodiscard]] Surface surfaceAt(const Hit& hit, const V3f& origin,
                                    const V3f& direction) const noexcept;

    /// The unit normal of a hit triangle from what Embree says lies across it; ofMesh: in its mesh's space.
    [[nodiscard]] V3f normalInWorld(const Hit& hit, const V3f& across, bool ofMesh) const noexcept;

    [[nodiscard]] const Scene& scene() const noexcept { return m_scene; }
    /// For kernels that hand rays to Embree in bulk.
    [[nodiscard]] RTCSceneTy* embree() const noexcept { return m_top; }

private:
    void build(const std::vector<bool>& keep);
    [[nodiscard]] RTCSceneTy* meshScene(int mesh);

    const Scene& m_scene;
    RTCDeviceTy* m_device = nullptr;
    RTCSceneTy* m_top = nullptr;
    std::vector<RTCSceneTy*> m_meshScenes;
    std::vector<M44f> m_normalToWorld;  ///< one an instance
};

/// Whether Embree can trace that ray: what isn't finite, or too far off, may abort it.
[[nodiscard]] inline bool canTrace(const V3f& origin, const V3f& direction) noexcept {
    constexpr float kFarthestOrigin = 1e18F;
    const V3f o(std::abs(origin.x), std::abs(origin.y), std::abs(origin.z));
    // A comparison with what is no number fails.
    return o.x + o.y + o.z < kFarthestOrigin &&
           std::abs(direction.x) + std::abs(direction.y) + std::abs(direction.z) < kFarthestOrigin;
}

/// Accelerators of parts of a scene, each built when it is first asked for.
class AcceleratorsByName {
public:
    /// all must outlive this.
    explicit AcceleratorsByName(const Accelerator& all) : m_all(all) {}
    /// Of these instances; see instancesNamed.
    const Accelerator& of(const std::string& names);

private:
    const Accelerator& m_all;
    std::map<std::string, std::unique_ptr<Accelerator>> m_parts;
};

/// Where a ray leaving a surface towards direction starts.
[[nodiscard]] V3f leavingFrom(const Surface& surface, const V3f& direction) noexcept;

/// A texture at (u, v), bilinear, repeating.
LinearRgb sampleTexture(const Image& image, const V2f& uv) noexcept;

}  // namespace noctis
