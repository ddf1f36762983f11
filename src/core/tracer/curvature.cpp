#include "core/tracer/curvature.h"

#include "core/tracer/directions.h"
#include "core/tracer/sampler.h"

#include <cmath>

namespace noctis {

float curvatureAt(const Accelerator& accelerator, const Surface& surface, float reach, int samples,
                  std::uint32_t pixelHash) noexcept {
    const TangentFrame frame(surface.smoothNormal);
    const float turn = unitFloat(pixelHash);
    float sum = 0.0F;
    for (int i = 0; i < samples; ++i) {
        const float angle =
            2.0F * kPi * (turn + static_cast<float>(i)) / static_cast<float>(samples);
        const V3f aside = frame.tangent * std::cos(angle) + frame.bitangent * std::sin(angle);
        const V3f above = surface.position + (aside + frame.normal) * reach;
        const Hit hit = accelerator.intersect(above, -frame.normal, 0.0F, 2.0F * reach);
        // Height over the tangent plane; where the surface ends, as far below it as is looked.
        const float height = hit.any() ? reach - hit.distance : -reach;
        sum += -2.0F * height / (reach * reach + height * height);
    }
    return sum / static_cast<float>(samples);
}

}  // namespace noctis
