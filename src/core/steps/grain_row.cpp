#include "core/steps/grain_row.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/grain_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using U = hn::RebindToUnsigned<D>;
using V = hn::Vec<D>;

/// Noise of mean 0 and variance 1 at places x, x + 1, ... of a row. out: room for count and a vector more.
void noiseSimd(std::uint32_t row, std::uint32_t x, float* out, int count) {
    const D d;
    const U u;
    const int lanes = static_cast<int>(hn::Lanes(d));
    // Four bytes are numbers from 0 to 255: their sum has a mean of 510 and a variance of (256^2 - 1) / 3.
    const V perDeviation = hn::Set(d, 0.0067658914F);
    const V mean = hn::Set(d, 510.0F);
    const auto low = hn::Set(u, 0x00FF00FFU);
    for (int i = 0; i < count; i += lanes) {
        auto h = hn::Add(hn::Iota(u, x + static_cast<std::uint32_t>(i)), hn::Set(u, row));
        h = hn::Xor(h, hn::ShiftRight<16>(h));
        h = hn::Mul(h, hn::Set(u, 0x85EBCA6BU));
        h = hn::Xor(h, hn::ShiftRight<13>(h));
        h = hn::Mul(h, hn::Set(u, 0xC2B2AE35U));
        h = hn::Xor(h, hn::ShiftRight<16>(h));
        const auto pairs = hn::Add(hn::And(h, low), hn::And(hn::ShiftRight<8>(h), low));
        const auto sum = hn::Add(hn::And(pairs, hn::Set(u, 0xFFFFU)), hn::ShiftRight<16>(pairs));
        const V value = hn::ConvertTo(d, hn::BitCast(hn::RebindToSigned<D>(), sum));
        hn::StoreU(hn::Mul(hn::Sub(value, mean), perDeviation), d, out + i);
    }
}

