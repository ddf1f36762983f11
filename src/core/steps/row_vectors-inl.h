// Included once for each instruction set, between HWY_BEFORE_NAMESPACE and its end; see fog_row.cpp.
#if defined(NOCTIS_ROW_VECTORS_INL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef NOCTIS_ROW_VECTORS_INL_H
#undef NOCTIS_ROW_VECTORS_INL_H
#else
#define NOCTIS_ROW_VECTORS_INL_H
#endif

#include <algorithm>

#include <hwy/cache_control.h>
#include <hwy/highway.h>

#include "core/image/vectors-inl.h"

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

/// Calls work(first, pass, alpha, r, g, b) for each full vector of a row, and once more for what is left
/// over, on a padded copy. first is the index of the vector's first pixel; alpha may be none.
template <typename Work>
HWY_INLINE void overRow(const float* pass, const float* alpha, float* r, float* g, float* b,
                        int count, const Work& work) {
    const hwy::HWY_NAMESPACE::ScalableTag<float> d;
    const int lanes = static_cast<int>(hwy::HWY_NAMESPACE::Lanes(d));
    int i = 0;
    decided(alpha != nullptr, [&](auto covered) {
        for (; i + lanes <= count; i += lanes) {
            hwy::Prefetch(pass + i + count);
            work(i, pass + i, covered ? alpha + i : nullptr, r + i, g + i, b + i);
        }
    });
    if (i >= count)
        return;
    HWY_ALIGN float rest[5][HWY_MAX_BYTES / sizeof(float)] = {};
    std::copy(pass + i, pass + count, rest[0]);
    if (alpha != nullptr)
        std::copy(alpha + i, alpha + count, rest[4]);
    float* const channels[3] = {r, g, b};
    for (int c = 0; c < 3; ++c)
        std::copy(channels[c] + i, channels[c] + count, rest[c + 1]);
    work(i, rest[0], alpha == nullptr ? nullptr : rest[4], rest[1], rest[2], rest[3]);
    for (int c = 0; c < 3; ++c)
        std::copy(rest[c + 1], rest[c + 1] + (count - i), channels[c] + i);
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#endif
