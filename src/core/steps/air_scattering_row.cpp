#include "core/steps/air_scattering_row.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/air_scattering_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include "core/image/vectors-inl.h"

#include <hwy/contrib/math/math-inl.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;
using DI = hn::RebindToSigned<D>;
using I = hn::Vec<DI>;

HWY_INLINE V set(float value) { return hn::Set(D(), value); }

struct Three {
    V x;
    V y;
    V z;
    [[nodiscard]] HWY_INLINE V dot(const Three& o) const {
        return hn::MulAdd(x, o.x, hn::MulAdd(y, o.y, hn::Mul(z, o.z)));
    }
};

HWY_INLINE Three along(const V3f& first, const V3f& step, V index) {
    return {hn::MulAdd(index, set(step.x), set(first.x)),
            hn::MulAdd(index, set(step.y), set(first.y)),
            hn::MulAdd(index, set(step.z), set(first.z))};
}

HWY_INLINE Three same(const V3f& v) { return {set(v.x), set(v.y), set(v.z)}; }

/// The table's two rows about a u, and how far it lies between them.
class Lookup {
public:
    HWY_INLINE Lookup(const ScatterRow& row, V u) : m_row(row) {
        const D d;
        const DI whole;
        const V bounded = hn::Min(hn::Max(u, set(row.leastU)), set(row.mostU));
        // A float's bits go up with its logarithm: straight within each octave, as rows do.
        const I bits = hn::Sub(hn::BitCast(whole, bounded),
                               hn::Set(whole, std::bit_cast<std::int32_t>(row.leastU)));
        const I number =
            hn::Min(hn::ShiftRight<kScatterRowBits>(bits), hn::Set(whole, row.rows - 2));
        m_part = hn::Mul(hn::ConvertTo(d, hn::Sub(bits, hn::ShiftLeft<kScatterRowBits>(number))),
                         set(1.0F / static_cast<float>(1 << kScatterRowBits)));
        m_start = hn::Mul(number, hn::Set(whole, row.columns + 1));
    }
    /// q: -1 to 1.
    [[nodiscard]] HWY_INLINE V at(V q) const {
        const D d;
        const DI whole;
        const V place = hn::Min(
            hn::Max(hn::Mul(hn::Add(q, set(1.0F)), set(0.5F * static_cast<float>(m_row.columns))),
                    hn::Zero(d)),
            set(static_cast<float>(m_row.columns) - 0.001F));
        const I column = hn::ConvertTo(whole, place);
        const V between = hn::Sub(place, hn::ConvertTo(d, column));
        const I index = hn::Add(m_start, column);
        const auto row = [&](const float* values) {
            const V low = hn::GatherIndex(d, values, index);
            const V high = hn::GatherIndex(d, values + 1, index);
            return hn::MulAdd(between, hn::Sub(high, low), low);
        };
        const V here = row(m_row.table);
        const V next = row(m_row.table + m_row.columns + 1);
        return hn::MulAdd(m_part, hn::Sub(next, here), here);
    }

private:
    const ScatterRow& m_row;
    V m_part;
    I m_start;
};

/// tan(a / 2)
HWY_INLINE V halfTangent(V sine, V cosine) {
    return hn::Div(sine, hn::Add(set(1.0F), hn::Max(cosine, set(0.0F))));
}

