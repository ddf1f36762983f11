#include "core/steps/occlusion_row.h"

#include <algorithm>

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/occlusion_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include <hwy/contrib/math/math-inl.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

void occlusionVector(const OcclusionRow& shade, const float* open, float* r, float* g, float* b) {
    const D d;
    const V unit = hn::Set(d, 1.0F);
    const V pass = hn::LoadU(d, open);
    const V red = hn::LoadU(d, r);
    const V green = hn::LoadU(d, g);
    const V blue = hn::LoadU(d, b);
    V o = hn::Mul(hn::Sub(pass, hn::Set(d, shade.black)), hn::Set(d, shade.perOpen));
    o = hn::Min(hn::Max(o, hn::Zero(d)), unit);
    if (shade.gamma != 1.0F) {
        const V power = hn::Exp(
            d, hn::Mul(hn::Log(d, hn::Max(o, hn::Set(d, 1e-30F))), hn::Set(d, shade.gamma)));
        o = hn::IfThenElse(hn::Gt(o, hn::Zero(d)), power, hn::Zero(d));
    }
    V strength = hn::Set(d, shade.strength);
    if (shade.perBright > 0.0F) {
        const V light =
            hn::MulAdd(red, hn::Set(d, 0.2126F),
                       hn::MulAdd(green, hn::Set(d, 0.7152F), hn::Mul(blue, hn::Set(d, 0.0722F))));
        const V x =
            hn::Min(hn::Max(hn::Mul(light, hn::Set(d, shade.perBright)), hn::Zero(d)), unit);
        const V smooth = hn::Mul(hn::Mul(x, x), hn::Sub(hn::Set(d, 3.0F), hn::Add(x, x)));
        strength = hn::Mul(strength, hn::Sub(unit, smooth));
    }
    const V closed =
        hn::IfThenElse(hn::Eq(pass, pass), hn::Mul(hn::Sub(unit, o), strength), hn::Zero(d));
    const auto lay = [&](V colour, float tint, float* to) {
        hn::StoreU(hn::Mul(colour, hn::Sub(unit, hn::Mul(closed, hn::Set(d, 1.0F - tint)))), d, to);
    };
    lay(red, shade.tint[0], r);
    lay(green, shade.tint[1], g);
    lay(blue, shade.tint[2], b);
}

void occlusionRowSimd(const OcclusionRow& shade, const float* open, float* r, float* g, float* b,
                      int count) {
    const D d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    int i = 0;
    for (; i + lanes <= count; i += lanes)
        occlusionVector(shade, open + i, r + i, g + i, b + i);
    if (i < count) {
        constexpr std::size_t kMost = HWY_MAX_BYTES / sizeof(float);
        HWY_ALIGN float rest[4][kMost] = {};
        const float* from[4] = {open, r, g, b};
        for (int c = 0; c < 4; ++c)
            std::copy(from[c] + i, from[c] + count, rest[c]);
        occlusionVector(shade, rest[0], rest[1], rest[2], rest[3]);
        std::copy(rest[1], rest[1] + (count - i), r + i);
        std::copy(rest[2], rest[2] + (count - i), g + i);
        std::copy(rest[3], rest[3] + (count - i), b + i);
    }
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
