#include "core/recipe/run_copy.h"

#include <algorithm>

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/recipe/run_copy.cpp"
#include <hwy/cache_control.h>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

void fetchRunSimd(const float* from, float* to, int count) {
    const hn::ScalableTag<float> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    int i = 0;
    for (; i + lanes <= count; i += lanes) {
        hwy::Prefetch(from + i + count);
        hn::Store(hn::LoadU(d, from + i), d, to + i);
    }
    std::copy(from + i, from + std::max(i, count), to + i);
}

void streamRunSimd(const float* from, float* to, int count) {
    const hn::ScalableTag<float> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    int i = 0;
    for (; i + lanes <= count; i += lanes)
        hn::Stream(hn::Load(d, from + i), d, to + i);
    std::copy(from + i, from + std::max(i, count), to + i);
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

HWY_EXPORT(fetchRunSimd);
HWY_EXPORT(streamRunSimd);

void fetchRun(const float* from, float* to, int count) noexcept {
    HWY_DYNAMIC_DISPATCH(fetchRunSimd)(from, to, count);
}
void streamRun(const float* from, float* to, int count) noexcept {
    HWY_DYNAMIC_DISPATCH(streamRunSimd)(from, to, count);
}
void flushRuns() noexcept { hwy::FlushStream(); }

}  // namespace noctis
#endif
