#include "core/tracer/occlusion.h"
#include "core/tracer/refined_passes.h"
#include "core/tracer/sampler.h"

namespace noctis {

namespace {

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
            for (int x = tile.x0; x < tile.x1; ++x)
                add(x, y, from, to);
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
    void add(int x, int y, int from, int to) const noexcept {
        const std::ptrdiff_t at = m_sums.rowStride() * y + x;
        const CameraRay ray = rayThrough(m_frame, x, y);
        const Hit hit = m_receivers.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
        const bool bent = m_kind == PassKind::Bent;
        if (!hit.any()) {
            m_planes[0][at] += bent ? 0.0F : static_cast<float>(to - from);
            return;
        }
        const Surface surface = m_receivers.surfaceAt(hit, ray.origin, ray.direction);
        const std::uint32_t hash =
            hashCombine(hashCombine(static_cast<std::uint32_t>(x), static_cast<std::uint32_t>(y)),
                        m_frame.seed ^ 0xa511e9b3U);
        if (!bent) {
            m_planes[0][at] += m_sampler.openSum(surface, from, to, hash);
            return;
        }
        const V3f sum = m_sampler.bentSum(surface, from, to, hash);
        for (unsigned c = 0; c < 3; ++c)
            m_planes[c][at] += sum[static_cast<int>(c)];
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

std::unique_ptr<RefinedPasses> occlusionPass(const RefinedFrame& frame,
                                             const PassRequest& request) {
    return std::make_unique<OcclusionPass>(frame, request);
}

}  // namespace noctis
