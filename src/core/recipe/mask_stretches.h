#pragma once

#include "core/recipe/mask.h"

#include <array>

namespace noctis {

/// Neighbouring pixels of a run that a mask excludes, includes fully, or treats one by one.
struct Stretch {
    enum class Covered { None, Some, All };
    int from = 0;
    int count = 0;
    Covered covered = Covered::All;
};

/// A run cut into stretches, in order and without gaps: most of a picture lies fully inside or outside a mask,
/// where a step needn't be mixed, or run at all.
class Stretches {
public:
    /// Everything is covered.
    explicit Stretches(int count = 0) noexcept { add({0, count, Stretch::Covered::All}); }
    /// mask: 0..1, count of them, kRunLength at most.
    Stretches(const float* mask, int count) noexcept;
    /// Of one mask, or of one a channel: covered is what all of them cover.
    Stretches(const float (&masks)[3][kRunLength], int channels, int count) noexcept;

    [[nodiscard]] const Stretch* begin() const noexcept { return m_all.data(); }
    [[nodiscard]] const Stretch* end() const noexcept { return m_all.data() + m_size; }

private:
    static constexpr int kShortest = 128;  ///< pixels; below it, calls cost more than they save
    void add(const Stretch& stretch) noexcept;

    std::array<Stretch, kRunLength / kShortest> m_all{};
    std::size_t m_size = 0;
};

}  // namespace noctis
