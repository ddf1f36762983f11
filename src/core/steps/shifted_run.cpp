#include "core/steps/shifted_run.h"

#include <algorithm>

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/shifted_run.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

void addShiftedRunSimd(const ShiftedRun& run, float* sum, int count) {
    const hn::ScalableTag<float> d;
    using V = hn::Vec<decltype(d)>;
    const hn::RebindToSigned<decltype(d)> whole;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const V down = hn::Set(d, run.down);
    const V weight = hn::Set(d, run.weight);
    const auto between = [](V part, V from, V to) {
        return hn::MulAdd(part, hn::Sub(to, from), from);
    };
    int i = 0;
    for (; i + lanes <= count; i += lanes) {
        const V pixel = hn::ConvertTo(d, hn::Iota(whole, i));
        const V right =
            hn::Clamp(hn::MulAdd(pixel, hn::Set(d, run.rightPerPixel), hn::Set(d, run.right)),
                      hn::Zero(d), hn::Set(d, 1.0F));
        const V left = between(down, hn::LoadU(d, run.above + i), hn::LoadU(d, run.below + i));
        const V next =
            between(down, hn::LoadU(d, run.above + i + 1), hn::LoadU(d, run.below + i + 1));
        hn::StoreU(hn::MulAdd(weight, between(right, left, next), hn::LoadU(d, sum + i)), d,
                   sum + i);
    }
    for (; i < count; ++i) {
        const float right =
            std::clamp(run.right + static_cast<float>(i) * run.rightPerPixel, 0.0F, 1.0F);
        const float left = run.above[i] + run.down * (run.below[i] - run.above[i]);
        const float next = run.above[i + 1] + run.down * (run.below[i + 1] - run.above[i + 1]);
        sum[i] += run.weight * (left + right * (next - left));
    }
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

namespace {
HWY_EXPORT(addShiftedRunSimd);
}  // namespace

void addShiftedRun(const ShiftedRun& run, float* sum, int count) noexcept {
    HWY_DYNAMIC_DISPATCH(addShiftedRunSimd)(run, sum, count);
}

}  // namespace noctis
#endif
