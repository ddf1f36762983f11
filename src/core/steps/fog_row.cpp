#include "core/steps/fog_row.h"

#include <cmath>

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/fog_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include "core/steps/row_vectors-inl.h"

#include <hwy/contrib/math/math-inl.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

/// The integral of exp(-u) over a way of length x at rate k, over the way: (1 - exp(-k x)) / k,
/// which is x where k x is small. k x may be infinite.
HWY_INLINE V heightIntegral(D d, V k, V x) {
    const V kx = hn::Mul(k, x);
    const V small =
        hn::Mul(x, hn::MulAdd(kx, hn::MulAdd(kx, hn::Set(d, 1.0F / 6.0F), hn::Set(d, -0.5F)),
                              hn::Set(d, 1.0F)));
    const V bounded = hn::Min(hn::Max(hn::Neg(kx), hn::Set(d, -87.0F)), hn::Set(d, 87.0F));
    const V large = hn::Div(hn::Sub(hn::Set(d, 1.0F), hn::Exp(d, bounded)), k);
    return hn::IfThenElse(hn::Lt(hn::Abs(kx), hn::Set(d, 0.02F)), small, large);
}

/// kFalls: the air thins out with height.
template <bool kFalls>
HWY_INLINE void fogVector(const FogRow& fog, V index, const float* distance, const float* alpha,
                          float* r, float* g, float* b) {
    const D d;
    const V metres = hn::LoadU(d, distance);
    const V seen =
        hn::IfThenElse(hn::Eq(metres, hn::Set(d, INFINITY)), hn::Set(d, fog.sky), metres);
    // An invalid distance counts as none and leaves its pixel alone.
    const V start = hn::Set(d, fog.start);
    const V way = hn::IfThenElseZero(hn::Gt(seen, start), hn::Sub(seen, start));
    V loss = hn::Mul(way, hn::Set(d, -fog.density));
    if constexpr (kFalls) {
        const V across = hn::Mul(hn::Add(index, hn::Set(d, fog.side)), hn::Set(d, fog.sideStep));
        const V up = hn::Div(hn::MulAdd(index, hn::Set(d, fog.upStep), hn::Set(d, fog.up)),
                             hn::Sqrt(hn::MulAdd(across, across, hn::Set(d, fog.length2))));
        const V rate = hn::Mul(up, hn::Set(d, fog.inverseScale));
        // Far enough to stand for all the way to where nothing is hit.
        const V far = hn::Min(way, hn::Set(d, 1e7F));
        const V atStart = hn::Exp(
            d, hn::Min(hn::Max(hn::Mul(hn::Neg(rate), hn::Set(d, fog.start)), hn::Set(d, -87.0F)),
                       hn::Set(d, 87.0F)));
        loss = hn::Mul(hn::Mul(hn::Set(d, -fog.density), atStart), heightIntegral(d, rate, far));
    }
    const V clear = expOfLoss(d, loss);
    const auto lay = [&](float* channel, float tint) {
        V fogged = hn::Set(d, tint);
        if (alpha != nullptr)
            fogged = hn::Mul(fogged, hn::LoadU(d, alpha));
        hn::StoreU(hn::MulAdd(hn::Sub(hn::LoadU(d, channel), fogged), clear, fogged), d, channel);
    };
    lay(r, fog.r);
    lay(g, fog.g);
    lay(b, fog.b);
}

// The settings are a copy, so that they stay in registers whatever is written.
void fogRowSimd(FogRow fog, const float* distance, const float* alpha, float* r, float* g, float* b,
                int count) {
    decided(fog.inverseScale > 0.0F, [&](auto falls) {
        overRow(distance, alpha, r, g, b, count,
                [&](int first, const float* metres, const float* covered, float* red, float* green,
                    float* blue) {
                    fogVector<falls.value>(fog, hn::Iota(D(), static_cast<float>(first)), metres,
                                           covered, red, green, blue);
                });
    });
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

HWY_EXPORT(fogRowSimd);

void fogRow(const FogRow& fog, const float* distance, const float* alpha, float* r, float* g,
            float* b, int count) noexcept {
    HWY_DYNAMIC_DISPATCH(fogRowSimd)(fog, distance, alpha, r, g, b, count);
}

}  // namespace noctis
#endif