/// deviation: of each pixel, by its luminance, associated as the colour is.
void deviationSimd(float strength, const float* alpha, const float* r, const float* g,
                   const float* b, float* deviation, int count) {
    const D d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const auto at = [d](const float* from, int i) { return hn::LoadU(d, from + i); };
    int i = 0;
    for (; i + lanes <= count; i += lanes) {
        V light = hn::MulAdd(
            at(r, i), hn::Set(d, 0.2126F),
            hn::MulAdd(at(g, i), hn::Set(d, 0.7152F), hn::Mul(at(b, i), hn::Set(d, 0.0722F))));
        V covered = hn::Set(d, 1.0F);
        if (alpha != nullptr) {
            covered = at(alpha, i);
            light = hn::Div(light, hn::Max(covered, hn::Set(d, 1e-6F)));
        }
        light = hn::Max(light, hn::Set(d, 0.18F / 1024.0F));
        const V value = hn::Mul(hn::Mul(hn::Set(d, strength), covered),
                                hn::Sqrt(hn::Mul(hn::Set(d, 0.18F), light)));
        hn::StoreU(value, d, deviation + i);
    }
    for (; i < count; ++i) {
        const float covered = alpha != nullptr ? alpha[i] : 1.0F;
        const float light = (0.2126F * r[i] + 0.7152F * g[i] + 0.0722F * b[i]) /
                            (alpha != nullptr ? std::max(covered, 1e-6F) : 1.0F);
        deviation[i] = strength * covered * std::sqrt(0.18F * std::max(light, 0.18F / 1024.0F));
    }
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

namespace {

HWY_EXPORT(noiseSimd);
HWY_EXPORT(deviationSimd);

constexpr int kVector = 64;  ///< numbers that no vector has more of

/// Mixes numbers that differ little to ones that differ everywhere.
std::uint32_t scattered(std::uint32_t a, std::uint32_t b) noexcept {
    std::uint64_t h = (std::uint64_t{a} << 32U | b) * 0x9E3779B97F4A7C15ULL;
    h ^= h >> 29U;
    h *= 0xBF58476D1CE4E5B9ULL;
    return static_cast<std::uint32_t>(h >> 32U);
}

/// The weights of a cubic B-spline at a place between two nodes, scaled so that their squares sum to 1: noise on the
/// nodes keeps its variance.
std::array<float, 4> splineWeights(float t) noexcept {
    const float s = 1.0F - t;
    std::array<float, 4> w{s * s * s / 6.0F, (4.0F + 3.0F * t * t * (t - 2.0F)) / 6.0F,
                           (4.0F + 3.0F * s * s * (s - 2.0F)) / 6.0F, t * t * t / 6.0F};
    float squares = 0.0F;
    for (const float each : w)
        squares += each * each;
    const float by = 1.0F / std::sqrt(squares);
    for (float& each : w)
        each *= by;
    return w;
}

/// Noise at the pixels of one row of the full picture. channel: whose; 3: what all share.
class FullRow {
public:
    FullRow(const GrainRow& grain, int x, int count)
        : m_grain(grain), m_x(x), m_count(count), m_noise(roomFor(count)) {
        if (grain.size <= 1.0F)
            return;
        m_first = static_cast<int>(std::floor(placeOf(x))) - 1;
        m_nodes = static_cast<int>(std::floor(placeOf(x + count - 1))) + 3 - m_first;
        m_mixed.resize(roomFor(m_nodes));
        m_node.resize(roomFor(m_nodes));
        for (int i = 0; i < count; ++i) {
            const float place = placeOf(x + i);
            m_left.push_back(static_cast<int>(std::floor(place)) - 1 - m_first);
            m_weights.push_back(splineWeights(place - std::floor(place)));
        }
    }

    const float* of(int y, std::uint32_t channel) {
        if (m_grain.size <= 1.0F) {
            HWY_DYNAMIC_DISPATCH(noiseSimd)
            (rowSeed(y, channel), static_cast<std::uint32_t>(m_x), m_noise.data(), m_count);
            return m_noise.data();
        }
        const float place = placeOf(y);
        const int above = static_cast<int>(std::floor(place)) - 1;
        const std::array<float, 4> down = splineWeights(place - std::floor(place));
        std::fill(m_mixed.begin(), m_mixed.end(), 0.0F);
        for (int j = 0; j < 4; ++j) {
            HWY_DYNAMIC_DISPATCH(noiseSimd)
            (rowSeed(above + j, channel), static_cast<std::uint32_t>(m_first), m_node.data(),
             m_nodes);
            for (std::size_t i = 0; i < m_mixed.size(); ++i)
                m_mixed[i] += down[static_cast<std::size_t>(j)] * m_node[i];
        }
        for (int i = 0; i < m_count; ++i) {
            const auto at = static_cast<std::size_t>(i);
            const float* node = m_mixed.data() + m_left[at];
            const std::array<float, 4>& w = m_weights[at];
            m_noise[at] = w[0] * node[0] + w[1] * node[1] + w[2] * node[2] + w[3] * node[3];
        }
        return m_noise.data();
    }

private:
    static std::size_t roomFor(int count) { return static_cast<std::size_t>(count + kVector); }
    [[nodiscard]] float placeOf(int pixel) const noexcept {
        return (static_cast<float>(pixel) + 0.5F) / m_grain.size;
    }
    [[nodiscard]] std::uint32_t rowSeed(int y, std::uint32_t channel) const noexcept {
        return scattered(scattered(m_grain.seed, channel), static_cast<std::uint32_t>(y));
    }

    const GrainRow& m_grain;
    int m_x;
    int m_count;
    int m_first = 0;
    int m_nodes = 0;
    std::vector<float> m_noise;
    std::vector<float> m_node;
    std::vector<float> m_mixed;
    std::vector<int> m_left;
    std::vector<std::array<float, 4>> m_weights;
};

}  // namespace

void grainRow(const GrainRow& grain, int x, int y, const float* alpha, float* r, float* g, float* b,
              int count) {
    const auto width = static_cast<std::size_t>(count);
    std::vector<float> deviation(width + kVector);
    HWY_DYNAMIC_DISPATCH(deviationSimd)
    (grain.strength, alpha, r, g, b, deviation.data(), count);
    const int factor = grain.factor;
    FullRow full(grain, x * factor, count * factor);
    std::vector<float> sum(width);
    const float shared = std::sqrt(std::max(1.0F - grain.ownShare * grain.ownShare, 0.0F));
    const auto add = [&](std::uint32_t channel, float share) {
        for (int j = 0; j < factor; ++j) {
            const float* noise = full.of(y * factor + j, channel);
            if (factor == 1) {
                for (std::size_t i = 0; i < width; ++i)
                    sum[i] += share * noise[i];
                continue;
            }
            for (std::size_t i = 0; i < width; ++i)
                for (int k = 0; k < factor; ++k)
                    sum[i] +=
                        share *
                        noise[i * static_cast<std::size_t>(factor) + static_cast<std::size_t>(k)];
        }
    };
    const float perPixel = 1.0F / static_cast<float>(factor * factor);
    std::vector<float> common(width);
    if (shared > 0.0F) {
        add(3, shared * perPixel);
        common = sum;
    }
    float* const channels[3] = {r, g, b};
    for (std::uint32_t c = 0; c < 3; ++c) {
        sum = common;
        if (grain.ownShare > 0.0F)
            add(c, grain.ownShare * perPixel);
        for (std::size_t i = 0; i < width; ++i)
            channels[c][i] += deviation[i] * sum[i];
    }
}

}  // namespace noctis
#endif
