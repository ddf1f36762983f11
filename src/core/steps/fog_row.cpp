#include "core/steps/fog_row.h"

#include <cmath>

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/fog_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include "core/steps/fog_banks-inl.h"
#include "core/steps/row_vectors-inl.h"

#include <hwy/contrib/math/math-inl.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

/// Far enough to stand for all the way to where nothing is hit, m.
constexpr float kFar = 1e7F;

HWY_INLINE V expWithin(D d, V x) {
    return hn::Exp(d, hn::Min(hn::Max(x, hn::Set(d, -87.0F)), hn::Set(d, 87.0F)));
}

/// The integral of exp(-k t) over a way of length x: (1 - exp(-k x)) / k, which is x where k x is small. k x may be
/// infinite.
HWY_INLINE V fallingIntegral(D d, V k, V x) {
    const V kx = hn::Mul(k, x);
    const V small =
        hn::Mul(x, hn::MulAdd(kx, hn::MulAdd(kx, hn::Set(d, 1.0F / 6.0F), hn::Set(d, -0.5F)),
                              hn::Set(d, 1.0F)));
    const V large = hn::Div(hn::Sub(hn::Set(d, 1.0F), expWithin(d, hn::Neg(kx))), k);
    return hn::IfThenElse(hn::Lt(hn::Abs(kx), hn::Set(d, 0.02F)), small, large);
}

/// The integral of t exp(-k t) over a way of length x, k of 0 or more: (1 - exp(-k x) (1 + k x)) / k^2.
HWY_INLINE V fallingMoment(D d, V k, V x) {
    const V kx = hn::Mul(k, x);
    V series = hn::Set(d, 1.0F / 5760.0F);
    for (const float term :
         {-1.0F / 840.0F, 1.0F / 144.0F, -1.0F / 30.0F, 1.0F / 8.0F, -1.0F / 3.0F, 0.5F})
        series = hn::MulAdd(series, kx, hn::Set(d, term));
    const V large = hn::Div(
        hn::NegMulAdd(expWithin(d, hn::Neg(kx)), hn::Add(kx, hn::Set(d, 1.0F)), hn::Set(d, 1.0F)),
        hn::Mul(k, k));
    return hn::IfThenElse(hn::Lt(kx, hn::Set(d, 0.5F)), hn::Mul(series, hn::Mul(x, x)), large);
}

/// Air between two heights, looked through along rays.
template <bool kFalls> struct Layer {
    const FogRow& fog;
    V eye;  ///< height where the ray begins
    V up;   ///< of each m along it
    V perSoft;

    /// The density there as a part of that at the level, without the soft top.
    HWY_INLINE V falling(D d, V height) const {
        if constexpr (!kFalls)
            return hn::Set(d, 1.0F);
        return expWithin(
            d, hn::Mul(hn::Sub(hn::Set(d, fog.level), height), hn::Set(d, fog.inverseScale)));
    }
    HWY_INLINE V lowest(V from, V to) const {
        return hn::Add(eye, hn::Min(hn::Mul(up, from), hn::Mul(up, to)));
    }
    /// Optical depth at density 1, from the denser end so that it never overflows.
    HWY_INLINE V evenPart(D d, V from, V to) const {
        const V length = hn::Max(hn::Sub(to, from), hn::Zero(d));
        if constexpr (!kFalls)
            return length;
        const V rate = hn::Mul(hn::Abs(up), hn::Set(d, fog.inverseScale));
        return hn::Mul(falling(d, lowest(from, to)), fallingIntegral(d, rate, length));
    }
    HWY_INLINE V softPart(D d, V from, V to) const {
        const V length = hn::Max(hn::Sub(to, from), hn::Zero(d));
        const V low = lowest(from, to);
        const V most = hn::Mul(hn::Sub(hn::Set(d, fog.top), low), perSoft);
        const V fall = hn::Mul(hn::Abs(up), perSoft);
        if constexpr (!kFalls)
            return hn::Mul(length, hn::NegMulAdd(hn::Mul(fall, length), hn::Set(d, 0.5F), most));
        const V rate = hn::Mul(hn::Abs(up), hn::Set(d, fog.inverseScale));
        const V sum = hn::NegMulAdd(fall, fallingMoment(d, rate, length),
                                    hn::Mul(most, fallingIntegral(d, rate, length)));
        return hn::IfThenElseZero(hn::Gt(length, hn::Zero(d)), hn::Mul(falling(d, low), sum));
    }
    HWY_INLINE V at(D d, V along) const {
        const V height = hn::MulAdd(up, along, eye);
        const V soft =
            hn::Min(hn::Max(hn::Mul(hn::Sub(hn::Set(d, fog.top), height), perSoft), hn::Zero(d)),
                    hn::Set(d, 1.0F));
        return hn::Mul(fog.softTop > 0.0F ? soft : hn::Set(d, 1.0F), falling(d, height));
    }
};

