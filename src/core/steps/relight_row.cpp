#include "core/steps/relight_row.h"

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/relight_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include <hwy/contrib/math/math-inl.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

constexpr float kPerPi = 0.318309886F;
constexpr float kSmoothestAlpha = 0.002F;

struct Vector3 {
    V x, y, z;
};

HWY_INLINE Vector3 load(const float* const planes[3], int at) {
    const D d;
    return {hn::LoadU(d, planes[0] + at), hn::LoadU(d, planes[1] + at),
            hn::LoadU(d, planes[2] + at)};
}

HWY_INLINE Vector3 all(const float* v) {
    const D d;
    return {hn::Set(d, v[0]), hn::Set(d, v[1]), hn::Set(d, v[2])};
}

HWY_INLINE V dot(const Vector3& a, const Vector3& b) {
    return hn::MulAdd(a.x, b.x, hn::MulAdd(a.y, b.y, hn::Mul(a.z, b.z)));
}

HWY_INLINE Vector3 scaled(const Vector3& a, V s) {
    return {hn::Mul(a.x, s), hn::Mul(a.y, s), hn::Mul(a.z, s)};
}

HWY_INLINE Vector3 unit(const Vector3& a) {
    const D d;
    return scaled(a, hn::Div(hn::Set(d, 1.0F), hn::Sqrt(hn::Max(dot(a, a), hn::Set(d, 1e-30F)))));
}

HWY_INLINE V clamped(V v) {
    const D d;
    return hn::Min(hn::Max(v, hn::Zero(d)), hn::Set(d, 1.0F));
}

HWY_INLINE V fifth(V cosine) {
    const D d;
    const V x = clamped(hn::Sub(hn::Set(d, 1.0F), cosine));
    const V x2 = hn::Mul(x, x);
    return hn::Mul(hn::Mul(x2, x2), x);
}

HWY_INLINE V masking(V cosine, V a2) {
    const D d;
    const V one = hn::Set(d, 1.0F);
    const V c2 = hn::Max(hn::Mul(cosine, cosine), hn::Set(d, 1e-12F));
    const V tangent2 = hn::Div(hn::Sub(one, c2), c2);
    return hn::Mul(hn::Set(d, 0.5F),
                   hn::Sub(hn::Sqrt(hn::Max(hn::MulAdd(a2, tangent2, one), one)), one));
}

/// From where the light comes, and how strong it is there.
HWY_INLINE V irradiance(const RelightRow& light, const Vector3& position, Vector3& towards) {
    const D d;
    V strength = hn::Set(d, light.strength);
    if (light.far) {
        towards = all(light.place);
        return strength;
    }
    const Vector3 place = all(light.place);
    towards = {hn::Sub(place.x, position.x), hn::Sub(place.y, position.y),
               hn::Sub(place.z, position.z)};
    const V away2 = hn::Max(dot(towards, towards), hn::Set(d, 1e-8F));
    towards = scaled(towards, hn::Div(hn::Set(d, 1.0F), hn::Sqrt(away2)));
    strength = hn::Div(strength, away2);
    if (!light.spot)
        return strength;
    const V cosine =
        hn::Min(hn::Max(dot(towards, all(light.axis)), hn::Set(d, -1.0F)), hn::Set(d, 1.0F));
    const V t = clamped(hn::Mul(hn::Sub(hn::Set(d, light.outer), hn::Acos(d, cosine)),
                                hn::Set(d, 1.0F / (light.outer - light.inner))));
    const V soft = hn::Mul(hn::Mul(t, t), hn::NegMulAdd(hn::Set(d, 2.0F), t, hn::Set(d, 3.0F)));
    return hn::Mul(strength, soft);
}

