// Included once for each instruction set, between HWY_BEFORE_NAMESPACE and its end; see fog_row.cpp.
#if defined(NOCTIS_VECTORS_INL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef NOCTIS_VECTORS_INL_H
#undef NOCTIS_VECTORS_INL_H
#else
#define NOCTIS_VECTORS_INL_H
#endif

#include <type_traits>

#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

/// e^x for x of 0 or less, -inf included: exact at 0, 3e-7 relative elsewhere; 0 below -86.
/// A NaN gives any number.
/// Half the instructions of hn::Exp, which fog and smoothing spend most of their time in.
template <typename D, typename V> HWY_INLINE V expOfLoss(D d, V x) {
    namespace hn = hwy::HWY_NAMESPACE;
    const hn::RebindToSigned<D> whole;
    const auto k = [&](float factor) { return hn::Set(d, factor); };
    constexpr float kLeast = -86.0F;
    const V log2e = k(1.44269504F);
    // Adding 1.5 * 2^23 leaves the nearest whole number in the lowest bits.
    const V toWhole = k(12582912.0F);
    const V bounded = hn::Max(x, k(kLeast));
    const V rounded = hn::MulAdd(bounded, log2e, toWhole);
    const V f = hn::MulAdd(bounded, k(1.925963033e-8F),  // log2(e) beyond a float
                           hn::MulSub(bounded, log2e, hn::Sub(rounded, toWhole)));
    // 2^f within half of 1 either way, fitted to 1e-7 and to 1 at 0; in pairs, so that few products wait
    // for one another.
    const V f2 = hn::Mul(f, f);
    const V low = hn::MulAdd(f, k(6.931469775e-1F), k(1.0F));
    const V middle = hn::MulAdd(f, k(5.550733796e-2F), k(2.402224194e-1F));
    const V high = hn::MulAdd(f, k(1.326474234e-3F), k(9.671522237e-3F));
    const V power = hn::MulAdd(hn::MulAdd(high, f2, middle), f2, low);
    const V scaled = hn::BitCast(
        d, hn::Add(hn::BitCast(whole, power), hn::ShiftLeft<23>(hn::BitCast(whole, rounded))));
    return hn::IfThenElseZero(hn::Ge(x, k(kLeast)), scaled);
}

/// Calls work(std::true_type) or work(std::false_type): decides once per row what would otherwise be a branch
/// at each vector, which costs fog half its speed.
template <typename Work> HWY_INLINE void decided(bool choice, const Work& work) {
    if (choice)
        work(std::true_type());
    else
        work(std::false_type());
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#endif
