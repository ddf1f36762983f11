#include "core/tracer/moving_picture.h"

#include "core/tracer/between_traced.h"
#include "core/tracer/lighting.h"
#include "core/tracer/ray_packets.h"
#include "core/tracer/scene_lights.h"
#include "core/tracer/sky_of.h"
#include "core/tracer/tile_light.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

constexpr int kTileSide = 32;
constexpr float kSoftness = 0.35F;
/// Lamps stay sharp, and don't shine over their outline.
constexpr float kBrightestSoftened = 2.0F;

/// How open surfaces are where they were seen before; elsewhere as open as the mean of the tile.
void carryOpen(const Accelerator& accelerator, const SeenBefore& before, const TileRays& seen,
               const std::vector<Hit>& hits, const std::function<void(int, float)>& put) {
    float sum = 0.0F;
    int count = 0;
    std::vector<int> unseen;
    for (std::size_t i = 0; i < hits.size(); ++i) {
        if (!hits[i].any())
            continue;
        const PacketRay& ray = seen.rays[i];
        const Surface surface = accelerator.surfaceAt(hits[i], ray.origin, ray.direction);
        LinearRgb open{};
        if (!before.at(surface.position, surface.geometricNormal, open)) {
            unseen.push_back(seen.pixels[i]);
            continue;
        }
        put(seen.pixels[i], open.r);
        sum += open.r;
        ++count;
    }
    for (const int pixel : unseen)
        put(pixel, count > 0 ? sum / static_cast<float>(count) : 1.0F);
}

/// One ray a pixel leaves hard steps along outlines and sparks between thin things; a little of the
/// neighbours takes both down.
void soften(Image& image, const RunContext& run) {
    const Image sharp = image;
    const int width = image.width();
    const std::ptrdiff_t stride = image.rowStride();
    for (int c = 0; c < image.channels(); ++c) {
        float* const out = image.editPlane(c);
        const float* const in = sharp.plane(c);
        forEachBand(image.height(), kTileSide, run, [&](int y0, int y1) {
            std::vector<float> row(static_cast<std::size_t>(width));
            for (int y = y0; y < y1; ++y) {
                const float* const here = in + stride * y;
                const float* const above = in + stride * std::max(y - 1, 0);
                const float* const below = in + stride * std::min(y + 1, image.height() - 1);
                const auto cut = [](float v) { return std::min(v, kBrightestSoftened); };
                for (int x = 0; x < width; ++x)
                    row[static_cast<std::size_t>(x)] =
                        (1.0F - kSoftness) * cut(here[x]) +
                        0.5F * kSoftness * (cut(above[x]) + cut(below[x]));
                for (int x = 0; x < width; ++x)
                    if (here[x] <= kBrightestSoftened)
                        out[stride * y + x] =
                            (1.0F - kSoftness) * row[static_cast<std::size_t>(x)] +
                            0.5F * kSoftness *
                                (row[static_cast<std::size_t>(std::max(x - 1, 0))] +
                                 row[static_cast<std::size_t>(std::min(x + 1, width - 1))]);
            }
        });
    }
}

}  // namespace

bool MovingPicture::shows(PassKind kind) {
    return kind == PassKind::Beauty || kind == PassKind::Occlusion;
}

const Lighting& MovingPicture::lighting(const Scene& scene, const RenderRequest& request,
                                        const Settings& light) {
    if (m_lighting == nullptr || m_scene != &scene || m_moved != request.moved ||
        m_settings != light) {
        m_lighting = std::make_shared<const Lighting>(
            scene, lightsOf(scene, request.moved),
            skyOf(scene, beautySettings(light), request.panoramas.get()));
        m_scene = &scene;
        m_moved = request.moved;
        m_settings = light;
    }
    return *m_lighting;
}

PassSet MovingPicture::draw(const Scene& scene, const Accelerator& accelerator,
                            const RenderRequest& request, const SeenBefore* before,
                            const RunContext& run) {
    const PassRequest& asked = request.passes.front();
    const bool ofLight = asked.kind == PassKind::Beauty;
    const Settings& light = ofLight ? asked.settings : request.light;
    const BeautySettings settings = beautySettings(light);
    const Lighting* lights = ofLight ? &lighting(scene, request, light) : nullptr;
    PassSet set;
    set.width = request.width;
    set.height = request.height;
    set.camera = request.view.camera;
    set.view = request.view.name;
    Pass shown;
    shown.name = asked.name();
    shown.kind = asked.kind;
    shown.image = ofLight ? Image(set.width, set.height, {"R", "G", "B"})
                          : Image(set.width, set.height, {"Y"}, 1.0F);
    Pass depth;
    depth.name = nameOf({PassKind::Depth, {}});
    depth.kind = PassKind::Depth;
    depth.image = Image(set.width, set.height, {"Z"}, kNothingHit);
    std::array<float*, 3> planes{};
    for (int c = 0; c < shown.image.channels(); ++c)
        planes[static_cast<std::size_t>(c)] = shown.image.editPlane(c);
    float* const distances = depth.image.editPlane(0);
    const std::ptrdiff_t stride = depth.image.rowStride();
    const PixelSize size(request.view.camera, request.height);
    const Tile area = request.crop.value_or(Tile{0, 0, set.width, set.height});
    const Traced traced = area.width() > 1 || area.height() > 1 ? Traced::Second : Traced::Every;
    const auto drawTile = [&](const Tile& tile) {
        TileRays seen;
        raysOfTile(request.view.camera, set.width, set.height, tile, traced, seen);
        std::vector<Hit> hits(seen.rays.size());
        std::vector<V3f> normals(hits.size());
        intersectAll(accelerator, seen.rays.data(), hits.size(), hits.data(), normals.data());
        std::vector<LinearRgb> found(static_cast<std::size_t>(tile.width()) *
                                     static_cast<std::size_t>(tile.height()));
        if (ofLight)
            lightTile({accelerator, *lights, settings, before, size}, seen, hits, normals,
                      tile.width(), found);
        const auto placeOf = [&](int pixel) {
            return stride * (tile.y0 + pixel / tile.width()) + tile.x0 + pixel % tile.width();
        };
        for (std::size_t i = 0; i < hits.size(); ++i) {
            const int pixel = seen.pixels[i];
            const std::ptrdiff_t at = placeOf(pixel);
            if (hits[i].any())
                distances[at] = hits[i].distance * seen.planar[i];
            if (ofLight) {
                const LinearRgb& c = found[static_cast<std::size_t>(pixel)];
                planes[0][at] = c.r;
                planes[1][at] = c.g;
                planes[2][at] = c.b;
            }
        }
        if (!ofLight && before != nullptr)
            carryOpen(accelerator, *before, seen, hits,
                      [&](int pixel, float open) { planes[0][placeOf(pixel)] = open; });
    };
    forEachTile(tilesOf(request, kTileSide), run, drawTile);
    if (!run.stopped() && traced == Traced::Second)
        fillBetweenTraced(shown.image, depth.image, area, run);
    if (!run.stopped())
        soften(shown.image, run);
    set.put(std::move(shown));
    set.put(std::move(depth));
    return set;
}

}  // namespace noctis
