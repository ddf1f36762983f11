// Included once for each instruction set, between HWY_BEFORE_NAMESPACE and its end; see fog_row.cpp.
#if defined(NOCTIS_FOG_BANKS_INL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef NOCTIS_FOG_BANKS_INL_H
#undef NOCTIS_FOG_BANKS_INL_H
#else
#define NOCTIS_FOG_BANKS_INL_H
#endif

#include <array>

#include <hwy/highway.h>

#include <hwy/contrib/math/math-inl.h>

#include "core/steps/fog_row.h"

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

template <typename V> struct V3 {
    V x;
    V y;
    V z;
};

/// Noise on a lattice of whole numbers, straight between -1 and 1 at each point of it, smooth between them.
/// Source   value noise with Perlin's fade (1985); the mixing of bits as in Jarzynski and Olano 2020, Hash Functions for
///          GPU Rendering, in fewer rounds.
template <typename D, typename V> HWY_INLINE V latticeNoise(D d, const V3<V>& at) {
    namespace hn = hwy::HWY_NAMESPACE;
    const hn::RebindToSigned<D> whole;
    using I = hn::Vec<decltype(whole)>;
    struct Side {
        I low;
        I high;
        V fade;
    };
    const auto sideOf = [&](V value, std::int32_t prime) {
        const V floor = hn::Floor(value);
        const V part = hn::Sub(value, floor);
        const I low = hn::Mul(hn::ConvertTo(whole, floor), hn::Set(whole, prime));
        const V fade =
            hn::Mul(hn::Mul(part, part), hn::NegMulAdd(part, hn::Set(d, 2.0F), hn::Set(d, 3.0F)));
        return Side{low, hn::Add(low, hn::Set(whole, prime)), fade};
    };
    const Side x = sideOf(at.x, 0x1B873593);
    const Side y = sideOf(at.y, 0x165667B1);
    const Side z = sideOf(at.z, 0x27D4EB2F);
    const auto valueAt = [&](I a, I b, I c) {
        I h = hn::Add(hn::Add(a, b), c);
        h = hn::Mul(hn::Xor(h, hn::ShiftRight<15>(h)), hn::Set(whole, 0x2C1B3C6D));
        h = hn::Mul(hn::Xor(h, hn::ShiftRight<12>(h)), hn::Set(whole, 0x297A2D39));
        return hn::Mul(hn::ConvertTo(d, h), hn::Set(d, 1.0F / 2147483648.0F));
    };
    const auto between = [&](V low, V high, V part) {
        return hn::MulAdd(part, hn::Sub(high, low), low);
    };
    const auto alongX = [&](I b, I c) {
        return between(valueAt(x.low, b, c), valueAt(x.high, b, c), x.fade);
    };
    const V nearZ = between(alongX(y.low, z.low), alongX(y.high, z.low), y.fade);
    const V farZ = between(alongX(y.low, z.high), alongX(y.high, z.high), y.fade);
    return between(nearZ, farZ, z.fade);
}

/// What banks add to the optical depth between two places of rays, at a density of 1: the integral of their noise times
/// densityAt(m along the ray). Steps grow with the distance from the first place, and what is finer than them fades away,
/// as it does in the integral.
template <typename D, typename V, typename At>
HWY_INLINE V bankDepth(D d, const FogBanks& banks, const V3<V>& eye, const V3<V>& way, V from, V to,
                       const At& densityAt) {
    namespace hn = hwy::HWY_NAMESPACE;
    constexpr int kSteps = 32;
    constexpr float kCells = 200.0F;  ///< farther along they average out
    constexpr float kFineness = 2.13F;
    constexpr float kFineShare = 0.5F;
    constexpr float kSpread = 1.7F;  ///< noise is seldom near its ends
    const auto set = [&](float value) { return hn::Set(d, value); };
    const float size = 1.0F / banks.perMetre;
    const V range = hn::Max(hn::Min(hn::Sub(to, from), set(kCells * size)), hn::Zero(d));
    // t = from + range (e^(a u) - 1) / (e^a - 1), with a so that the first step is a third of a bank.
    const V ratio = hn::Max(hn::Mul(range, set(3.0F * banks.perMetre / kSteps)), set(1.01F));
    const V log = hn::Log(d, ratio);
    const V a = hn::Max(hn::Add(log, hn::Log(d, hn::Add(log, set(1.0F)))), set(0.02F));
    const V whole = hn::Sub(hn::Exp(d, a), set(1.0F));
    const V scale = hn::Div(range, whole);
    const V growth = hn::Exp(d, hn::Mul(a, set(1.0F / kSteps)));
    V power = hn::Exp(d, hn::Mul(a, set(0.5F / kSteps)));
    const V stepScale = hn::Mul(hn::Mul(scale, a), set(1.0F / kSteps));
    const V perRange = hn::Div(set(1.0F), set(kCells * size));
    V sum = hn::Zero(d);
    for (int i = 0; i < kSteps; ++i) {
        const V ahead = hn::Mul(scale, hn::Sub(power, set(1.0F)));
        const V along = hn::Add(from, ahead);
        const V step = hn::Mul(stepScale, power);
        power = hn::Mul(power, growth);
        const auto cell = [&](V origin, V direction, float drifted) {
            return hn::Mul(hn::Sub(hn::MulAdd(direction, along, origin), set(drifted)),
                           set(banks.perMetre));
        };
        const V3<V> at{cell(eye.x, way.x, banks.drifted.x), cell(eye.y, way.y, banks.drifted.y),
                       cell(eye.z, way.z, banks.drifted.z)};
        const V3<V> fine{hn::MulAdd(at.x, set(kFineness), set(17.3F)),
                         hn::MulAdd(at.y, set(kFineness), set(5.7F)),
                         hn::MulAdd(at.z, set(kFineness), set(9.1F))};
        const V cells = hn::Div(set(size), step);
        const V coarsePart = hn::Min(cells, set(1.0F));
        const V finePart =
            hn::Mul(hn::Min(hn::Mul(cells, set(1.0F / kFineness)), set(1.0F)), set(kFineShare));
        V noise =
            hn::MulAdd(latticeNoise(d, fine), finePart, hn::Mul(latticeNoise(d, at), coarsePart));
        noise = hn::Mul(noise, set(kSpread / (1.0F + kFineShare)));
        noise = hn::Min(hn::Max(noise, set(-1.0F)), set(1.0F));
        // Odd, so that the mean stays 0.
        noise = hn::Mul(noise, hn::NegMulAdd(hn::Mul(noise, noise), set(0.5F), set(1.5F)));
        const V far = hn::Mul(ahead, perRange);
        const V fading = hn::NegMulAdd(far, far, set(1.0F));
        sum = hn::MulAdd(hn::Mul(hn::Mul(noise, fading), step), densityAt(along), sum);
    }
    return hn::Mul(sum, set(banks.contrast));
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#endif
