#include "core/tracer/render.h"

#include "core/image/error.h"
#include "core/image/image_file.h"
#include "core/passes/matte.h"
#include "core/tracer/data_passes.h"
#include "core/tracer/directions.h"
#include "core/tracer/occlusion.h"
#include "core/tracer/path.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <set>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr int kTileSide = 32;

Sky skyOf(const Scene& scene, const BeautySettings& settings) {
    Sky sky;
    if (settings.useSceneSky && scene.sky) {
        sky = *scene.sky;
    } else {
        sky.zenith = settings.zenith;
        sky.horizon = settings.horizon;
        sky.ground = settings.ground;
    }
    sky.strength *= settings.skyStrength;
    if (!settings.panorama.empty()) {
        const FileInfo info = readFileInfo(settings.panorama);
        if (info.channels.size() < 3)
            throw Error(ErrorCode::BadFile,
                        fmt::format("{}: a panorama needs three channels", settings.panorama));
        sky.panorama = readFileChannels(settings.panorama, info, {0, 1, 2});
    }
    return sky;
}

/// A point on the unit aperture.
V2f aperturePoint(const TracedLens& lens, const Sample2& u) {
    if (lens.blades < 3)
        return discFromSquare(u.x, u.y);
    // One of the triangles that make up the polygon, then a point within it.
    const auto blades = static_cast<float>(lens.blades);
    const float scaled = u.x * blades;
    const float blade = std::floor(scaled);
    const float root = std::sqrt(scaled - blade);
    const float a = lens.rotationRadians + 2.0F * kPi * blade / blades;
    const float b = a + 2.0F * kPi / blades;
    const V2f p(std::cos(a), std::sin(a));
    const V2f q(std::cos(b), std::sin(b));
    return (p * (1.0F - u.y) + q * u.y) * root;
}

CameraRay throughLens(const CameraRay& ray, const Camera& camera, const TracedLens& lens,
                      const Sample2& u) {
    const V3f focus = ray.origin + ray.direction * (lens.focusDistance / ray.planarPerDistance);
    const V2f p = aperturePoint(lens, u) * lens.apertureRadius;
    CameraRay bent = ray;
    bent.origin = V3f(p.x, p.y, 0.0F) * camera.cameraToWorld;
    bent.direction = (focus - bent.origin).normalized();
    return bent;
}

class Render {
public:
    Render(const Scene& scene, const Accelerator& accelerator, const RenderRequest& request,
           const RunContext& run, const RenderObserver& observer)
        : m_scene(scene), m_accelerator(accelerator), m_request(request), m_run(run),
          m_observer(observer), m_frame{accelerator, request.view.camera, request.width,
                                        request.height, request.seed},
          m_tiles(tilesOf(request.width, request.height, kTileSide, kTileSide)) {
        m_set.width = request.width;
        m_set.height = request.height;
        m_set.camera = request.view.camera;
        m_set.view = request.view.name;
    }

    PassSet run() {
        prepare();
        for (Refined& refined : m_refined)
            m_total += static_cast<std::size_t>(refined.samples) * m_tiles.size();
        for (const PassRequest& request : m_request.passes)
            if (request.kind != PassKind::Beauty && request.kind != PassKind::Occlusion)
                renderData(request);
        tell();
        // Rounds of 1, 1, 2, 4, ... samples: each doubles what there is.
        for (int round = 0; !m_run.stopped(); ++round) {
            bool all = true;
            for (Refined& refined : m_refined) {
                const int target = std::min(refined.samples, 1 << round);
                refine(refined, target);
                all = all && refined.done == refined.samples;
            }
            if (!m_refined.empty())
                tell();
            if (all)
                break;
        }
        return orderedSet();
    }

private:
    /// A pass that is averaged over many samples; sums holds what there is so far.
    struct Refined {
        PassRequest request;
        int samples = 1;
        int done = 0;
        Image sums;
        std::unique_ptr<Accelerator> occluders;
        std::unique_ptr<OcclusionSampler> occlusion;
        std::unique_ptr<Lighting> lighting;
        BeautySettings beauty;
    };

