#include "core/tracer/occlusion.h"
#include "core/tracer/refined_passes.h"
#include "core/tracer/sampler.h"

#include <algorithm>

namespace noctis {

namespace {

constexpr std::uint32_t kFirstTurn = 0xa511e9b3U;
constexpr std::uint32_t kOtherTurn = 0x63d83595U;
/// Pixels whose rays are traced together; a row of them, for a stop is heeded after each row.
constexpr int kTogether = 32;
/// Part of the pixels about one that must be like it, so that cleaning is enough.
constexpr float kLittleSupport = 0.2F;

std::uint32_t pixelHash(const RefinedFrame& frame, int x, int y, std::uint32_t turn) noexcept {
    return hashCombine(hashCombine(static_cast<std::uint32_t>(x), static_cast<std::uint32_t>(y)),
                       frame.seed ^ turn);
}

OcclusionSettings withMoreRays(OcclusionSettings settings) {
    settings.samples = std::max(settings.samples / 2, kRaysAlone);
    return settings;
}

class OcclusionPass : public RefinedPasses {
public:
    OcclusionPass(const RefinedFrame& frame, const PassRequest& request)
        : m_frame(frame), m_kind(request.kind), m_settings(occlusionSettings(request.settings)),
          m_receivers(frame.parts.of(m_settings.on)),
          m_sampler(frame.parts.of(m_settings.of), m_settings),
          m_sums(frame.width, frame.height, passKindInfo(request.kind).channels) {
        for (int c = 0; c < m_sums.channels(); ++c)
            m_planes.push_back(m_sums.editPlane(c));
    }

    [[nodiscard]] PassKind kind() const override { return m_kind; }
    [[nodiscard]] int samples() const override { return m_settings.samples; }

    void trace(const Tile& tile, int from, int to) noexcept override {
        for (int y = tile.y0; y < tile.y1; ++y)
            for (int x = tile.x0; x < tile.x1;) {
                const int end = std::min(tile.x1, (x / kTogether + 1) * kTogether);
                if (m_kind == PassKind::Bent)
                    for (int each = x; each < end; ++each)
                        addBent(each, y, from, to);
                else
                    addOpen(x, end, y, from, to);
                x = end;
            }
    }

    [[nodiscard]] std::vector<Pass> passes(const std::vector<int>& samplesOfTile,
                                           const std::vector<Tile>& tiles) const override {
        Pass pass;
        pass.kind = m_kind;
        pass.name = passKindInfo(m_kind).id;
        pass.image = averageOf(m_sums, 0, passKindInfo(m_kind).channels, samplesOfTile, tiles);
        if (m_kind == PassKind::Bent)
            toUnitLength(pass.image);
        return {pass};
    }

private:
    std::optional<Surface> seenAt(int x, int y) const noexcept {
        const CameraRay ray = rayThrough(m_frame, x, y);
        const Hit hit = m_receivers.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
        return hit.any() ? std::optional(m_receivers.surfaceAt(hit, ray.origin, ray.direction))
                         : std::nullopt;
    }

    void addOpen(int begin, int end, int y, int from, int to) const {
        std::vector<Surface> surfaces;
        std::vector<std::uint32_t> hashes;
        std::vector<std::ptrdiff_t> pixels;
        for (int x = begin; x < end; ++x) {
            const std::ptrdiff_t at = m_sums.rowStride() * y + x;
            const std::optional<Surface> surface = seenAt(x, y);
            if (!surface) {
                m_planes[0][at] += static_cast<float>(to - from);
                continue;
            }
            surfaces.push_back(*surface);
            hashes.push_back(pixelHash(m_frame, x, y, kFirstTurn));
            pixels.push_back(at);
        }
        std::vector<float> sums;
        m_sampler.openSums(surfaces, hashes, from, to, sums);
        for (std::size_t i = 0; i < sums.size(); ++i)
            m_planes[0][pixels[i]] += sums[i];
    }

    void addBent(int x, int y, int from, int to) const noexcept {
        const std::optional<Surface> surface = seenAt(x, y);
        if (!surface)
            return;
        const V3f sum = m_sampler.bentSum(*surface, from, to, pixelHash(m_frame, x, y, kFirstTurn));
        for (unsigned c = 0; c < 3; ++c)
            m_planes[c][m_sums.rowStride() * y + x] += sum[static_cast<int>(c)];
    }

    static void toUnitLength(Image& image) {
        float* planes[3] = {image.editPlane(0), image.editPlane(1), image.editPlane(2)};
        for (std::ptrdiff_t i = 0; i < image.rowStride() * image.height(); ++i) {
            const V3f unit = V3f(planes[0][i], planes[1][i], planes[2][i]).normalized();
            for (int c = 0; c < 3; ++c)
                planes[c][i] = unit[c];
        }
    }

    RefinedFrame m_frame;
    PassKind m_kind;
    OcclusionSettings m_settings;
    const Accelerator& m_receivers;
    OcclusionSampler m_sampler;
    Image m_sums;
    std::vector<float*> m_planes;
};

}  // namespace

LonelyOcclusion::LonelyOcclusion(const RefinedFrame& frame, const PassRequest& request)
    : m_frame(frame), m_settings(withMoreRays(occlusionSettings(request.settings))),
      m_receivers(frame.parts.of(m_settings.on)),
      m_sampler(frame.parts.of(m_settings.of), m_settings) {}

void LonelyOcclusion::add(const Tile& tile, const Image& support, float* open,
                          float* rays) const noexcept {
    for (int y = tile.y0; y < tile.y1; ++y)
        for (int x = tile.x0; x < tile.x1; ++x) {
            const std::ptrdiff_t at = support.rowStride() * y + x;
            if (support.plane(0)[at] >= kLittleSupport)
                continue;
            const CameraRay ray = rayThrough(m_frame, x, y);
            const Hit hit = m_receivers.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
            if (!hit.any())
                continue;
            const Surface surface = m_receivers.surfaceAt(hit, ray.origin, ray.direction);
            const auto more = static_cast<float>(m_settings.samples);
            const float sum = m_sampler.openSum(surface, 0, m_settings.samples,
                                                pixelHash(m_frame, x, y, kOtherTurn));
            open[at] = (open[at] * rays[at] + sum) / (rays[at] + more);
            rays[at] += more;
        }
}

std::unique_ptr<RefinedPasses> occlusionPass(const RefinedFrame& frame,
                                             const PassRequest& request) {
    return std::make_unique<OcclusionPass>(frame, request);
}

}  // namespace noctis
