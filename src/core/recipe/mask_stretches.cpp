#include "core/recipe/mask_stretches.h"

#include <algorithm>
#include <cstring>

namespace noctis {

namespace {

Stretch::Covered coverOf(const float* mask, int count) noexcept {
    const float first = mask[0];
    const bool even =
        std::memcmp(mask, mask + 1, sizeof(float) * static_cast<std::size_t>(count - 1)) == 0;
    if (even && first == 0.0F)
        return Stretch::Covered::None;
    return even && first == 1.0F ? Stretch::Covered::All : Stretch::Covered::Some;
}

}  // namespace

Stretches::Stretches(const float* mask, int count) noexcept {
    for (int from = 0; from < count; from += kShortest) {
        const int length = std::min(kShortest, count - from);
        add({from, length, coverOf(mask + from, length)});
    }
}

Stretches::Stretches(const float (&masks)[3][kRunLength], int channels, int count) noexcept {
    for (int from = 0; from < count; from += kShortest) {
        const int length = std::min(kShortest, count - from);
        const Stretch::Covered first = coverOf(masks[0] + from, length);
        Stretch::Covered covered = first;
        for (int c = 1; c < channels; ++c)
            if (coverOf(masks[c] + from, length) != first)
                covered = Stretch::Covered::Some;
        add({from, length, covered});
    }
}

void Stretches::add(const Stretch& stretch) noexcept {
    if (m_size > 0 && m_all[m_size - 1].covered == stretch.covered)
        m_all[m_size - 1].count += stretch.count;
    else
        m_all[m_size++] = stretch;
}

}  // namespace noctis