/// A spot's edge from one angle at the lamp to another, by Gauss and Legendre's nodes; u: sigma times the ray's distance
/// from the lamp.
HWY_INLINE V edgeOf(const ScatterRow& row, V u, V across, V forward, V from, V to) {
    const D d;
    constexpr float kNodes[3] = {0.2386191861F, 0.6612093865F, 0.9324695142F};
    constexpr float kWeights[3] = {0.4679139346F, 0.3607615730F, 0.1713244924F};
    const V half = hn::Mul(hn::Max(hn::Sub(to, from), hn::Zero(d)), set(0.5F));
    const V middle = hn::Add(from, half);
    const V sine = hn::Sin(d, middle);
    const V cosine = hn::Cos(d, middle);
    const float g = row.scatter;
    const V perAngle = set(1.0F / std::max(row.outer - row.inner, 1e-6F));
    const auto lightAt = [&](V sin, V cos) {
        const V toAxis = hn::MulAdd(across, cos, hn::Mul(forward, sin));
        const V angle = hn::Acos(d, hn::Min(hn::Max(toAxis, set(-1.0F)), set(1.0F)));
        const V t = hn::Min(hn::Max(hn::Mul(hn::Sub(set(row.outer), angle), perAngle), hn::Zero(d)),
                            set(1.0F));
        const V share = hn::Mul(hn::Mul(t, t), hn::NegMulAdd(t, set(2.0F), set(3.0F)));
        const V base = hn::Max(hn::MulAdd(sin, set(2.0F * g), set(1.0F + g * g)), set(1e-6F));
        const V way = hn::Div(hn::Add(set(1.0F), sin), hn::Max(cos, set(1e-6F)));
        return hn::Div(hn::Mul(share, expOfLoss(d, hn::Neg(hn::Mul(u, way)))),
                       hn::Mul(base, hn::Sqrt(base)));
    };
    V sum = hn::Zero(d);
    for (int k = 0; k < 3; ++k) {
        const V aside = hn::Mul(half, set(kNodes[k]));
        const V sinAside = hn::Sin(d, aside);
        const V cosAside = hn::Cos(d, aside);
        const V a = hn::Mul(sine, cosAside);
        const V b = hn::Mul(cosine, sinAside);
        const V c = hn::Mul(cosine, cosAside);
        const V e = hn::Mul(sine, sinAside);
        const V both =
            hn::Add(lightAt(hn::Add(a, b), hn::Sub(c, e)), lightAt(hn::Sub(a, b), hn::Add(c, e)));
        sum = hn::MulAdd(both, set(kWeights[k]), sum);
    }
    return hn::Mul(sum, hn::Mul(half, set((1.0F - g * g) / (4.0F * 3.14159265F))));
}

/// Of a spot between two angles at the lamp.
HWY_INLINE V spotOf(const ScatterRow& row, const Lookup& table, V u, V across, V forward, V from,
                    V to) {
    const D d;
    const V scale =
        hn::Max(hn::Sqrt(hn::MulAdd(across, across, hn::Mul(forward, forward))), set(1e-6F));
    // The angle that is nearest to the axis; atan2(forward, across).
    const V quarter = hn::Asin(d, hn::Min(hn::Max(hn::Div(forward, scale), set(-1.0F)), set(1.0F)));
    constexpr float kPi = 3.14159265F;
    const V middle = hn::IfThenElse(hn::Lt(across, hn::Zero(d)),
                                    hn::Sub(hn::CopySign(set(kPi), quarter), quarter), quarter);
    const auto reach = [&](float cosine) {
        return hn::Acos(d, hn::Min(hn::Max(hn::Div(set(cosine), scale), set(-1.0F)), set(1.0F)));
    };
    const V inner = reach(row.innerCosine);
    const V outer = reach(row.outerCosine);
    const auto within = [&](V angle) { return hn::Min(hn::Max(angle, from), to); };
    const V a = within(hn::Sub(middle, outer));
    const V b = within(hn::Sub(middle, inner));
    const V c = within(hn::Add(middle, inner));
    const V e = within(hn::Add(middle, outer));
    const auto at = [&](V angle) {
        return table.at(halfTangent(hn::Sin(d, angle), hn::Cos(d, angle)));
    };
    const V core = hn::Sub(at(c), at(b));
    const V lit = hn::Add(core, hn::Add(edgeOf(row, u, across, forward, a, b),
                                        edgeOf(row, u, across, forward, c, e)));
    return hn::IfThenElseZero(hn::Gt(scale, set(row.outerCosine)), lit);
}