int relightRowSimd(const RelightRow& light, const RelightPlanes& planes, float* r, float* g,
                   float* b, int count) {
    const D d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const V one = hn::Set(d, 1.0F);
    float* const channels[3] = {r, g, b};
    int i = 0;
    for (; i + lanes <= count; i += lanes) {
        const Vector3 normal = load(planes.normal, i);
        const Vector3 position = load(planes.position, i);
        Vector3 towards;
        const V strength = irradiance(light, position, towards);
        const V cosine = dot(normal, towards);
        const auto lit =
            hn::And(hn::Gt(dot(normal, normal), hn::Set(d, 0.01F)),
                    hn::And(hn::Gt(cosine, hn::Zero(d)), hn::Gt(strength, hn::Zero(d))));
        if (hn::AllFalse(d, lit))
            continue;
        const Vector3 eye = all(light.eye);
        const Vector3 viewer = light.parallel
                                   ? eye
                                   : unit({hn::Sub(eye.x, position.x), hn::Sub(eye.y, position.y),
                                           hn::Sub(eye.z, position.z)});
        const V view = hn::Max(dot(normal, viewer), hn::Set(d, 1e-3F));
        const Vector3 half = unit({hn::Add(towards.x, viewer.x), hn::Add(towards.y, viewer.y),
                                   hn::Add(towards.z, viewer.z)});
        const V atView = fifth(view);
        const V rise = fifth(dot(half, viewer));
        const V rough = planes.roughness != nullptr ? hn::LoadU(d, planes.roughness + i)
                                                    : hn::Set(d, light.roughness);
        const V alpha = hn::Min(hn::Max(hn::Mul(rough, rough), hn::Set(d, kSmoothestAlpha)), one);
        const V a2 = hn::Mul(alpha, alpha);
        const V h = dot(half, normal);
        const V spread = hn::MulAdd(hn::Mul(h, h), hn::Sub(a2, one), one);
        const V masked = hn::Add(one, hn::Add(masking(view, a2), masking(cosine, a2)));
        const V lobe = hn::Div(hn::Mul(hn::Set(d, light.highlight * kPerPi * 0.25F), a2),
                               hn::Mul(hn::Mul(hn::Mul(spread, spread), masked), view));
        V part = planes.open != nullptr ? hn::LoadU(d, planes.open + i) : one;
        if (planes.alpha != nullptr)
            part = hn::Mul(part, hn::LoadU(d, planes.alpha + i));
        const Vector3 picture{hn::LoadU(d, r + i), hn::LoadU(d, g + i), hn::LoadU(d, b + i)};
        const V luminance = hn::MulAdd(
            picture.x, hn::Set(d, 0.2126F),
            hn::MulAdd(picture.y, hn::Set(d, 0.7152F), hn::Mul(picture.z, hn::Set(d, 0.0722F))));
        const auto seen = hn::Gt(luminance, hn::Set(d, 1e-6F));
        const V guess = hn::Div(hn::Set(d, light.guessed), luminance);
        const V matt = hn::Mul(cosine, hn::Set(d, kPerPi));
        const V perMirror = hn::Div(one, hn::Max(hn::Sub(one, atView), hn::Set(d, 1e-3F)));
        const V own[3] = {picture.x, picture.y, picture.z};
        for (int c = 0; c < 3; ++c) {
            V albedo;
            if (planes.albedo[0] != nullptr) {
                albedo = hn::LoadU(d, planes.albedo[c] + i);
            } else {
                const V scaledOwn =
                    hn::Min(hn::Max(hn::Mul(own[c], guess), hn::Zero(d)), hn::Set(d, 0.9F));
                albedo = hn::IfThenElse(seen, scaledOwn, hn::Set(d, light.guessed));
            }
            const V straight =
                planes.mirror[0] != nullptr
                    ? clamped(
                          hn::Mul(hn::Sub(hn::LoadU(d, planes.mirror[c] + i), atView), perMirror))
                    : hn::Set(d, light.mirror);
            const V f = hn::MulAdd(hn::Sub(one, straight), rise, straight);
            const V response = hn::MulAdd(hn::Mul(albedo, hn::Sub(one, f)), matt, hn::Mul(f, lobe));
            const V added =
                hn::Mul(hn::Mul(response, hn::Mul(strength, part)), hn::Set(d, light.colour[c]));
            const auto counts = hn::And(lit, hn::IsFinite(added));
            hn::StoreU(hn::Add(own[c], hn::IfThenElseZero(counts, added)), d, channels[c] + i);
        }
    }
    return i;
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

HWY_EXPORT(relightRowSimd);

int relightRow(const RelightRow& light, const RelightPlanes& planes, float* r, float* g, float* b,
               int count) noexcept {
    return HWY_DYNAMIC_DISPATCH(relightRowSimd)(light, planes, r, g, b, count);
}

}  // namespace noctis
#endif
