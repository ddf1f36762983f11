#include "core/tracer/data_passes.h"

#include "core/passes/matte.h"
#include "core/passes/pass_set.h"
#include "core/tracer/bsdf.h"
#include "core/tracer/curvature.h"
#include "core/tracer/motion.h"
#include "core/tracer/sampler.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>

namespace noctis {

namespace {

using Out = std::array<float, 4>;

/// What is common to the settings of data passes, whatever the kind.
struct Common {
    int samples = 1;  ///< more than one: filtered
    std::string only;
};

template <typename S> Common filteredOrNot(const S& s) {
    return {s.filtered ? s.samples : 1, s.only};
}

Common commonOf(const PassRequest& request) {
    switch (request.kind) {
    case PassKind::Normal:
        return filteredOrNot(normalSettings(request.settings));
    case PassKind::Height:
        return filteredOrNot(heightSettings(request.settings));
    case PassKind::Coverage: {
        const CoverageSettings s = coverageSettings(request.settings);
        return {s.samples, s.only};
    }
    case PassKind::Objects:
    case PassKind::Materials:
    case PassKind::Groups: {
        const MatteSettings s = matteSettings(request.settings);
        return {s.samples, s.only};
    }
    case PassKind::Curvature:
        return {1, curvatureSettings(request.settings).only};
    case PassKind::Mist:
        return {};
    default:
        return filteredOrNot(dataSettings(request.settings));
    }
}

Out asOut(const V3f& v) { return {v.x, v.y, v.z}; }

/// Where a ray meets the plane of the triangle it hit, to float's rounding of the place: a distance from afar
/// has lost what heights of a few millimetres are made of.
V3f placeOf(const Scene& scene, const CameraRay& ray, const Hit& hit) noexcept {
    using Imath::V3d;
    const Instance& instance = scene.instances[static_cast<std::size_t>(hit.instance)];
    const Mesh& mesh = scene.meshes[static_cast<std::size_t>(instance.mesh)];
    const auto& corner = mesh.triangles[hit.triangle];
    const V3d a(mesh.positions[corner[0]] * instance.toWorld);
    const V3d b(mesh.positions[corner[1]] * instance.toWorld);
    const V3d c(mesh.positions[corner[2]] * instance.toWorld);
    const V3d normal = (b - a).cross(c - a);
    const V3d origin(ray.origin);
    const V3d direction(ray.direction);
    const double facing = normal.dot(direction);
    const double distance = normal.dot(a - origin) / facing;
    const auto traced = static_cast<double>(hit.distance);
    constexpr double kRounding = 1e-4;  // beyond it the triangle is seen edge-on
    return V3f(origin +
               direction * (std::abs(distance - traced) <= kRounding * traced ? distance : traced));
}

/// Values of a pass for one ray. Distances are kept finite only by their own rule, +inf included.
class Measure {
public:
    Measure(const TracedFrame& frame, const Accelerator& accelerator, const PassRequest& request)
        : m_frame(frame), m_rays(frame.camera, frame.width, frame.height),
          m_accelerator(accelerator), m_kind(request.kind) {
        if (m_kind == PassKind::Normal)
            m_normal = normalSettings(request.settings);
        if (m_kind == PassKind::Mist)
            m_mist = mistSettings(request.settings);
        if (m_kind == PassKind::Height)
            m_level = heightSettings(request.settings).level;
        if (m_kind == PassKind::Curvature)
            m_curvature = curvatureSettings(request.settings);
        m_toCamera = frame.camera.cameraToWorld.inverse();
    }

