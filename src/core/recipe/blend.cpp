#include "core/recipe/blend.h"

#include <algorithm>

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/recipe/blend.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

/// Applies blend(a, b) a vector at a time, the rest through a padded copy.
template <typename Mode>
void blendWith(Mode mode, float amount, const float* mask, const float* before, float* after,
               std::size_t count) {
    const D d;
    const std::size_t lanes = hn::Lanes(d);
    const V whole = hn::Set(d, amount);
    const V unit = hn::Set(d, 1.0F);
    const auto one = [&](const float* a, float* b, const float* m) {
        const V va = hn::LoadU(d, a);
        const V result = mode(d, va, hn::LoadU(d, b));
        if (m == nullptr) {
            hn::StoreU(hn::MulAdd(hn::Sub(result, va), whole, va), d, b);
            return;
        }
        const V part = hn::Mul(hn::LoadU(d, m), whole);
        const V mixed = hn::MulAdd(hn::Sub(result, va), part, va);
        // Exact at both ends, so that nothing outside a mask changes by a rounding or an infinity.
        hn::StoreU(hn::IfThenElse(hn::Eq(part, hn::Zero(d)), va,
                                  hn::IfThenElse(hn::Eq(part, unit), result, mixed)),
                   d, b);
    };
    std::size_t i = 0;
    for (; i + lanes <= count; i += lanes)
        one(before + i, after + i, mask == nullptr ? nullptr : mask + i);
    if (i < count) {
        HWY_ALIGN float a[HWY_MAX_BYTES / sizeof(float)] = {};
        HWY_ALIGN float b[HWY_MAX_BYTES / sizeof(float)] = {};
        HWY_ALIGN float m[HWY_MAX_BYTES / sizeof(float)] = {};
        std::copy(before + i, before + count, a);
        std::copy(after + i, after + count, b);
        if (mask != nullptr)
            std::copy(mask + i, mask + count, m);
        one(a, b, mask == nullptr ? nullptr : m);
        std::copy(b, b + (count - i), after + i);
    }
}

V screen(D d, V a, V b) {
    const V unit = hn::Set(d, 1.0F);
    const V both = hn::Sub(hn::Add(a, b), hn::Mul(a, b));
    const auto inside = hn::And(hn::Lt(a, unit), hn::Lt(b, unit));
    return hn::IfThenElse(inside, both, hn::Max(a, b));
}

void blendRowSimd(int blend, float amount, const float* mask, const float* before, float* after,
                  std::size_t count) {
    const auto run = [&](auto mode) { blendWith(mode, amount, mask, before, after, count); };
    switch (static_cast<Blend>(blend)) {
    case Blend::Normal:
        return run([](D, V, V b) { return b; });
    case Blend::Add:
        return run([](D, V a, V b) { return hn::Add(a, b); });
    case Blend::Subtract:
        return run([](D d, V a, V b) { return hn::Max(hn::Sub(a, b), hn::Zero(d)); });
    case Blend::Multiply:
        return run([](D, V a, V b) { return hn::Mul(a, b); });
    case Blend::Divide:
        return run([](D d, V a, V b) { return hn::Div(a, hn::Max(b, hn::Set(d, 1e-4F))); });
    case Blend::Screen:
        return run([](D d, V a, V b) { return screen(d, a, b); });
    case Blend::Overlay:
        return run([](D d, V a, V b) {
            const V two = hn::Set(d, 2.0F);
            const V half = hn::Set(d, 0.5F);
            const V dark = hn::Mul(two, hn::Mul(a, b));
            const V light = screen(d, hn::Sub(hn::Mul(two, a), hn::Set(d, 1.0F)), b);
            return hn::IfThenElse(hn::Lt(a, half), dark, light);
        });
    case Blend::SoftLight:
        return run([](D d, V a, V b) {
            // (1 - 2b) a^2 + 2ab, held to where it is defined.
            const V unit = hn::Set(d, 1.0F);
            const V t = hn::Min(b, unit);
            const V two = hn::Set(d, 2.0F);
            const V soft = hn::Add(hn::Mul(hn::Sub(unit, hn::Mul(two, t)), hn::Mul(a, a)),
                                   hn::Mul(two, hn::Mul(a, t)));
            return hn::IfThenElse(hn::Lt(a, unit), soft, a);
        });
    case Blend::Lighten:
        return run([](D, V a, V b) { return hn::Max(a, b); });
    case Blend::Darken:
        return run([](D, V a, V b) { return hn::Min(a, b); });
    case Blend::Difference:
        return run([](D, V a, V b) { return hn::Abs(hn::Sub(a, b)); });
    }
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

HWY_EXPORT(blendRowSimd);

const std::vector<BlendInfo>& blends() {
    static const std::vector<BlendInfo> all{
        {Blend::Normal, "normal", "Normal"},
        {Blend::Add, "add", "Add"},
        {Blend::Subtract, "subtract", "Subtract"},
        {Blend::Multiply, "multiply", "Multiply"},
        {Blend::Divide, "divide", "Divide"},
        {Blend::Screen, "screen", "Screen"},
        {Blend::Overlay, "overlay", "Overlay"},
        {Blend::SoftLight, "soft_light", "Soft light"},
        {Blend::Lighten, "lighten", "Lighten"},
        {Blend::Darken, "darken", "Darken"},
        {Blend::Difference, "difference", "Difference"},
    };
    return all;
}

std::string_view blendId(Blend blend) { return blends()[static_cast<std::size_t>(blend)].id; }

std::optional<Blend> blendNamed(std::string_view id) {
    for (const BlendInfo& info : blends())
        if (info.id == id)
            return info.blend;
    return std::nullopt;
}

void blendRow(Blend blend, float amount, const float* mask, const float* before, float* after,
              std::size_t count) noexcept {
    if (blend == Blend::Normal && amount == 1.0F && mask == nullptr)
        return;
    HWY_DYNAMIC_DISPATCH(blendRowSimd)
    (static_cast<int>(blend), amount, mask, before, after, count);
}

}  // namespace noctis
#endif
