#include "core/tracer/denoise.h"

#include "core/image/camera.h"
#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/tracer/denoise_row.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

constexpr int kRounds = 5;
constexpr int kBand = 16;

GuidePlanes planesOf(const DenoiseGuides& guides) {
    GuidePlanes planes;
    for (std::size_t c = 0; c < 3; ++c) {
        const int channel = static_cast<int>(c);
        planes.position[c] = guides.position.plane(channel);
        planes.normal[c] = guides.normal.plane(channel);
        if (!guides.albedo.empty())
            planes.albedo[c] = guides.albedo.plane(channel);
    }
    planes.footprint = guides.footprint.plane(0);
    planes.stride = guides.position.rowStride();
    planes.width = guides.position.width();
    planes.height = guides.position.height();
    return planes;
}

/// One float a pixel, by which differences are seen.
std::vector<float> strengthOf(const Image& image) {
    std::vector<float> out(static_cast<std::size_t>(image.rowStride() * image.height()));
    const float scale = 1.0F / static_cast<float>(image.channels());
    for (int c = 0; c < image.channels(); ++c)
        for (std::size_t i = 0; i < out.size(); ++i)
            out[i] += image.plane(c)[i] * scale;
    return out;
}

class Wavelet {
public:
    Wavelet(const Image& noisy, const DenoiseGuides& guides, const RunContext& run)
        : m_guides(planesOf(guides)), m_run(run), m_image(noisy), m_strength(strengthOf(noisy)),
          m_variance(m_strength.size()) {
        m_run.progress = {};
        const float* const rays = guides.rays.empty() ? nullptr : guides.rays.plane(0);
        overRows(
            [&](int y) { measureNoise(m_guides, m_strength.data(), rays, m_variance.data(), y); });
    }

    [[nodiscard]] Image support() const {
        Image out = Image::filled(m_image.width(), m_image.height(), 1, 0.0F);
        float* const to = out.editPlane(0);
        overRows([&](int y) { measureSupport(m_guides, noise(), to, y); });
        return out;
    }

    Image smoothed() {
        for (int round = 0; round < kRounds && !m_run.stopped(); ++round)
            smoothOnce(1 << round);
        return m_image;
    }

private:
    template <typename Work> void overRows(const Work& work) const {
        forEachBand(m_guides.height, kBand, m_run, [&](int y0, int y1) {
            for (int y = y0; y < y1; ++y)
                work(y);
        });
    }

    [[nodiscard]] NoisePlanes noise() const noexcept {
        return {m_strength.data(), m_variance.data()};
    }

    void smoothOnce(int step) {
        Image out = m_image;
        std::vector<float> variance(m_variance.size());
        SmoothedPlanes planes;
        planes.channels = static_cast<std::size_t>(out.channels());
        planes.variance = variance.data();
        for (std::size_t c = 0; c < planes.channels; ++c) {
            planes.to[c] = out.editPlane(static_cast<int>(c));
            planes.from[c] = m_image.plane(static_cast<int>(c));
        }
        overRows([&](int y) { smooth(m_guides, noise(), step, planes, y); });
        m_image = std::move(out);
        m_strength = strengthOf(m_image);
        m_variance = std::move(variance);
    }

    GuidePlanes m_guides;
    RunContext m_run;
    Image m_image;
    std::vector<float> m_strength;
    std::vector<float> m_variance;
};

void requireFitting(const Image& noisy, const DenoiseGuides& guides) {
    for (const Image* guide :
         {&guides.position, &guides.normal, &guides.footprint, &guides.albedo, &guides.rays})
        if (!guide->empty() && !guide->sameSize(noisy))
            throw Error(ErrorCode::ShapeMismatch, "the guides of a cleaning are of another size");
    if (noisy.channels() < 1 || noisy.channels() > static_cast<int>(SmoothedPlanes::kMostChannels))
        throw Error(ErrorCode::ShapeMismatch, "only one to four channels can be cleaned");
}

}  // namespace

Image smoothingSupport(const Image& noisy, const DenoiseGuides& guides, const RunContext& run) {
    requireFitting(noisy, guides);
    return Wavelet(noisy, guides, run).support();
}

Image denoised(const Image& noisy, const DenoiseGuides& guides, float strength,
               const RunContext& run) {
    requireFitting(noisy, guides);
    if (strength <= 0.0F)
        return noisy;
    if (const int alpha = noisy.channel("A"); alpha == 3) {
        // Alpha isn't light: its edges stay as they are.
        Image clean = denoised(noisy.select({0, 1, 2}), guides, strength, run);
        clean.append(noisy.select({alpha}));
        return clean;
    }
    Image clean = Wavelet(noisy, guides, run).smoothed();
    if (run.stopped() || strength >= 1.0F)
        return clean;
    for (int c = 0; c < clean.channels(); ++c) {
        float* to = clean.editPlane(c);
        const float* from = noisy.plane(c);
        for (std::ptrdiff_t i = 0; i < clean.rowStride() * clean.height(); ++i)
            to[i] = from[i] + (to[i] - from[i]) * strength;
    }
    return clean;
}

}  // namespace noctis