/// The optical depth from the start to so far away, by rays.
template <bool kFalls> HWY_INLINE V layerDepth(D d, const FogRow& fog, V index, V seen) {
    const auto of = [&](float first, float step) {
        return hn::MulAdd(index, hn::Set(d, step), hn::Set(d, first));
    };
    const RowOfRays& rays = fog.rays;
    const V3<V> way{of(rays.way.x, rays.step.x), of(rays.way.y, rays.step.y),
                    of(rays.way.z, rays.step.z)};
    const V length =
        hn::Sqrt(hn::MulAdd(way.x, way.x, hn::MulAdd(way.y, way.y, hn::Mul(way.z, way.z))));
    const V eye = of(rays.origin.y, rays.aside.y);
    const V up = hn::Div(way.y, length);
    const V start = hn::Set(d, fog.start);
    const V end = hn::Max(hn::Min(seen, hn::Set(d, kFar)), start);
    const Layer<kFalls> layer{fog, eye, up,
                              hn::Set(d, fog.softTop > 0.0F ? 1.0F / fog.softTop : 0.0F)};
    // Where the ray crosses a height; a level one does so far away.
    const V slope = hn::CopySign(hn::Max(hn::Abs(up), hn::Set(d, 1e-9F)), up);
    const auto crossing = [&](float height) {
        return hn::Div(hn::Sub(hn::Set(d, height), eye), slope);
    };
    const V low = crossing(fog.bottom);
    const V middle = crossing(fog.top - fog.softTop);
    const V high = crossing(fog.top);
    const auto from = [&](V a, V b) { return hn::Max(start, hn::Min(a, b)); };
    const auto to = [&](V a, V b) { return hn::Min(end, hn::Max(a, b)); };
    V depth = layer.evenPart(d, from(low, middle), to(low, middle));
    if (fog.softTop > 0.0F)
        depth =
            hn::Add(depth, layer.softPart(d, from(hn::Max(low, middle), high), to(middle, high)));
    if (fog.banks.perMetre > 0.0F) {
        const V3<V> eyes{of(rays.origin.x, rays.aside.x), eye, of(rays.origin.z, rays.aside.z)};
        const V3<V> unit{hn::Div(way.x, length), up, hn::Div(way.z, length)};
        depth = hn::Add(depth, bankDepth(d, fog.banks, eyes, unit, from(low, high), to(low, high),
                                         [&](V along) { return layer.at(d, along); }));
    }
    return hn::Max(depth, hn::Zero(d));
}

enum class Air { Even, Falling, Layers, FallingLayers };

template <Air kAir>
HWY_INLINE void fogVector(const FogRow& fog, V index, const float* distance, const float* alpha,
                          float* r, float* g, float* b) {
    const D d;
    const V metres = hn::LoadU(d, distance);
    const V seen =
        hn::IfThenElse(hn::Eq(metres, hn::Set(d, INFINITY)), hn::Set(d, fog.sky), metres);
    // An invalid distance counts as none and leaves its pixel alone.
    const V start = hn::Set(d, fog.start);
    V depth = hn::IfThenElseZero(hn::Gt(seen, start), hn::Sub(seen, start));
    if constexpr (kAir == Air::Falling) {
        const auto of = [&](float first, float step) {
            return hn::MulAdd(index, hn::Set(d, step), hn::Set(d, first));
        };
        const RowOfRays& rays = fog.rays;
        const V x = of(rays.way.x, rays.step.x);
        const V y = of(rays.way.y, rays.step.y);
        const V z = of(rays.way.z, rays.step.z);
        const V length = hn::Sqrt(hn::MulAdd(x, x, hn::MulAdd(y, y, hn::Mul(z, z))));
        const V rate = hn::Mul(hn::Div(y, length), hn::Set(d, fog.inverseScale));
        const V far = hn::Min(depth, hn::Set(d, kFar));
        const V atStart =
            expWithin(d, hn::NegMulAdd(rate, start,
                                       hn::Set(d, (fog.level - rays.origin.y) * fog.inverseScale)));
        depth = hn::Mul(atStart, fallingIntegral(d, rate, far));
    } else if constexpr (kAir != Air::Even) {
        depth = hn::IfThenElseZero(hn::Gt(seen, start),
                                   layerDepth<kAir == Air::FallingLayers>(d, fog, index, seen));
    }
    const V clear = expOfLoss(d, hn::Mul(depth, hn::Set(d, -fog.density)));
    const auto lay = [&](float* channel, float tint) {
        V fogged = hn::Set(d, tint);
        if (alpha != nullptr)
            fogged = hn::Mul(fogged, hn::LoadU(d, alpha));
        hn::StoreU(hn::MulAdd(hn::Sub(hn::LoadU(d, channel), fogged), clear, fogged), d, channel);
    };
    lay(r, fog.colour.r);
    lay(g, fog.colour.g);
    lay(b, fog.colour.b);
}

template <Air kAir>
HWY_INLINE void fogOver(const FogRow& fog, const float* distance, const float* alpha, float* r,
                        float* g, float* b, int count) {
    overRow(distance, alpha, r, g, b, count,
            [&](int first, const float* metres, const float* covered, float* red, float* green,
                float* blue) {
                fogVector<kAir>(fog, hn::Iota(D(), static_cast<float>(first)), metres, covered, red,
                                green, blue);
            });
}

// The settings are a copy, so that they stay in registers whatever is written.
void fogRowSimd(FogRow fog, const float* distance, const float* alpha, float* r, float* g, float* b,
                int count) {
    const bool falls = fog.inverseScale > 0.0F;
    // Rays of a parallel view begin at different heights.
    const bool layered = fog.banks.perMetre > 0.0F || std::isfinite(fog.bottom) ||
                         std::isfinite(fog.top) || (falls && fog.rays.aside.y != 0.0F);
    if (layered && falls)
        fogOver<Air::FallingLayers>(fog, distance, alpha, r, g, b, count);
    else if (layered)
        fogOver<Air::Layers>(fog, distance, alpha, r, g, b, count);
    else if (falls)
        fogOver<Air::Falling>(fog, distance, alpha, r, g, b, count);
    else
        fogOver<Air::Even>(fog, distance, alpha, r, g, b, count);
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