template <bool kSpot>
HWY_INLINE V lampVector(const ScatterRow& row, const Three& eye, const Three& way, V distance) {
    const D d;
    const Three lamp = same(row.lamp);
    const Three toLamp{hn::Sub(lamp.x, eye.x), hn::Sub(lamp.y, eye.y), hn::Sub(lamp.z, eye.z)};
    const V t0 = toLamp.dot(way);
    const Three away{hn::MulSub(way.x, t0, toLamp.x), hn::MulSub(way.y, t0, toLamp.y),
                     hn::MulSub(way.z, t0, toLamp.z)};
    const V b2 = away.dot(away);
    const V b = hn::Max(hn::Sqrt(b2), set(1e-6F));
    const V farthest = hn::Add(
        hn::Max(t0, hn::Zero(d)),
        hn::Max(set(20.0F / row.sigma), hn::Mul(set(100.0F), hn::Sqrt(toLamp.dot(toLamp)))));
    const V end = hn::Min(distance, farthest);
    const V u = hn::Mul(b, set(row.sigma));
    const Lookup table(row, u);
    V lit;
    if constexpr (kSpot) {
        const Three axis = same(row.axis);
        const V across = hn::Div(axis.dot(away), b);
        const V forward = axis.dot(way);
        // atan(x) of either sign.
        const auto angleAt = [&](V t) { return hn::Atan(d, hn::Div(hn::Sub(t, t0), b)); };
        lit = spotOf(row, table, u, across, forward, angleAt(hn::Zero(d)), angleAt(end));
    } else {
        const auto half = [&](V t) {
            const V place = hn::Sub(t, t0);
            return hn::Div(place, hn::Add(hn::Sqrt(hn::MulAdd(place, place, b2)), b));
        };
        lit = hn::Sub(table.at(half(end)), table.at(half(hn::Zero(d))));
    }
    const V light =
        hn::Mul(lit, hn::Mul(hn::Div(set(row.sigma), b), hn::Exp(d, hn::Mul(t0, set(-row.sigma)))));
    // Too close to the lamp, or away from it, where the table's ends lie too close together.
    const auto said =
        hn::And(hn::Ge(b, set(row.close)), hn::Gt(t0, hn::Max(hn::Neg(b), set(-1.0F / row.sigma))));
    return hn::IfThenElse(hn::Gt(distance, hn::Zero(d)),
                          hn::IfThenElse(said, light, set(std::numeric_limits<float>::quiet_NaN())),
                          hn::Zero(d));
}

HWY_INLINE V sunVector(const ScatterRow& row, const Three& way, V distance) {
    const D d;
    const V cosine = hn::Neg(same(row.axis).dot(way));
    const float g = row.scatter;
    const V base = hn::Max(hn::NegMulAdd(cosine, set(2.0F * g), set(1.0F + g * g)), set(1e-6F));
    const V phase =
        hn::Div(set((1.0F - g * g) / (4.0F * 3.14159265F)), hn::Mul(base, hn::Sqrt(base)));
    const V depth = hn::Mul(distance, set(row.sigma));
    const V taken = hn::IfThenElse(hn::Gt(depth, set(1e-3F)),
                                   hn::Sub(set(1.0F), expOfLoss(d, hn::Neg(depth))), depth);
    return hn::Mul(phase, hn::IfThenElseZero(hn::Gt(distance, hn::Zero(d)), taken));
}

void scatterRowSimd(const ScatterRow& row, const RowOfRays& rays, const float* distance,
                    float* light, int count) {
    const D d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    for (int i = 0; i + lanes <= count; i += lanes) {
        const V index = hn::Iota(d, static_cast<float>(i));
        Three way = along(rays.way, rays.step, index);
        const V perLength = hn::Div(set(1.0F), hn::Sqrt(way.dot(way)));
        way = {hn::Mul(way.x, perLength), hn::Mul(way.y, perLength), hn::Mul(way.z, perLength)};
        const V metres = hn::LoadU(d, distance + i);
        V lit;
        if (row.sun)
            lit = sunVector(row, way, metres);
        else if (row.spot)
            lit = lampVector<true>(row, along(rays.origin, rays.aside, index), way, metres);
        else
            lit = lampVector<false>(row, along(rays.origin, rays.aside, index), way, metres);
        hn::StoreU(lit, d, light + i);
    }
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

HWY_EXPORT(scatterRowSimd);

void scatterRow(const ScatterRow& row, const RowOfRays& rays, const float* distance, float* light,
                int count) noexcept {
    HWY_DYNAMIC_DISPATCH(scatterRowSimd)(row, rays, distance, light, count);
}

}  // namespace noctis
#endif
