#include "core/tracer/data_passes.h"

#include "core/passes/matte.h"
#include "core/passes/pass_set.h"
#include "core/tracer/sampler.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>

namespace noctis {

namespace {

using Out = std::array<float, 3>;

/// Values of a pass for one ray. Distances are kept finite only by their own rule, +inf included.
class Measure {
public:
    Measure(const TracedFrame& frame, const PassRequest& request)
        : m_frame(frame), m_kind(request.kind) {
        if (m_kind == PassKind::Normal)
            m_normal = normalSettings(request.settings);
        if (m_kind == PassKind::Mist)
            m_mist = mistSettings(request.settings);
        m_toCamera = frame.camera.cameraToWorld.inverse();
    }

    [[nodiscard]] Out operator()(float x, float y) const noexcept {
        const CameraRay ray = cameraRay(m_frame.camera, x, y, m_frame.width, m_frame.height);
        const Hit hit = m_frame.accelerator.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
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
            break;
        }
        if (!hit.any())
            return {};
        if (m_kind == PassKind::Position) {
            const V3f p = ray.origin + ray.direction * hit.distance;
            return {p.x, p.y, p.z};
        }
        const Surface surface = m_frame.accelerator.surfaceAt(hit, ray.origin, ray.direction);
        V3f n = m_normal.detail == Detail::Mapped ? surface.normal : surface.smoothNormal;
        if (m_normal.space == NormalSettings::Space::Camera)
            m_toCamera.multDirMatrix(n, n);
        return {n.x, n.y, n.z};
    }

private:
    const TracedFrame& m_frame;
    PassKind m_kind;
    NormalSettings m_normal;
    MistSettings m_mist;
    M44f m_toCamera;
};

bool isFiltered(const PassRequest& request, int& samples) {
    switch (request.kind) {
    case PassKind::Depth:
    case PassKind::Distance:
    case PassKind::Position: {
        const DataSettings s = dataSettings(request.settings);
        samples = s.samples;
        return s.filtered;
    }
    case PassKind::Normal: {
        const NormalSettings s = normalSettings(request.settings);
        samples = s.samples;
        return s.filtered;
    }
    case PassKind::Coverage:
        samples = coverageSettings(request.settings).samples;
        return true;
    default:
        return false;
    }
}

void traceMatteTile(const TracedFrame& frame, const PassRequest& request, const Tile& tile,
                    const std::vector<float*>& planes, std::ptrdiff_t stride) noexcept {
    const MatteSettings settings = matteSettings(request.settings);
    const Scene& scene = frame.accelerator.scene();
    std::vector<std::pair<int, int>> counts;  // index and how often
    for (int y = tile.y0; y < tile.y1; ++y)
        for (int x = tile.x0; x < tile.x1; ++x) {
            counts.clear();
            for (int i = 0; i < settings.samples; ++i) {
                PixelSampler sampler(x, y, static_cast<std::uint32_t>(i), frame.seed);
                const Sample2 at = sampler.next2();
                const CameraRay ray =
                    cameraRay(frame.camera, static_cast<float>(x) + at.x,
                              static_cast<float>(y) + at.y, frame.width, frame.height);
                const Hit hit =
                    frame.accelerator.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
                if (!hit.any())
                    continue;
                const Instance& instance = scene.instances[static_cast<std::size_t>(hit.instance)];
                const int index =
                    request.kind == PassKind::Objects
                        ? instance.object
                        : scene.meshes[static_cast<std::size_t>(instance.mesh)].material;
                const auto known = std::find_if(counts.begin(), counts.end(),
                                                [&](const auto& c) { return c.first == index; });
                if (known != counts.end())
                    ++known->second;
                else
                    counts.emplace_back(index, 1);
            }
            std::stable_sort(counts.begin(), counts.end(), [](const auto& a, const auto& b) {
                return a.second != b.second ? a.second > b.second : a.first < b.first;
            });
            for (std::size_t rank = 0; rank < planes.size() / 2; ++rank) {
                float id = 0.0F;
                float covered = 0.0F;
                if (rank < counts.size() && static_cast<int>(rank) < settings.ranks) {
                    const auto index = static_cast<std::size_t>(counts[rank].first);
                    id = std::bit_cast<float>(matteId(request.kind == PassKind::Objects
                                                          ? scene.objects[index]
                                                          : scene.materials[index].name));
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
    if (request.kind == PassKind::Objects || request.kind == PassKind::Materials)
        return matteChannels(passKindInfo(request.kind).id, matteSettings(request.settings).ranks);
    return passKindInfo(request.kind).channels;
}

void traceDataTile(const TracedFrame& frame, const PassRequest& request, const Tile& tile,
                   const std::vector<float*>& planes, std::ptrdiff_t stride) noexcept {
    if (request.kind == PassKind::Objects || request.kind == PassKind::Materials) {
        traceMatteTile(frame, request, tile, planes, stride);
        return;
    }
    const Measure measure(frame, request);
    int samples = 1;
    const bool filtered = isFiltered(request, samples);
    for (int y = tile.y0; y < tile.y1; ++y)
        for (int x = tile.x0; x < tile.x1; ++x) {
            Out value{};
            if (!filtered) {
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
