#include "core/criteria/band_row.h"

#include <algorithm>
#include <limits>

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/criteria/band_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

HWY_INLINE V partOf(D d, const BandRow& band, V value) {
    const V unit = hn::Set(d, 1.0F);
    // Finite, so that an open end makes no number out of infinity times 0.
    const V most = hn::Set(d, std::numeric_limits<float>::max());
    const V finite = hn::Min(hn::Max(value, hn::Neg(most)), most);
    const V low = hn::MulAdd(hn::Sub(finite, hn::Set(d, band.from)), hn::Set(d, band.fromPerUnit),
                             hn::Set(d, band.fromBias));
    const V high = hn::MulAdd(hn::Sub(hn::Set(d, band.to), finite), hn::Set(d, band.toPerUnit),
                              hn::Set(d, band.toBias));
    const V part = hn::Min(hn::Max(hn::Min(low, high), hn::Zero(d)), unit);
    return hn::IfThenElse(hn::Eq(value, value), part, hn::Zero(d));
}

void bandRowSimd(const BandRow& band, const float* values, float* mask, int count) {
    const D d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    int i = 0;
    for (; i + lanes <= count; i += lanes)
        hn::StoreU(partOf(d, band, hn::LoadU(d, values + i)), d, mask + i);
    if (i >= count)
        return;
    HWY_ALIGN float rest[HWY_MAX_BYTES / sizeof(float)] = {};
    std::copy(values + i, values + count, rest);
    hn::StoreU(partOf(d, band, hn::LoadU(d, rest)), d, rest);
    std::copy(rest, rest + (count - i), mask + i);
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

HWY_EXPORT(bandRowSimd);

void bandRow(const BandRow& band, const float* values, float* mask, int count) noexcept {
    HWY_DYNAMIC_DISPATCH(bandRowSimd)(band, values, mask, count);
}

}  // namespace noctis
#endif