    void prepare() {
        for (const PassRequest& request : m_request.passes) {
            if (request.kind != PassKind::Beauty && request.kind != PassKind::Occlusion)
                continue;
            Refined refined;
            refined.request = request;
            refined.sums = Image(m_set.width, m_set.height, passKindInfo(request.kind).channels);
            if (request.kind == PassKind::Beauty) {
                refined.beauty = beautySettings(request.settings);
                refined.samples = refined.beauty.samples;
                refined.lighting =
                    std::make_unique<Lighting>(m_scene, skyOf(m_scene, refined.beauty));
            } else {
                prepareOcclusion(refined);
            }
            m_refined.push_back(std::move(refined));
        }
    }

    void prepareOcclusion(Refined& refined) {
        const OcclusionSettings settings = occlusionSettings(refined.request.settings);
        refined.samples = settings.samples;
        const Accelerator* occluders = &m_accelerator;
        if (!settings.of.empty()) {
            const std::string list = "," + settings.of + ",";
            refined.occluders = std::make_unique<Accelerator>(m_scene, [&](int object) {
                return list.find("," + m_scene.objects[static_cast<std::size_t>(object)] + ",") !=
                       std::string::npos;
            });
            occluders = refined.occluders.get();
        }
        refined.occlusion = std::make_unique<OcclusionSampler>(*occluders, settings);
    }

    void overTiles(PassKind kind, std::size_t weight,
                   const std::function<void(const Tile&)>& work) {
        forEachTile(m_tiles, {.stop = m_run.stop, .progress = {}}, [&](const Tile& tile) {
            if (m_observer.tileBegun)
                m_observer.tileBegun(kind, tile);
            work(tile);
            const std::size_t done = m_done += weight;
            if (m_run.progress && m_total > 0)
                m_run.report(static_cast<float>(done) / static_cast<float>(m_total));
        });
    }

    void renderData(const PassRequest& request) {
        if (m_observer.passBegun)
            m_observer.passBegun(request.kind);
        Image image(m_set.width, m_set.height, dataChannels(request));
        std::vector<float*> planes;
        for (int c = 0; c < image.channels(); ++c)
            planes.push_back(image.editPlane(c));
        overTiles(request.kind, 0, [&](const Tile& tile) {
            traceDataTile(m_frame, request, tile, planes, image.rowStride());
        });
        Pass pass = newPass(request);
        pass.image = std::move(image);
        if (request.kind == PassKind::Objects)
            pass.manifest = matteManifest(m_scene.objects);
        if (request.kind == PassKind::Materials) {
            std::vector<std::string> names;
            for (const Material& material : m_scene.materials)
                names.push_back(material.name);
            pass.manifest = matteManifest(names);
        }
        const bool filtered =
            pass.settings.contains("filtered") && pass.settings["filtered"] == "on";
        pass.sampling = filtered ? Sampling::Filtered : Sampling::Centre;
        if (request.kind == PassKind::Normal &&
            normalSettings(request.settings).space == NormalSettings::Space::Camera)
            pass.space = "camera";
        m_set.put(std::move(pass));
    }

    [[nodiscard]] static Pass newPass(const PassRequest& request) {
        Pass pass;
        pass.name = passKindInfo(request.kind).id;
        pass.kind = request.kind;
        pass.settings = settingsAsText(request);
        return pass;
    }

    void refine(Refined& refined, int target) {
        if (refined.done >= target)
            return;
        if (m_observer.passBegun)
            m_observer.passBegun(refined.request.kind);
        float* planes[3] = {};
        for (int c = 0; c < refined.sums.channels(); ++c)
            planes[c] = refined.sums.editPlane(c);
        const std::ptrdiff_t stride = refined.sums.rowStride();
        const auto weight = static_cast<std::size_t>(target - refined.done);
        overTiles(refined.request.kind, weight, [&](const Tile& tile) {
            for (int y = tile.y0; y < tile.y1 && !m_run.stopped(); ++y)
                for (int x = tile.x0; x < tile.x1; ++x) {
                    if (refined.occlusion)
                        planes[0][stride * y + x] += occlusionAt(refined, x, y, target);
                    else
                        addBeauty(refined, x, y, target, planes, stride * y + x);
                }
        });
        refined.done = target;
    }

