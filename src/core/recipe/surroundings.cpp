#include "core/recipe/surroundings.h"

#include "core/image/colour.h"
#include "core/passes/picture_pass.h"
#include "core/recipe/picture_air.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace noctis {

namespace {

/// Pixels that brightness is taken from; more make it no better.
constexpr std::ptrdiff_t kMostMeasured = 40000;
/// What counts as lit: brighter than this part of what isn't sky.
constexpr float kLitBeyond = 0.9F;

}  // namespace

V2f placeIn(const Surroundings& around) {
    const PassSet& passes = around.passes;
    const V2f middle(0.5F * static_cast<float>(passes.width),
                     0.5F * static_cast<float>(passes.height));
    const V2f place = around.place.value_or(middle);
    const bool inside = place.x >= 0.0F && place.x < static_cast<float>(passes.width) &&
                        place.y >= 0.0F && place.y < static_cast<float>(passes.height);
    return inside ? place : middle;
}

float roundDigits(float value) {
    const float step = std::pow(10.0F, std::floor(std::log10(value)) - 1.0F);
    return std::round(value / step) * step;
}

V3f besideViewer(const Surroundings& around) {
    V3f towards;
    around.passes.cameraOrAssumed().cameraToWorld.multDirMatrix(V3f(-0.5F, 0.6F, 0.6F), towards);
    return towards.normalized();
}

float distanceIn(const Surroundings& around) {
    const std::optional<Pass> depth = tryResolvePass(around.passes, PassKind::Depth);
    if (!depth)
        return 0.0F;
    const V2f place = placeIn(around);
    const float metres = depth->image(static_cast<int>(place.x), static_cast<int>(place.y), 0);
    if (std::isfinite(metres) && metres > 0.0F)
        return metres;
    const std::optional<PictureAir> air = pictureAir(around.passes);
    return air ? air->middle : 0.0F;
}

V3f pointIn(const Surroundings& around) {
    const float metres = distanceIn(around);
    if (!(metres > 0.0F))
        return V3f(0.0F);
    const V2f place = placeIn(around);
    const CameraRay ray = cameraRay(around.passes.cameraOrAssumed(), place.x, place.y,
                                    around.passes.width, around.passes.height);
    return ray.origin + ray.direction * (metres / ray.planarPerDistance);
}

float heightOfPicture(const Surroundings& around) {
    const float metres = distanceIn(around);
    const Camera camera = around.passes.cameraOrAssumed();
    if (camera.orthographic())
        return camera.orthographicHeight;
    return 2.0F * metres * std::tan(0.5F * camera.yfovRadians);
}

float lightIn(const Surroundings& around) {
    const Pass* picture = picturePass(around.passes);
    if (picture == nullptr || picture->image.channels() < 3)
        return 0.0F;
    const Image& colour = picture->image;
    const Pass* depth = around.passes.find(PassKind::Depth);
    std::vector<float> found;
    const std::ptrdiff_t pixels = std::ptrdiff_t{colour.width()} * colour.height();
    const std::ptrdiff_t stride = std::max<std::ptrdiff_t>(1, pixels / kMostMeasured);
    for (std::ptrdiff_t i = 0; i < pixels; i += stride) {
        const int x = static_cast<int>(i % colour.width());
        const int y = static_cast<int>(i / colour.width());
        const bool sky = depth != nullptr && !std::isfinite(depth->image(x, y, 0));
        const float light = luminance({colour(x, y, 0), colour(x, y, 1), colour(x, y, 2)});
        if (!sky && std::isfinite(light))
            found.push_back(std::max(light, 0.0F));
    }
    if (found.empty())
        return 0.0F;
    const auto lit = found.begin() +
                     static_cast<std::ptrdiff_t>(kLitBeyond * static_cast<float>(found.size() - 1));
    std::nth_element(found.begin(), lit, found.end());
    return *lit;
}

}  // namespace noctis
