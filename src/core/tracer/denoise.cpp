#include "core/tracer/denoise.h"

#include "core/image/camera.h"
#include "core/image/error.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

constexpr int kRounds = 5;
constexpr int kBand = 16;
/// B3 spline, of which 5 x 5 is the wavelet's kernel.
constexpr std::array<float, 3> kSpline{3.0F / 8.0F, 1.0F / 4.0F, 1.0F / 16.0F};
/// Weights below this, and exponents beyond that, count as nothing.
constexpr float kNegligible = 1e-4F;
constexpr float kFarApart = 10.0F;
/// How many standard deviations of noise a difference may have and still be smoothed. Found, as the
/// two below, by the demo's occlusion of 16 samples against 1024.
constexpr float kNoiseWidths = 3.5F;
/// Variance of the open part p of n rays: that of a coin, p (1 - p) / n, but rays that are spread evenly
/// leave less of it, and the less the more they are: this times n^-1/2.
constexpr float kEvenlySpread = 1.2F;
constexpr float kLeastCoin = 0.004F;
/// Distance off the plane that still counts as the same surface, in pixels at the surface.
constexpr float kPlanePixels = 0.7F;

/// Sum of differences of red, green and blue base colour that makes surfaces another by a factor of e.
constexpr float kColourStep = 0.04F;

/// How strictly surfaces must face alike.
float toThePower32(float x) noexcept {
    for (int i = 0; i < 5; ++i)
        x *= x;
    return x;
}

struct Planes {
    std::array<const float*, 3> position;
    std::array<const float*, 3> normal;
    const float* footprint;
    std::array<const float*, 3> albedo{};  ///< null: it does not count
    std::ptrdiff_t stride;
    int width;
    int height;

    explicit Planes(const DenoiseGuides& g)
        : position{g.position.plane(0), g.position.plane(1), g.position.plane(2)},
          normal{g.normal.plane(0), g.normal.plane(1), g.normal.plane(2)},
          footprint(g.footprint.plane(0)), stride(g.position.rowStride()),
          width(g.position.width()), height(g.position.height()) {
        if (!g.albedo.empty())
            for (int c = 0; c < 3; ++c)
                albedo[static_cast<std::size_t>(c)] = g.albedo.plane(c);
    }

    /// How far two base colours are apart, as an exponent.
    [[nodiscard]] float colourApart(std::ptrdiff_t a, std::ptrdiff_t b) const noexcept {
        if (albedo[0] == nullptr)
            return 0.0F;
        float apart = 0.0F;
        for (const float* plane : albedo)
            apart += std::abs(plane[a] - plane[b]);
        return apart / kColourStep;
    }

    [[nodiscard]] V3f normalAt(std::ptrdiff_t i) const noexcept {
        return {normal[0][i], normal[1][i], normal[2][i]};
    }
    /// Where nothing was hit there is no noise: each ray sees the same sky.
    [[nodiscard]] bool nothingAt(std::ptrdiff_t i) const noexcept {
        return normalAt(i).length2() < 0.5F;
    }
    [[nodiscard]] V3f positionAt(std::ptrdiff_t i) const noexcept {
        return {position[0][i], position[1][i], position[2][i]};
    }
    /// How much two pixels show one surface, 0..1, times exp(-alsoApart).
    [[nodiscard]] float sameSurface(std::ptrdiff_t a, std::ptrdiff_t b, int step,
                                    float alsoApart) const noexcept {
        const V3f n = normalAt(a);
        const float facing = toThePower32(std::max(n.dot(normalAt(b)), 0.0F));
        if (facing < kNegligible)
            return 0.0F;
        const float off = std::abs(n.dot(positionAt(b) - positionAt(a))) /
                          (kPlanePixels * footprint[a] * static_cast<float>(step) + 1e-7F);
        const float apart = off + alsoApart + colourApart(a, b);
        return apart > kFarApart ? 0.0F : facing * std::exp(-apart);
    }
};

/// One float a pixel to tell differences by.
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
        : m_planes(guides), m_rays(guides.rays.empty() ? nullptr : guides.rays.plane(0)),
          m_run(run), m_image(noisy) {
        m_run.progress = {};
    }

    Image support() {
        measureNoise();
        const std::vector<float> strength = strengthOf(m_image);
        Image out = Image::filled(m_image.width(), m_image.height(), 1, 0.0F);
        float* to = out.editPlane(0);
        overPixels([&](int x, int y, std::ptrdiff_t at) {
            around(x, y, 1, [&](std::ptrdiff_t other, float) {
                if (other != at)
                    to[at] += alike(strength, at, other, 1) / 24.0F;
            });
        });
        return out;
    }

    Image smooth() {
        measureNoise();
        for (int round = 0; round < kRounds && !m_run.stopped(); ++round)
            smoothOnce(1 << round);
        return m_image;
    }