    [[nodiscard]] Out operator()(float x, float y) const noexcept {
        const CameraRay ray = m_rays.through(x, y);
        if (m_kind == PassKind::BehindDepth) {
            bool missed = false;
            const Hit behind = m_accelerator.behindFirst(ray.origin, ray.direction, missed);
            return {behind.distance * ray.planarPerDistance};
        }
        const Hit hit = m_accelerator.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
        switch (m_kind) {
        case PassKind::Depth:
            return {hit.distance * ray.planarPerDistance};
        case PassKind::Distance:
            return {hit.distance};
        case PassKind::Mist:
            return {mistAt(hit.distance * ray.planarPerDistance, m_mist)};
        case PassKind::Coverage:
            return {hit.any() ? 1.0F : 0.0F};
        default:
            return hit.any() ? ofSurface(ray, hit, x, y) : Out{passKindInfo(m_kind).background};
        }
    }

private:
    [[nodiscard]] Out ofSurface(const CameraRay& ray, const Hit& hit, float x,
                                float y) const noexcept {
        if (m_kind == PassKind::Position)
            return asOut(placeOf(m_accelerator.scene(), ray, hit));
        if (m_kind == PassKind::Height)
            return {placeOf(m_accelerator.scene(), ray, hit).y - m_level};
        const V3f place = ray.origin + ray.direction * hit.distance;
        const Surface surface = m_accelerator.surfaceAt(hit, ray.origin, ray.direction);
        switch (m_kind) {
        case PassKind::FacingNormal:
            return asOut(surface.geometricNormal);
        case PassKind::Facing:
            return {std::clamp(-surface.normal.dot(ray.direction), 0.0F, 1.0F)};
        case PassKind::Roughness:
            return {roughnessOf(
                surface,
                m_accelerator.scene().materials[static_cast<std::size_t>(surface.material)],
                m_accelerator.scene())};
        case PassKind::Uv:
            return {surface.texture.x, surface.texture.y};
        case PassKind::Vectors:
            return motionOf(m_frame, hit, place, m_accelerator);
        case PassKind::Curvature:
            return {curvatureAt(m_accelerator, surface, m_curvature.reach, m_curvature.samples,
                                hashCombine(static_cast<std::uint32_t>(x),
                                            static_cast<std::uint32_t>(y) ^ m_frame.seed))};
        default:
            return asOut(normalOf(surface));
        }
    }

    [[nodiscard]] V3f normalOf(const Surface& surface) const noexcept {
        const V3f n = m_normal.detail == Detail::Mapped ? surface.normal : surface.smoothNormal;
        const Scene& scene = m_accelerator.scene();
        V3f turned;
        switch (m_normal.space) {
        case NormalSettings::Space::Camera:
            m_toCamera.multDirMatrix(n, turned);
            return turned;
        case NormalSettings::Space::Object:
            scene.instances[static_cast<std::size_t>(surface.instance)]
                .toWorld.transposed()
                .multDirMatrix(n, turned);
            return turned.normalized();
        case NormalSettings::Space::Tangent: {
            if (surface.tangent.length2() < 0.5F)
                return {0.0F, 0.0F, 1.0F};
            const float green = m_normal.green == NormalSettings::GreenAxis::Up ? 1.0F : -1.0F;
            return {n.dot(surface.tangent), green * n.dot(surface.bitangent),
                    n.dot(surface.smoothNormal)};
        }
        case NormalSettings::Space::World:
            break;
        }
        return n;
    }

