#include "core/tracer/denoise_row.h"

#include <algorithm>
#include <array>
#include <cmath>

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/tracer/denoise_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include "core/image/vectors-inl.h"

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

/// B3 spline, of which 5 x 5 is the wavelet's kernel.
constexpr float kSpline[3]{3.0F / 8.0F, 1.0F / 4.0F, 1.0F / 16.0F};
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

inline int lanes() { return static_cast<int>(hn::Lanes(D())); }

HWY_INLINE V all(float value) { return hn::Set(D(), value); }

/// Neighbouring pixels of a row, as many as a vector has. kInside: every neighbour that is asked for lies in
/// the picture. kColoured: base colours count.
template <bool kInside, bool kColoured> class Pixels {
public:
    Pixels(const GuidePlanes& guides, int x, int y) : m_guides(guides), m_x(x), m_y(y) {
        for (std::size_t c = 0; c < 3; ++c) {
            m_normal[c] = at(guides.normal[c], 0, 0);
            m_position[c] = at(guides.position[c], 0, 0);
            if constexpr (kColoured)
                m_albedo[c] = at(guides.albedo[c], 0, 0);
        }
    }

    /// A plane's values, that many pixels to the right and below.
    [[nodiscard]] HWY_INLINE V at(const float* plane, int right, int below) const {
        const float* const row = plane + m_guides.stride * (m_y + below);
        if constexpr (kInside)
            return hn::LoadU(D(), row + m_x + right);
        HWY_ALIGN float values[HWY_MAX_BYTES / sizeof(float)];
        for (int i = 0; i < lanes(); ++i)
            values[i] = row[std::clamp(m_x + right + i, 0, m_guides.width - 1)];
        return hn::Load(D(), values);
    }

    void put(V value, float* plane) const {
        float* const to = plane + m_guides.stride * m_y + m_x;
        if constexpr (kInside)
            return hn::StoreU(value, D(), to);
        HWY_ALIGN float values[HWY_MAX_BYTES / sizeof(float)];
        hn::Store(value, D(), values);
        std::copy(values, values + std::min(lanes(), m_guides.width - m_x), to);
    }

    [[nodiscard]] HWY_INLINE hn::Mask<D> anyHit() const {
        return hn::Ge(dot(m_normal, m_normal), all(0.5F));
    }

    /// Calls visit(right, below, kernel, weight) for the 5 x 5, that many pixels apart; weight: how much both
    /// show one surface, 0..1, times exp(-also(right, below)). reach: pixels that a surface may bend over.
    template <typename Also, typename Visit>
    HWY_INLINE void around(int step, int reach, const Also& also, const Visit& visit) const {
        const V perOff = hn::Div(
            all(1.0F), hn::MulAdd(at(m_guides.footprint, 0, 0),
                                  all(kPlanePixels * static_cast<float>(reach)), all(1e-7F)));
        for (int j = -2; j <= 2; ++j) {
            const int below = j * step;
            if (m_y + below < 0 || m_y + below >= m_guides.height)
                continue;
            for (int i = -2; i <= 2; ++i) {
                const int right = i * step;
                const float kernel = kSpline[std::abs(i)] * kSpline[std::abs(j)];
                V weight = sameSurface(right, below, perOff, also(right, below));
                if constexpr (!kInside) {
                    const V u = hn::Iota(D(), static_cast<float>(m_x + right));
                    const auto within = hn::And(hn::Ge(u, hn::Zero(D())),
                                                hn::Lt(u, all(static_cast<float>(m_guides.width))));
                    weight = hn::IfThenElseZero(within, weight);
                }
                visit(right, below, kernel, weight);
            }
        }
    }

private:
    [[nodiscard]] static HWY_INLINE V dot(const V (&a)[3], const V (&b)[3]) {
        return hn::MulAdd(a[0], b[0], hn::MulAdd(a[1], b[1], hn::Mul(a[2], b[2])));
    }

    [[nodiscard]] HWY_INLINE V sameSurface(int right, int below, V perOff, V apart) const {
        V normal[3];
        V way[3];
        for (std::size_t c = 0; c < 3; ++c) {
            normal[c] = at(m_guides.normal[c], right, below);
            way[c] = hn::Sub(at(m_guides.position[c], right, below), m_position[c]);
        }
        V facing = hn::Max(dot(m_normal, normal), hn::Zero(D()));
        for (int i = 0; i < 5; ++i)  // to the power of 32: how strictly they must face alike
            facing = hn::Mul(facing, facing);
        apart = hn::MulAdd(hn::Abs(dot(m_normal, way)), perOff, apart);
        if constexpr (kColoured) {
            V colours = hn::Zero(D());
            for (std::size_t c = 0; c < 3; ++c)
                colours = hn::Add(
                    colours, hn::Abs(hn::Sub(at(m_guides.albedo[c], right, below), m_albedo[c])));
            apart = hn::MulAdd(colours, all(1.0F / kColourStep), apart);
        }
        const auto counts =
            hn::And(hn::Ge(facing, all(kNegligible)), hn::Le(apart, all(kFarApart)));
        return hn::IfThenElseZero(counts, hn::Mul(facing, expOfLoss(D(), hn::Neg(apart))));
    }

    const GuidePlanes& m_guides;
    int m_x;
    int m_y;
    V m_normal[3];
    V m_position[3];
    V m_albedo[3];
};

