#pragma once

#include <cstdint>

namespace noctis {

// Sample points that depend on nothing but pixel, sample number and seed, so that a picture is the
// same whatever the number of threads. Source: Burley 2020, Practical Hash-based Owen Scrambling;
// Laine and Karras 2011, Stratified Sampling
//         for Stochastic Transparency (the hash); Joe and Kuo 2008 (the second Sobol dimension).

[[nodiscard]] inline std::uint32_t hash32(std::uint32_t x) noexcept {
    x ^= x >> 16U;
    x *= 0x7feb352dU;
    x ^= x >> 15U;
    x *= 0x846ca68bU;
    x ^= x >> 16U;
    return x;
}

[[nodiscard]] inline std::uint32_t hashCombine(std::uint32_t a, std::uint32_t b) noexcept {
    return hash32(a ^ (b + 0x9e3779b9U + (a << 6U) + (a >> 2U)));
}

/// A 32-bit fraction as a float in [0, 1).
[[nodiscard]] inline float unitFloat(std::uint32_t bits) noexcept {
    return static_cast<float>(bits >> 8U) * 0x1p-24F;
}

struct Sample2 {
    float x = 0.0F;
    float y = 0.0F;
};

/// Owen-scrambled Sobol points; each pair of dimensions is shuffled independently.
class PixelSampler {
public:
    PixelSampler(int x, int y, std::uint32_t sample, std::uint32_t seed) noexcept
        : m_seed(hashCombine(
              hashCombine(static_cast<std::uint32_t>(x), static_cast<std::uint32_t>(y)), seed)),
          m_index(sample) {}

    /// The next pair of dimensions.
    [[nodiscard]] Sample2 next2() noexcept {
        const std::uint32_t seed = hashCombine(m_seed, m_dimension++);
        const std::uint32_t index = nestedScramble(m_index, seed);
        return {unitFloat(nestedScramble(reverseBits(index), hash32(seed ^ 0x68bc21ebU))),
                unitFloat(nestedScramble(sobolSecond(index), hash32(seed ^ 0x02e5be93U)))};
    }
    [[nodiscard]] float next1() noexcept { return next2().x; }

private:
    static std::uint32_t reverseBits(std::uint32_t v) noexcept {
        v = __builtin_bswap32(v);
        v = ((v & 0x0f0f0f0fU) << 4U) | ((v & 0xf0f0f0f0U) >> 4U);
        v = ((v & 0x33333333U) << 2U) | ((v & 0xccccccccU) >> 2U);
        return ((v & 0x55555555U) << 1U) | ((v & 0xaaaaaaaaU) >> 1U);
    }
    static std::uint32_t nestedScramble(std::uint32_t v, std::uint32_t seed) noexcept {
        v = reverseBits(v);
        v += seed;
        v ^= v * 0x6c50b47cU;
        v ^= v * 0xb82f1e52U;
        v ^= v * 0xc7afe638U;
        v ^= v * 0x8d22f6e6U;
        return reverseBits(v);
    }
    static std::uint32_t sobolSecond(std::uint32_t index) noexcept {
        std::uint32_t result = 0;
        for (std::uint32_t v = 1U << 31U; index != 0; index >>= 1U, v ^= v >> 1U)
            if ((index & 1U) != 0)
                result ^= v;
        return result;
    }

    std::uint32_t m_seed;
    std::uint32_t m_index;
    std::uint32_t m_dimension = 0;
};

}  // namespace noctis