    [[nodiscard]] float occlusionAt(const Refined& refined, int x, int y,
                                    int target) const noexcept {
        const CameraRay ray =
            cameraRay(m_frame.camera, static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F,
                      m_frame.width, m_frame.height);
        const Hit hit = m_accelerator.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
        if (!hit.any())
            return static_cast<float>(target - refined.done);
        const Surface surface = m_accelerator.surfaceAt(hit, ray.origin, ray.direction);
        const std::uint32_t hash =
            hashCombine(hashCombine(static_cast<std::uint32_t>(x), static_cast<std::uint32_t>(y)),
                        m_frame.seed ^ 0xa511e9b3U);
        return refined.occlusion->openSum(surface, refined.done, target, hash);
    }

    void addBeauty(const Refined& refined, int x, int y, int target, float* const planes[3],
                   std::ptrdiff_t at) const noexcept {
        for (int i = refined.done; i < target; ++i) {
            PixelSampler sampler(x, y, static_cast<std::uint32_t>(i), m_frame.seed);
            const Sample2 within = sampler.next2();
            CameraRay ray =
                cameraRay(m_frame.camera, static_cast<float>(x) + within.x,
                          static_cast<float>(y) + within.y, m_frame.width, m_frame.height);
            const Sample2 lens = sampler.next2();
            if (m_request.lens && m_request.lens->apertureRadius > 0.0F)
                ray = throughLens(ray, m_frame.camera, *m_request.lens, lens);
            const LinearRgb light =
                tracePath(m_accelerator, *refined.lighting, ray, refined.beauty, sampler);
            planes[0][at] += light.r;
            planes[1][at] += light.g;
            planes[2][at] += light.b;
        }
    }

    [[nodiscard]] Pass averaged(const Refined& refined) const {
        Pass pass = newPass(refined.request);
        pass.image =
            Image::unset(m_set.width, m_set.height, passKindInfo(refined.request.kind).channels);
        const float scale = 1.0F / static_cast<float>(std::max(1, refined.done));
        for (int c = 0; c < pass.image.channels(); ++c) {
            const float* from = refined.sums.plane(c);
            float* to = pass.image.editPlane(c);
            for (std::ptrdiff_t i = 0; i < pass.image.rowStride() * pass.image.height(); ++i)
                to[i] = from[i] * scale;
        }
        return pass;
    }

    /// All passes in the order they were asked for.
    [[nodiscard]] PassSet orderedSet() const {
        PassSet ordered = m_set;
        ordered.passes.clear();
        for (const PassRequest& request : m_request.passes) {
            for (const Refined& refined : m_refined)
                if (refined.request.kind == request.kind)
                    ordered.put(averaged(refined));
            if (const Pass* data = m_set.find(request.kind))
                ordered.put(*data);
        }
        return ordered;
    }

    void tell() {
        if (m_observer.refined && !m_run.stopped())
            m_observer.refined(orderedSet());
    }

    const Scene& m_scene;
    const Accelerator& m_accelerator;
    const RenderRequest& m_request;
    const RunContext& m_run;
    const RenderObserver& m_observer;
    TracedFrame m_frame;
    std::vector<Tile> m_tiles;
    std::vector<Refined> m_refined;
    PassSet m_set;
    std::atomic<std::size_t> m_done = 0;
    std::size_t m_total = 0;
};

void check(const RenderRequest& request) {
    if (request.width < 1 || request.height < 1 || request.width > kMaximumSide ||
        request.height > kMaximumSide)
        throw Error(ErrorCode::TooLarge, fmt::format("a frame of {} x {} pixels can't be rendered",
                                                     request.width, request.height));
    std::set<PassKind> kinds;
    for (const PassRequest& pass : request.passes) {
        if (!canRender(pass.kind))
            throw Error(ErrorCode::BadSetting,
                        fmt::format("pass {} can't be rendered", passKindInfo(pass.kind).id));
        if (!kinds.insert(pass.kind).second)
            throw Error(ErrorCode::BadSetting,
                        fmt::format("pass {} is asked for twice", passKindInfo(pass.kind).id));
    }
}

}  // namespace

TracedLens TracedLens::ofFNumber(float fNumber, float focalLengthMm, float focusDistance) {
    return {.focusDistance = focusDistance, .apertureRadius = focalLengthMm * 0.0005F / fNumber};
}

PassSet renderPasses(const Scene& scene, const Accelerator& accelerator,
                     const RenderRequest& request, const RunContext& run,
                     const RenderObserver& observer) {
    check(request);
    return Render(scene, accelerator, request, run, observer).run();
}

}  // namespace noctis
