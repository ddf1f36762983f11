#pragma once

#include "core/tracer/lighting.h"
#include "core/tracer/pass_settings.h"

#include <array>
#include <functional>
#include <vector>

namespace noctis {

/// Kinds of light at the first surface, in the order of PathLight::parts.
enum class LightPart {
    DiffuseDirect,
    DiffuseIndirect,
    SpecularDirect,
    SpecularIndirect,
    TransmissionDirect,
    TransmissionIndirect,
    Emission,
    Backdrop,
    Count
};
inline constexpr std::size_t kLightParts = static_cast<std::size_t>(LightPart::Count);

/// What one path brings back, and of what it is made.
struct PathLight {
    LinearRgb total{};
    float alpha = 1.0F;                          ///< 0 where the backdrop was met and is not shown
    std::array<LinearRgb, kLightParts> parts{};  ///< with the surface's colour; their sum is total
    std::vector<LinearRgb> groups;               ///< one a light group; their sum is total
    LinearRgb diffuseColour{};
    LinearRgb glossColour{};
    LinearRgb transmissionColour{};
};

/// The light that comes along one ray: path tracing with next-event estimation and multiple
/// importance sampling (balance heuristic), ended by Russian roulette.
/// Range    >= 0 and finite. out is overwritten; its groups must be one a light group, or none.
/// Source   Kajiya 1986, The Rendering Equation; Veach 1997, 9.2.
void tracePath(const Accelerator& accelerator, const Lighting& lighting, const CameraRay& ray,
               const BeautySettings& settings, PixelSampler& sampler, PathLight& out) noexcept;

/// A ray that a path traces: for the nearest hit, or, as a shadow ray, for any.
struct PathRay {
    V3f origin;
    V3f direction;
    float from = 0.0F;
    float to = 0.0F;
    bool anyHit = false;
    bool met = false;
};

/// Calls visit for each ray that tracePath would trace; for measuring.
void visitPathRays(const Accelerator& accelerator, const Lighting& lighting, const CameraRay& ray,
                   const BeautySettings& settings, PixelSampler& sampler,
                   const std::function<void(const PathRay&)>& visit);

}  // namespace noctis
