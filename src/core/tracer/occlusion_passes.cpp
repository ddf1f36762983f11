#include "core/tracer/occlusion.h"
#include "core/tracer/refined_passes.h"
#include "core/tracer/sampler.h"

#include <algorithm>

namespace noctis {

namespace {

constexpr std::uint32_t kFirstTurn = 0xa511e9b3U;
constexpr std::uint32_t kOtherTurn = 0x63d83595U;
/// The side of a block of pixels whose rays are traced together, in pixels.
constexpr int kBlock = 8;
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
        for (int y = tile.y0; y < tile.y1; y = std::min(tile.y1, (y / kBlock + 1) * kBlock))
            for (int x = tile.x0; x < tile.x1; x = std::min(tile.x1, (x / kBlock + 1) * kBlock)) {
                const Tile block{x, y, std::min(tile.x1, (x / kBlock + 1) * kBlock),
                                 std::min(tile.y1, (y / kBlock + 1) * kBlock)};
                if (m_kind == PassKind::Bent)
                    addBent(block, from, to);
                else
                    addOpen(block, from, to);
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

    void addOpen(const Tile& block, int from, int to) const {
        std::vector<Surface> surfaces;
        std::vector<std::uint32_t> hashes;
        std::vector<std::ptrdiff_t> pixels;
        for (int y = block.y0; y < block.y1; ++y)
            for (int x = block.x0; x < block.x1; ++x) {
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

    void addBent(const Tile& block, int from, int to) const noexcept {
        for (int y = block.y0; y < block.y1; ++y)
            for (int x = block.x0; x < block.x1; ++x) {
                const std::optional<Surface> surface = seenAt(x, y);
                if (!surface)
                    continue;
                const V3f sum =
                    m_sampler.bentSum(*surface, from, to, pixelHash(m_frame, x, y, kFirstTurn));
                for (unsigned c = 0; c < 3; ++c)
                    m_planes[c][m_sums.rowStride() * y + x] += sum[static_cast<int>(c)];
            }
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
    const auto more = static_cast<float>(m_settings.samples);
    std::vector<Surface> surfaces;
    std::vector<std::uint32_t> hashes;
    std::vector<std::ptrdiff_t> pixels;
    std::vector<float> sums;
    for (int y = tile.y0; y < tile.y1; ++y) {
        surfaces.clear();
        hashes.clear();
        pixels.clear();
        for (int x = tile.x0; x < tile.x1; ++x) {
            const std::ptrdiff_t at = support.rowStride() * y + x;
            if (support.plane(0)[at] >= kLittleSupport)
                continue;
            const CameraRay ray = rayThrough(m_frame, x, y);
            const Hit hit = m_receivers.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
            if (!hit.any())
                continue;
            surfaces.push_back(m_receivers.surfaceAt(hit, ray.origin, ray.direction));
            hashes.push_back(pixelHash(m_frame, x, y, kOtherTurn));
            pixels.push_back(at);
        }
        m_sampler.openSums(surfaces, hashes, 0, m_settings.samples, sums);
        for (std::size_t i = 0; i < pixels.size(); ++i) {
            const std::ptrdiff_t at = pixels[i];
            open[at] = (open[at] * rays[at] + sums[i]) / (rays[at] + more);
            rays[at] += more;
        }
    }
}

std::unique_ptr<RefinedPasses> occlusionPass(const RefinedFrame& frame,
                                             const PassRequest& request) {
    return std::make_unique<OcclusionPass>(frame, request);
}

}  // namespace noctis
