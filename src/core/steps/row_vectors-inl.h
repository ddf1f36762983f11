// Included once for each instruction set, between HWY_BEFORE_NAMESPACE and its end; see fog_row.cpp.
#if defined(NOCTIS_ROW_VECTORS_INL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef NOCTIS_ROW_VECTORS_INL_H
#undef NOCTIS_ROW_VECTORS_INL_H
#else
#define NOCTIS_ROW_VECTORS_INL_H
#endif

#include <algorithm>

#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

/// e^x for x of 0 or less, -inf included; 0 below -86. A NaN gives any number.
/// Half the instructions of hn::Exp, which fog spends most of its time in. 3e-7 relative.
/// Source   the polynomial of exp2f in the Cephes library
template <typename D, typename V> HWY_INLINE V expOfLoss(D d, V x) {
    namespace hn = hwy::HWY_NAMESPACE;
    const hn::RebindToSigned<D> whole;
    constexpr float kLeast = -86.0F;
    const V log2e = hn::Set(d, 1.44269504F);
    const V log2eRest = hn::Set(d, 1.925963033e-8F);
    // Adding 1.5 * 2^23 leaves the nearest whole number in the lowest bits.
    const V toWhole = hn::Set(d, 12582912.0F);
    const V bounded = hn::Max(x, hn::Set(d, kLeast));
    const V rounded = hn::MulAdd(bounded, log2e, toWhole);
    const V f =
        hn::MulAdd(bounded, log2eRest, hn::MulSub(bounded, log2e, hn::Sub(rounded, toWhole)));
    V power = hn::Set(d, 1.535336188e-4F);
    for (const float k : {1.339887440e-3F, 9.618437358e-3F, 5.550332471e-2F, 2.402264791e-1F,
                          6.931472029e-1F, 1.0F})
        power = hn::MulAdd(power, f, hn::Set(d, k));
    const V scaled = hn::BitCast(
        d, hn::Add(hn::BitCast(whole, power), hn::ShiftLeft<23>(hn::BitCast(whole, rounded))));
    return hn::IfThenElseZero(hn::Ge(x, hn::Set(d, kLeast)), scaled);
}

/// Calls work(first, pass, alpha, r, g, b) for each full vector of a row, and once more for what is left
/// over, on a padded copy. first is the index of the vector's first pixel; alpha may be none.
template <typename Work>
HWY_INLINE void overRow(const float* pass, const float* alpha, float* r, float* g, float* b,
                        int count, const Work& work) {
    const hwy::HWY_NAMESPACE::ScalableTag<float> d;
    const int lanes = static_cast<int>(hwy::HWY_NAMESPACE::Lanes(d));
    int i = 0;
    for (; i + lanes <= count; i += lanes)
        work(i, pass + i, alpha == nullptr ? nullptr : alpha + i, r + i, g + i, b + i);
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
