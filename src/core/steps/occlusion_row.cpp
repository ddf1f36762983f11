#include "core/steps/occlusion_row.h"

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/occlusion_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include "core/steps/row_vectors-inl.h"

#include <hwy/contrib/math/math-inl.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

/// kShaped: by a gamma; kSpared: bright pixels are shaded less.
template <bool kShaped, bool kSpared>
HWY_INLINE void occlusionVector(const OcclusionRow& shade, const float* open, float* r, float* g,
                                float* b) {
    const D d;
    const V unit = hn::Set(d, 1.0F);
    const V pass = hn::LoadU(d, open);
    const V red = hn::LoadU(d, r);
    const V green = hn::LoadU(d, g);
    const V blue = hn::LoadU(d, b);
    V o = hn::Mul(hn::Sub(pass, hn::Set(d, shade.black)), hn::Set(d, shade.perOpen));
    o = hn::Min(hn::Max(o, hn::Zero(d)), unit);
    if constexpr (kShaped) {
        const V power = hn::Exp(
            d, hn::Mul(hn::Log(d, hn::Max(o, hn::Set(d, 1e-30F))), hn::Set(d, shade.gamma)));
        o = hn::IfThenElse(hn::Gt(o, hn::Zero(d)), power, hn::Zero(d));
    }
    V strength = hn::Set(d, shade.strength);
    if constexpr (kSpared) {
        const auto weight = [&](float share) { return hn::Set(d, share * shade.perBright); };
        const V light =
            hn::MulAdd(red, weight(0.2126F),
                       hn::MulAdd(green, weight(0.7152F), hn::Mul(blue, weight(0.0722F))));
        const V x = hn::Min(hn::Max(light, hn::Zero(d)), unit);
        const V smooth =
            hn::Mul(hn::Mul(x, x), hn::NegMulAdd(hn::Set(d, 2.0F), x, hn::Set(d, 3.0F)));
        strength = hn::NegMulAdd(strength, smooth, strength);
    }
    const V closed =
        hn::IfThenElse(hn::Eq(pass, pass), hn::Mul(hn::Sub(unit, o), strength), hn::Zero(d));
    const auto lay = [&](V colour, float tint, float* to) {
        hn::StoreU(hn::Mul(colour, hn::NegMulAdd(closed, hn::Set(d, 1.0F - tint), unit)), d, to);
    };
    lay(red, shade.tint[0], r);
    lay(green, shade.tint[1], g);
    lay(blue, shade.tint[2], b);
}

// The settings are a copy, so that they stay in registers whatever is written.
void occlusionRowSimd(OcclusionRow shade, const float* open, float* r, float* g, float* b,
                      int count) {
    decided(shade.gamma != 1.0F, [&](auto shaped) {
        decided(shade.perBright > 0.0F, [&](auto spared) {
            overRow(
                open, nullptr, r, g, b, count,
                [&](int, const float* pass, const float*, float* red, float* green, float* blue) {
                    occlusionVector<shaped.value, spared.value>(shade, pass, red, green, blue);
                });
        });
    });
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

HWY_EXPORT(occlusionRowSimd);

void occlusionRow(const OcclusionRow& shade, const float* open, float* r, float* g, float* b,
                  int count) noexcept {
    HWY_DYNAMIC_DISPATCH(occlusionRowSimd)(shade, open, r, g, b, count);
}

}  // namespace noctis
#endif