/// Calls work(pixels) along a row.
template <typename Work>
void alongRow(const GuidePlanes& guides, int y, int step, const Work& work) {
    decided(guides.albedo[0] != nullptr, [&](auto coloured) {
        for (int x = 0; x < guides.width; x += lanes())
            if (x - 2 * step >= 0 && x + lanes() + 2 * step <= guides.width)
                work(Pixels<true, coloured.value>(guides, x, y));
            else
                work(Pixels<false, coloured.value>(guides, x, y));
    });
}

/// Half the squared difference to the pixels' own strength, in widths of noise.
template <typename Of> auto apartFrom(const Of& pixels, const NoisePlanes& noise) {
    const V own = pixels.at(noise.strength, 0, 0);
    const V perNoise = hn::Div(all(1.0F), hn::MulAdd(hn::Sqrt(pixels.at(noise.variance, 0, 0)),
                                                     all(kNoiseWidths), all(1e-6F)));
    return [&pixels, &noise, own, perNoise](int right, int below) {
        const V apart = hn::Mul(hn::Sub(pixels.at(noise.strength, right, below), own), perNoise);
        return hn::Mul(hn::Mul(apart, apart), all(0.5F));
    };
}

void measureNoiseSimd(const GuidePlanes& guides, const float* strength, const float* rays,
                      float* variance, int y) {
    alongRow(guides, y, 1, [&](const auto& pixels) {
        const auto hit = pixels.anyHit();
        if (hn::AllFalse(D(), hit))
            return;
        V weight = hn::Zero(D());
        V sum = hn::Zero(D());
        V squares = hn::Zero(D());
        pixels.around(
            1, 2, [](int, int) { return hn::Zero(D()); },
            [&](int right, int below, float, V w) {
                const V v = pixels.at(strength, right, below);
                weight = hn::Add(weight, w);
                sum = hn::MulAdd(w, v, sum);
                squares = hn::MulAdd(hn::Mul(w, v), v, squares);
            });
        const V one = all(1.0F);
        const V mean = hn::Div(sum, weight);
        V spread = hn::Max(hn::NegMulAdd(mean, mean, hn::Div(squares, weight)), hn::Zero(D()));
        if (rays != nullptr) {
            const V count = pixels.at(rays, 0, 0);
            const V left = hn::Min(one, hn::Div(all(kEvenlySpread), hn::Sqrt(count)));
            const V coin = hn::Max(hn::Mul(mean, hn::Sub(one, mean)), all(kLeastCoin));
            spread = hn::Min(spread, hn::Div(hn::Mul(coin, left), count));
        }
        pixels.put(hn::IfThenElseZero(hit, spread), variance);
    });
}

void smoothSimd(const GuidePlanes& guides, const NoisePlanes& noise, int step,
                const SmoothedPlanes& planes, int y) {
    alongRow(guides, y, step, [&](const auto& pixels) {
        const auto hit = pixels.anyHit();
        if (hn::AllFalse(D(), hit))
            return;
        V weight = hn::Zero(D());
        V spread = hn::Zero(D());
        V sums[SmoothedPlanes::kMostChannels];
        for (std::size_t c = 0; c < planes.channels; ++c)
            sums[c] = hn::Zero(D());
        pixels.around(
            step, step, apartFrom(pixels, noise), [&](int right, int below, float kernel, V alike) {
                const V w = hn::Mul(alike, all(kernel));
                weight = hn::Add(weight, w);
                spread = hn::MulAdd(hn::Mul(w, w), pixels.at(noise.variance, right, below), spread);
                for (std::size_t c = 0; c < planes.channels; ++c)
                    sums[c] = hn::MulAdd(w, pixels.at(planes.from[c], right, below), sums[c]);
            });
        for (std::size_t c = 0; c < planes.channels; ++c)
            pixels.put(
                hn::IfThenElse(hit, hn::Div(sums[c], weight), pixels.at(planes.from[c], 0, 0)),
                planes.to[c]);
        pixels.put(hn::IfThenElseZero(hit, hn::Div(spread, hn::Mul(weight, weight))),
                   planes.variance);
    });
}

void measureSupportSimd(const GuidePlanes& guides, const NoisePlanes& noise, float* support,
                        int y) {
    alongRow(guides, y, 1, [&](const auto& pixels) {
        const auto hit = pixels.anyHit();
        if (hn::AllFalse(D(), hit))
            return;
        V sum = hn::Zero(D());
        pixels.around(1, 1, apartFrom(pixels, noise), [&](int right, int below, float, V alike) {
            if (right != 0 || below != 0)
                sum = hn::MulAdd(alike, all(1.0F / 24.0F), sum);
        });
        pixels.put(hn::IfThenElseZero(hit, sum), support);
    });
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

HWY_EXPORT(measureNoiseSimd);
HWY_EXPORT(smoothSimd);
HWY_EXPORT(measureSupportSimd);

void measureNoise(const GuidePlanes& guides, const float* strength, const float* rays,
                  float* variance, int y) noexcept {
    HWY_DYNAMIC_DISPATCH(measureNoiseSimd)(guides, strength, rays, variance, y);
}

void smooth(const GuidePlanes& guides, const NoisePlanes& noise, int step,
            const SmoothedPlanes& planes, int y) noexcept {
    HWY_DYNAMIC_DISPATCH(smoothSimd)(guides, noise, step, planes, y);
}

void measureSupport(const GuidePlanes& guides, const NoisePlanes& noise, float* support,
                    int y) noexcept {
    HWY_DYNAMIC_DISPATCH(measureSupportSimd)(guides, noise, support, y);
}

}  // namespace noctis
#endif