    const TracedFrame& m_frame;
    FrameRays m_rays;
    const Accelerator& m_accelerator;
    PassKind m_kind;
    NormalSettings m_normal;
    MistSettings m_mist;
    CurvatureSettings m_curvature;
    float m_level = 0.0F;
    M44f m_toCamera;
};

int idIndex(const Scene& scene, PassKind kind, const Hit& hit) {
    const Instance& instance = scene.instances[static_cast<std::size_t>(hit.instance)];
    return kind == PassKind::Materials
               ? scene.meshes[static_cast<std::size_t>(instance.mesh)].material
               : instance.object;
}

const std::string& idName(const Scene& scene, PassKind kind, std::size_t index) {
    switch (kind) {
    case PassKind::Materials:
        return scene.materials[index].name;
    case PassKind::Groups:
        return index < scene.groups.size() ? scene.groups[index] : scene.objects[index];
    default:
        return scene.objects[index];
    }
}

void traceMatteTile(const TracedFrame& frame, const Accelerator& accelerator,
                    const PassRequest& request, const Tile& tile, const std::vector<float*>& planes,
                    std::ptrdiff_t stride) noexcept {
    const MatteSettings settings = matteSettings(request.settings);
    const Scene& scene = accelerator.scene();
    std::vector<std::pair<std::uint32_t, int>> counts;  // id and how often
    std::vector<std::uint32_t> ids;
    const std::size_t count =
        request.kind == PassKind::Materials ? scene.materials.size() : scene.objects.size();
    for (std::size_t i = 0; i < count; ++i)
        ids.push_back(matteId(idName(scene, request.kind, i)));
    const FrameRays rays(frame.camera, frame.width, frame.height);
    for (int y = tile.y0; y < tile.y1; ++y)
        for (int x = tile.x0; x < tile.x1; ++x) {
            counts.clear();
            for (int i = 0; i < settings.samples; ++i) {
                PixelSampler sampler(x, y, static_cast<std::uint32_t>(i), frame.seed);
                const Sample2 at = sampler.next2();
                const CameraRay ray =
                    rays.through(static_cast<float>(x) + at.x, static_cast<float>(y) + at.y);
                const Hit hit = accelerator.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
                if (!hit.any())
                    continue;
                // By id, so that two of one name are one.
                const std::uint32_t id =
                    ids[static_cast<std::size_t>(idIndex(scene, request.kind, hit))];
                const auto known = std::find_if(counts.begin(), counts.end(),
                                                [&](const auto& c) { return c.first == id; });
                if (known != counts.end())
                    ++known->second;
                else
                    counts.emplace_back(id, 1);
            }
            std::stable_sort(counts.begin(), counts.end(), [](const auto& a, const auto& b) {
                return a.second != b.second ? a.second > b.second : a.first < b.first;
            });
            for (std::size_t rank = 0; rank < planes.size() / 2; ++rank) {
                float id = 0.0F;
                float covered = 0.0F;
                if (rank < counts.size() && static_cast<int>(rank) < settings.ranks) {
                    id = std::bit_cast<float>(counts[rank].first);
                    covered = static_cast<float>(counts[rank].second) /
                              static_cast<float>(settings.samples);
                }
                planes[rank * 2][stride * y + x] = id;
                planes[rank * 2 + 1][stride * y + x] = covered;
            }
        }
}

}  // namespace

std::vector<std::string> dataChannels(const PassRequest& request) {
    const PassKindInfo& info = passKindInfo(request.kind);
    return info.matte() ? matteChannels(info.id, matteSettings(request.settings).ranks)
                        : info.channels;
}

std::map<std::string, std::string> manifestFor(const Scene& scene, PassKind kind) {
    std::vector<std::string> names;
    const std::size_t count =
        kind == PassKind::Materials ? scene.materials.size() : scene.objects.size();
    for (std::size_t i = 0; i < count; ++i)
        names.push_back(idName(scene, kind, i));
    return matteManifest(names);
}

std::string shownOnly(const PassRequest& request) { return commonOf(request).only; }

int dataSamples(const PassRequest& request) { return commonOf(request).samples; }

void traceDataTile(const TracedFrame& frame, const Accelerator& accelerator,
                   const PassRequest& request, const Tile& tile, const std::vector<float*>& planes,
                   std::ptrdiff_t stride) noexcept {
    if (passKindInfo(request.kind).matte()) {
        traceMatteTile(frame, accelerator, request, tile, planes, stride);
        return;
    }
    const Measure measure(frame, accelerator, request);
    const int samples = commonOf(request).samples;
    for (int y = tile.y0; y < tile.y1; ++y)
        for (int x = tile.x0; x < tile.x1; ++x) {
            Out value{};
            if (samples == 1) {
                value = measure(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F);
            } else {
                for (int i = 0; i < samples; ++i) {
                    PixelSampler sampler(x, y, static_cast<std::uint32_t>(i), frame.seed);
                    const Sample2 at = sampler.next2();
                    const Out one =
                        measure(static_cast<float>(x) + at.x, static_cast<float>(y) + at.y);
                    for (std::size_t c = 0; c < one.size(); ++c)
                        value[c] += one[c] / static_cast<float>(samples);
                }
            }
            for (std::size_t c = 0; c < planes.size(); ++c)
                planes[c][stride * y + x] = value[c];
        }
}

}  // namespace noctis