private:
    /// Of those that show a surface.
    template <typename Work> void overPixels(const Work& work) const {
        forEachBand(m_planes.height, kBand, m_run, [&](int y0, int y1) {
            for (int y = y0; y < y1; ++y)
                for (int x = 0; x < m_planes.width; ++x)
                    if (const std::ptrdiff_t at = m_planes.stride * y + x; !m_planes.nothingAt(at))
                        work(x, y, at);
        });
    }

    /// visit(neighbour, weight of the spline) for each of the 5 x 5 that lies in the picture.
    template <typename Visit>
    void around(int x, int y, int step, const Visit& visit) const noexcept {
        for (int j = -2; j <= 2; ++j)
            for (int i = -2; i <= 2; ++i) {
                const int u = x + i * step;
                const int v = y + j * step;
                if (u >= 0 && v >= 0 && u < m_planes.width && v < m_planes.height)
                    visit(m_planes.stride * v + u,
                          kSpline[static_cast<std::size_t>(std::abs(i))] *
                              kSpline[static_cast<std::size_t>(std::abs(j))]);
            }
    }

    /// The variance of each pixel, from those about it that show the same surface.
    void measureNoise() {
        const std::vector<float> strength = strengthOf(m_image);
        m_variance.assign(strength.size(), 0.0F);
        overPixels([&](int x, int y, std::ptrdiff_t at) {
            float weight = 0.0F;
            float sum = 0.0F;
            float squares = 0.0F;
            around(x, y, 1, [&](std::ptrdiff_t other, float) {
                const float w = m_planes.sameSurface(at, other, 2, 0.0F);
                const float v = strength[static_cast<std::size_t>(other)];
                weight += w;
                sum += w * v;
                squares += w * v * v;
            });
            const float mean = sum / weight;
            float variance = std::max(0.0F, squares / weight - mean * mean);
            if (m_rays != nullptr) {
                const float left = std::min(1.0F, kEvenlySpread / std::sqrt(m_rays[at]));
                variance = std::min(variance,
                                    std::max(mean * (1.0F - mean), kLeastCoin) * left / m_rays[at]);
            }
            m_variance[static_cast<std::size_t>(at)] = variance;
        });
    }

    /// How much two pixels show one surface, and differ by no more than noise, 0..1.
    [[nodiscard]] float alike(const std::vector<float>& strength, std::ptrdiff_t a,
                              std::ptrdiff_t b, int step) const noexcept {
        const auto here = static_cast<std::size_t>(a);
        const float noise = kNoiseWidths * std::sqrt(m_variance[here]) + 1e-6F;
        const float apart = (strength[static_cast<std::size_t>(b)] - strength[here]) / noise;
        return m_planes.sameSurface(a, b, step, 0.5F * apart * apart);
    }

    void smoothOnce(int step) {
        const std::vector<float> strength = strengthOf(m_image);
        Image out = m_image;
        std::vector<const float*> from;
        std::vector<float*> to;
        for (int c = 0; c < out.channels(); ++c) {
            from.push_back(m_image.plane(c));
            to.push_back(out.editPlane(c));
        }
        std::vector<float> variance(m_variance.size());
        overPixels([&](int x, int y, std::ptrdiff_t at) {
            float weight = 0.0F;
            float spread = 0.0F;
            for (float* plane : to)
                plane[at] = 0.0F;
            around(x, y, step, [&](std::ptrdiff_t other, float spline) {
                const auto o = static_cast<std::size_t>(other);
                const float w = spline * alike(strength, at, other, step);
                weight += w;
                spread += w * w * m_variance[o];
                for (std::size_t c = 0; c < to.size(); ++c)
                    to[c][at] += w * from[c][other];
            });
            for (float* plane : to)
                plane[at] /= weight;
            variance[static_cast<std::size_t>(at)] = spread / (weight * weight);
        });
        m_image = std::move(out);
        m_variance = std::move(variance);
    }

    Planes m_planes;
    const float* m_rays;
    RunContext m_run;
    Image m_image;
    std::vector<float> m_variance;
};

void requireSameSize(const Image& noisy, const DenoiseGuides& guides) {
    for (const Image* guide :
         {&guides.position, &guides.normal, &guides.footprint, &guides.albedo, &guides.rays})
        if (!guide->empty() && !guide->sameSize(noisy))
            throw Error(ErrorCode::ShapeMismatch, "the guides of a cleaning are of another size");
}

}  // namespace

Image smoothingSupport(const Image& noisy, const DenoiseGuides& guides, const RunContext& run) {
    requireSameSize(noisy, guides);
    return Wavelet(noisy, guides, run).support();
}

Image denoised(const Image& noisy, const DenoiseGuides& guides, float strength,
               const RunContext& run) {
    requireSameSize(noisy, guides);
    if (strength <= 0.0F)
        return noisy;
    if (const int alpha = noisy.channel("A"); alpha == 3) {
        // How much there is of a pixel is no light: its edges stay as they are.
        Image clean = denoised(noisy.select({0, 1, 2}), guides, strength, run);
        clean.append(noisy.select({alpha}));
        return clean;
    }
    Image clean = Wavelet(noisy, guides, run).smooth();
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
