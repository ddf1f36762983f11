#include "core/tracer/denoise_guides.h"

#include "core/image/pixel_size.h"
#include "core/tracer/bsdf.h"

#include <array>

namespace noctis {

namespace {

using Planes3 = std::array<float*, 3>;

Planes3 planesOf(Image& image) {
    return {image.editPlane(0), image.editPlane(1), image.editPlane(2)};
}

void put(const Planes3& planes, std::ptrdiff_t at, float a, float b, float c) {
    planes[0][at] = a;
    planes[1][at] = b;
    planes[2][at] = c;
}

}  // namespace

DenoiseGuides seenThroughCentres(const Accelerator& accelerator, const Camera& camera, int width,
                                 int height, const std::vector<Tile>& tiles, const Lighting* light,
                                 const RunContext& run) {
    DenoiseGuides guides{Image(width, height, {"X", "Y", "Z"}),
                         Image(width, height, {"X", "Y", "Z"}),
                         Image(width, height, {"Y"}),
                         {},
                         {}};
    if (light != nullptr)
        guides.albedo = Image(width, height, {"R", "G", "B"});
    const Planes3 position = planesOf(guides.position);
    const Planes3 normal = planesOf(guides.normal);
    const Planes3 albedo = light != nullptr ? planesOf(guides.albedo) : Planes3{};
    float* const footprint = guides.footprint.editPlane(0);
    const std::ptrdiff_t stride = guides.normal.rowStride();
    const PixelSize pixel(camera, height);
    const Scene& scene = accelerator.scene();
    const FrameRays frame(camera, width, height);
    const auto lookAtGround = [&](const CameraRay& ray, std::ptrdiff_t at) {
        if (light == nullptr || !light->ground())
            return;
        const std::optional<V3f> place = light->ground()->met(ray.origin, ray.direction);
        if (!place)
            return;
        put(position, at, place->x, place->y, place->z);
        put(normal, at, 0.0F, 1.0F, 0.0F);
        footprint[at] = pixel.at((*place - ray.origin).length() * ray.planarPerDistance);
        const LinearRgb colour = light->skyRadiance(ray.direction);
        put(albedo, at, colour.r, colour.g, colour.b);
    };
    const auto look = [&](int x, int y) {
        const CameraRay ray =
            frame.through(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F);
        const Hit hit = accelerator.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
        if (!hit.any())
            return lookAtGround(ray, stride * y + x);
        const Surface surface = accelerator.surfaceAt(hit, ray.origin, ray.direction);
        const std::ptrdiff_t at = stride * y + x;
        put(position, at, surface.position.x, surface.position.y, surface.position.z);
        put(normal, at, surface.normal.x, surface.normal.y, surface.normal.z);
        footprint[at] = pixel.at(hit.distance * ray.planarPerDistance);
        if (light == nullptr)
            return;
        const LinearRgb base = baseColourOf(
            surface, scene.materials[static_cast<std::size_t>(surface.material)], scene);
        put(albedo, at, base.r, base.g, base.b);
    };
    forEachTile(tiles, {.stop = run.stop, .progress = {}}, [&](const Tile& tile) {
        for (int y = tile.y0; y < tile.y1; ++y)
            for (int x = tile.x0; x < tile.x1; ++x)
                look(x, y);
    });
    return guides;
}

CleaningGuides::CleaningGuides(const Accelerator& accelerator, const Camera& camera, int width,
                               int height, const std::vector<Tile>& tiles)
    : m_accelerator(accelerator), m_camera(camera), m_tiles(tiles), m_width(width),
      m_height(height) {}

DenoiseGuides CleaningGuides::seen(const Lighting* light, const RunContext& run) const {
    return seenThroughCentres(m_accelerator, m_camera, m_width, m_height, m_tiles, light, run);
}

const DenoiseGuides& CleaningGuides::ofLight(const Lighting& lighting, const RunContext& run) {
    if (!m_light) {
        m_light = seen(&lighting, run);
        m_shared = !lighting.ground();
    }
    return *m_light;
}

const DenoiseGuides& CleaningGuides::ofOcclusion(const RunContext& run) {
    if (!m_occlusion && m_shared) {
        m_occlusion = m_light;
        m_occlusion->albedo = {};
    } else if (!m_occlusion) {
        m_occlusion = seen(nullptr, run);
    }
    return *m_occlusion;
}

}  // namespace noctis
