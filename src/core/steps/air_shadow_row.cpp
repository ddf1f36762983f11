#include "core/steps/air_shadow_row.h"

#include <cmath>

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/air_shadow_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include "core/image/vectors-inl.h"

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

HWY_INLINE V clamped(D d, V value) {
    return hn::Min(hn::Max(value, hn::Zero(d)), hn::Set(d, 1.0F));
}

/// 1 / x by the machine's estimate and one step of Newton's: 1e-7 of it or so, at a third of a division's cost.
HWY_INLINE V inverse(D d, V x) {
    const V estimate = hn::ApproximateReciprocal(x);
    return hn::Mul(estimate, hn::NegMulAdd(x, estimate, hn::Set(d, 2.0F)));
}

HWY_INLINE V inverseRoot(D d, V x) {
    const V estimate = hn::ApproximateReciprocalSqrt(x);
    return hn::Mul(estimate, hn::NegMulAdd(hn::Mul(hn::Mul(x, hn::Set(d, 0.5F)), estimate),
                                           estimate, hn::Set(d, 1.5F)));
}

/// How much of a bin's piece of the ray is lit, by where it begins and ends as seen from the light.
struct LitPart {
    const float* blocked;
    std::ptrdiff_t planes;
    V plane;

    HWY_INLINE V at(D d, int bin, V from, V to) const {
        const V low = hn::Min(from, to);
        // An edge is never sharper than this part of its distance: neighbouring planes meet without steps.
        const V range =
            hn::Max(hn::Abs(hn::Sub(to, from)),
                    hn::Max(hn::Mul(hn::Abs(low), hn::Set(d, 0.01F)), hn::Set(d, 1e-4F)));
        // From bin to bin the ray turns to the planes at either side, as often as it is near to them.
        constexpr float kTurn = 0.618033989F;
        const float turned = kTurn * static_cast<float>(bin);
        const V aside = hn::Set(d, turned - std::floor(turned) - 0.5F);
        // Neighbouring pixels look into neighbouring planes, which lie beside one another.
        const V there =
            hn::GatherIndex(d, blocked + planes * bin, hn::NearestInt(hn::Add(plane, aside)));
        return clamped(d, hn::Mul(hn::Sub(there, low), hn::ApproximateReciprocal(range)));
    }
};

template <bool kSpot>
HWY_INLINE V lampVector(const LightReach& reach, const ScatterLaw& law, const ShadowRow& row,
                        int i) {
    const D d;
    const auto set = [&](float value) { return hn::Set(d, value); };
    const V cosine = hn::LoadU(d, row.cosine.data() + i);
    const V sine = hn::LoadU(d, row.sine.data() + i);
    const V end = hn::LoadU(d, row.end.data() + i);
    const LitPart part{reach.blocked.data(), reach.planes + 3, hn::LoadU(d, row.plane.data() + i)};
    const float last = hn::GetLane(hn::MaxOfLanes(d, end));
    const int bins = std::min(reach.bins, static_cast<int>(last) + 1);
    const V lamp = set(reach.lamp);
    // From the eye, the law of sines in the triangle of eye, lamp and place.
    const auto inverseAt = [&](std::size_t k) {
        const V sum = hn::MulAdd(sine, set(reach.second[k]), hn::Mul(cosine, set(reach.first[k])));
        return hn::Mul(lamp, inverse(d, hn::Max(sum, set(1e-6F))));
    };
    const float g = law.scatter;
    const V phaseBase = set(1.0F + g * g);
    V from = lamp;
    V sum = hn::Zero(d);
    V litSum = hn::Zero(d);
    const std::size_t middles = static_cast<std::size_t>(reach.bins) + 1;
    for (int bin = 0; bin < bins; ++bin) {
        const auto k = static_cast<std::size_t>(bin);
        const V to = hn::Mul(sine, inverseAt(k + 1));
        const V middle = inverseAt(middles + k);
        const V sinAtLamp = set(reach.first[middles + k]);
        const V cosAtLamp = set(reach.second[middles + k]);
        const V along = hn::Mul(sinAtLamp, middle);
        const V away = hn::Mul(sine, middle);
        V light = expOfLoss(d, hn::Mul(hn::Add(along, away), set(-law.density)));
        const V travel = hn::NegMulAdd(sine, sinAtLamp, hn::Mul(cosine, cosAtLamp));
        const V base = hn::NegMulAdd(travel, set(2.0F * g), phaseBase);
        const V root = inverseRoot(d, base);
        light = hn::Mul(light, hn::Mul(hn::Mul(root, root), root));
        const V near = hn::Min(hn::Mul(away, set(1.0F / law.size)), set(1.0F));
        light = hn::Mul(light, hn::Mul(near, near));
        if constexpr (kSpot) {
            const V angle = hn::MulAdd(hn::LoadU(d, row.across.data() + i), sinAtLamp,
                                       hn::Mul(hn::LoadU(d, row.towards.data() + i), cosAtLamp));
            const V t =
                clamped(d, hn::Mul(hn::Sub(angle, set(law.outerCosine)),
                                   set(1.0F / std::max(law.innerCosine - law.outerCosine, 1e-6F))));
            light = hn::Mul(light, hn::Mul(hn::Mul(t, t), hn::NegMulAdd(t, set(2.0F), set(3.0F))));
        }
        light = hn::Mul(light, clamped(d, hn::Sub(end, set(static_cast<float>(bin)))));
        sum = hn::Add(sum, light);
        litSum = hn::MulAdd(light, part.at(d, bin, from, to), litSum);
        from = to;
    }
    return hn::IfThenElse(hn::Gt(sum, hn::Zero(d)), hn::Div(litSum, sum), set(1.0F));
}

