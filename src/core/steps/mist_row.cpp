#include "core/steps/mist_row.h"

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/mist_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include "core/steps/row_vectors-inl.h"

#include <hwy/contrib/math/math-inl.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

/// kShare: the pass is the share; kBent: half of it is not half the way.
template <bool kShare, bool kBent> HWY_INLINE V shareOf(D d, const MistRow& mist, V pass) {
    const V unit = hn::Set(d, 1.0F);
    V t = pass;
    if constexpr (!kShare)
        t = hn::Mul(hn::Sub(pass, hn::Set(d, mist.begins)), hn::Set(d, mist.perMetre));
    t = hn::Min(hn::Max(t, hn::Zero(d)), unit);
    if constexpr (kBent) {
        const V power =
            hn::Exp(d, hn::Mul(hn::Log(d, hn::Max(t, hn::Set(d, 1e-30F))), hn::Set(d, mist.power)));
        t = hn::IfThenElse(hn::Eq(t, unit), unit,
                           hn::IfThenElse(hn::Gt(t, hn::Zero(d)), power, hn::Zero(d)));
    }
    return hn::IfThenElse(hn::Eq(pass, pass), t, hn::Zero(d));
}

// The settings are a copy, so that they stay in registers whatever is written.
void mistRowSimd(MistRow mist, const float* pass, const float* alpha, float* r, float* g, float* b,
                 int count) {
    const auto lay = [&](auto share, auto bent) {
        const auto work = [&](int, const float* from, const float* covered, float* red,
                              float* green, float* blue) {
            const D d;
            const V part = shareOf<share.value, bent.value>(d, mist, hn::LoadU(d, from));
            float* const channels[3] = {red, green, blue};
            for (int c = 0; c < 3; ++c) {
                V tint = hn::Set(d, mist.tint[c]);
                if (covered != nullptr)
                    tint = hn::Mul(tint, hn::LoadU(d, covered));
                const V before = hn::LoadU(d, channels[c]);
                const V after = hn::MulAdd(hn::Sub(tint, before), part, before);
                // Where it is full nothing of what was there is left, not even an infinity.
                hn::StoreU(hn::IfThenElse(hn::Eq(part, hn::Set(d, 1.0F)), tint, after), d,
                           channels[c]);
            }
        };
        overRow(pass, alpha, r, g, b, count, work);
    };
    if (mist.isShare)
        lay(std::true_type(), std::false_type());
    else
        decided(mist.power != 1.0F, [&](auto bent) { lay(std::false_type(), bent); });
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

HWY_EXPORT(mistRowSimd);

void mistRow(const MistRow& mist, const float* pass, const float* alpha, float* r, float* g,
             float* b, int count) noexcept {
    HWY_DYNAMIC_DISPATCH(mistRowSimd)(mist, pass, alpha, r, g, b, count);
}

}  // namespace noctis
#endif
