#pragma once

#include <cstdint>
#include <cstring>
#include <string_view>

namespace noctis {

/// A running hash of everything that went into a result. Source: FNV-1a, 64 bits.
class Hash {
public:
    explicit Hash(std::uint64_t seed = 0) : m_value(seed ^ 0xcbf29ce484222325ULL) {}
    Hash& add(std::string_view text) noexcept {
        for (const char c : text)
            mixIn(static_cast<unsigned char>(c));
        mixIn(0xffU);
        return *this;
    }
    Hash& add(std::uint64_t number) noexcept {
        for (int i = 0; i < 8; ++i)
            mixIn(number >> (8 * i) & 0xffU);
        return *this;
    }
    Hash& add(float number) noexcept {
        std::uint32_t bits = 0;
        std::memcpy(&bits, &number, sizeof bits);
        return add(std::uint64_t{bits});
    }
    [[nodiscard]] std::uint64_t value() const noexcept { return m_value; }
    /// A number from 0 to below 1 that says nothing of those of neighbours: value() alone would set out what is placed by
    /// it in rows. Source: the finaliser of SplitMix64, Steele et al. 2014.
    [[nodiscard]] float unit() const noexcept {
        std::uint64_t h = m_value;
        h = (h ^ h >> 30U) * 0xbf58476d1ce4e5b9ULL;
        h = (h ^ h >> 27U) * 0x94d049bb133111ebULL;
        h ^= h >> 31U;
        return static_cast<float>(h >> 40U) / static_cast<float>(1U << 24U);
    }

private:
    void mixIn(std::uint64_t byte) noexcept { m_value = (m_value ^ byte) * 0x100000001b3ULL; }
    std::uint64_t m_value;
};

}  // namespace noctis