HWY_INLINE V sunVector(const LightReach& reach, const ScatterLaw& law, const ShadowRow& row,
                       int i) {
    const D d;
    const auto set = [&](float value) { return hn::Set(d, value); };
    const V cosine = hn::LoadU(d, row.cosine.data() + i);
    const V perSine = hn::Div(set(1.0F), hn::Max(hn::LoadU(d, row.sine.data() + i), set(1e-6F)));
    const V end = hn::LoadU(d, row.end.data() + i);
    const LitPart part{reach.blocked.data(), reach.planes + 3, hn::LoadU(d, row.plane.data() + i)};
    V from = hn::Zero(d);
    V clearFrom = set(1.0F);
    V lit = hn::Zero(d);
    for (int bin = 0; bin < reach.bins; ++bin) {
        if (hn::AllTrue(d, hn::Ge(from, end)))
            break;
        const V to =
            hn::Min(hn::Mul(set(reach.first[static_cast<std::size_t>(bin) + 1]), perSine), end);
        const V clearTo = expOfLoss(d, hn::Mul(to, set(-law.density)));
        lit = hn::MulAdd(
            hn::Sub(clearFrom, clearTo),
            part.at(d, bin, hn::Neg(hn::Mul(from, cosine)), hn::Neg(hn::Mul(to, cosine))), lit);
        from = to;
        clearFrom = clearTo;
    }
    // Beyond all that is seen nothing blocks it.
    lit = hn::Add(lit, hn::Sub(clearFrom, expOfLoss(d, hn::Mul(end, set(-law.density)))));
    const V all = hn::Sub(set(1.0F), expOfLoss(d, hn::Mul(end, set(-law.density))));
    return hn::IfThenElse(hn::Gt(all, hn::Zero(d)), hn::Min(hn::Div(lit, all), set(1.0F)),
                          set(1.0F));
}

void shadowRowSimd(const LightReach& reach, const ScatterLaw& law, float weight, ShadowRow& row,
                   int count) {
    const D d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    for (int i = 0; i + lanes <= count; i += lanes) {
        const V share = reach.sun  ? sunVector(reach, law, row, i)
                        : law.spot ? lampVector<true>(reach, law, row, i)
                                   : lampVector<false>(reach, law, row, i);
        float* to = row.share.data() + i;
        hn::StoreU(hn::MulAdd(share, hn::Set(d, weight), hn::LoadU(d, to)), d, to);
    }
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

HWY_EXPORT(shadowRowSimd);

void shadowRow(const LightReach& reach, const ScatterLaw& law, float weight, ShadowRow& row,
               int count) noexcept {
    HWY_DYNAMIC_DISPATCH(shadowRowSimd)(reach, law, weight, row, count);
}

}  // namespace noctis
#endif
