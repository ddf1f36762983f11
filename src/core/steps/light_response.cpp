#include "core/steps/light_response.h"

#include "core/image/angle.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

constexpr float kSmoothestAlpha = 0.002F;

float fifth(float cosine) noexcept {
    const float x = std::clamp(1.0F - cosine, 0.0F, 1.0F);
    return x * x * x * x * x;
}

/// Straight on, of what it is at this view.
float straightOn(float mirror, float atView) noexcept {
    return std::clamp((mirror - atView) / std::max(1.0F - atView, 1e-3F), 0.0F, 1.0F);
}

float masking(float cosine, float alpha) noexcept {
    const float c2 = std::max(cosine * cosine, 1e-12F);
    return 0.5F * (std::sqrt(1.0F + alpha * alpha * (1.0F - c2) / c2) - 1.0F);
}

/// What a surface sends to the viewer of an even light from all round, by its view and roughness.
struct OfAll {
    float diffuse = 0.0F;  ///< lost from the matt part to the mirror's rise towards grazing
    float scale = 0.0F;    ///< mirrored: scale * f0 + rise
    float rise = 0.0F;
};

class HemisphereTable {
public:
    HemisphereTable() {
        for (int i = 0; i < kViews; ++i)
            for (int j = 0; j < kRoughnesses; ++j)
                m_entries[static_cast<std::size_t>(i)][static_cast<std::size_t>(j)] =
                    summed((static_cast<float>(i) + 0.5F) / kViews,
                           static_cast<float>(j) / (kRoughnesses - 1));
    }
    [[nodiscard]] OfAll at(float view, float roughness) const noexcept {
        const float u = std::clamp(view * kViews - 0.5F, 0.0F, kViews - 1.001F);
        const float v = std::clamp(roughness, 0.0F, 1.0F) * (kRoughnesses - 1.001F);
        const auto i = static_cast<std::size_t>(u);
        const auto j = static_cast<std::size_t>(v);
        const float s = u - static_cast<float>(i);
        const float t = v - static_cast<float>(j);
        const auto mixed = [&](float OfAll::*part) {
            const float near = m_entries[i][j].*part * (1.0F - t) + m_entries[i][j + 1].*part * t;
            const float far =
                m_entries[i + 1][j].*part * (1.0F - t) + m_entries[i + 1][j + 1].*part * t;
            return near * (1.0F - s) + far * s;
        };
        return {mixed(&OfAll::diffuse), mixed(&OfAll::scale), mixed(&OfAll::rise)};
    }

private:
    static constexpr int kViews = 24;
    static constexpr int kRoughnesses = 12;
    static constexpr int kHeights = 32;
    static constexpr int kTurns = 32;

    /// Matt light by its cosine, mirrored light by the normals that are seen (Heitz 2018).
    static OfAll summed(float view, float roughness) noexcept {
        const V3f v(std::sqrt(1.0F - view * view), 0.0F, view);
        const float alpha = std::max(roughness * roughness, kSmoothestAlpha);
        OfAll sum;
        for (int i = 0; i < kHeights; ++i)
            for (int j = 0; j < kTurns; ++j) {
                const float r = (static_cast<float>(i) + 0.5F) / kHeights;
                const float turn = 2.0F * kPi * (static_cast<float>(j) + 0.5F) / kTurns;
                const V3f l(std::sqrt(r) * std::cos(turn), std::sqrt(r) * std::sin(turn),
                            std::sqrt(1.0F - r));
                sum.diffuse += fifth((l + v).normalized().dot(v));
                const V3f stretched = V3f(alpha * v.x, 0.0F, v.z).normalized();
                const V3f first = stretched.x > 1e-6F ? V3f(0.0F, 1.0F, 0.0F) : V3f(1, 0, 0);
                const V3f second = stretched.cross(first);
                const float a = std::sqrt(r) * std::cos(turn);
                const float share = 0.5F * (1.0F + stretched.z);
                const float b = (1.0F - share) * std::sqrt(std::max(0.0F, 1.0F - a * a)) +
                                share * std::sqrt(r) * std::sin(turn);
                const V3f n = first * a + second * b +
                              stretched * std::sqrt(std::max(0.0F, 1.0F - a * a - b * b));
                const V3f half = V3f(alpha * n.x, alpha * n.y, std::max(1e-6F, n.z)).normalized();
                const V3f out = half * (2.0F * half.dot(v)) - v;
                if (out.z <= 0.0F)
                    continue;
                const float weight = (1.0F + masking(view, alpha)) /
                                     (1.0F + masking(view, alpha) + masking(out.z, alpha));
                const float f = fifth(half.dot(v));
                sum.scale += weight * (1.0F - f);
                sum.rise += weight * f;
            }
        constexpr float kAll = kHeights * kTurns;
        return {sum.diffuse / kAll, sum.scale / kAll, sum.rise / kAll};
    }

    std::array<std::array<OfAll, kRoughnesses>, kViews> m_entries;
};

/// The irradiance of a polygon of unit radiance, above the horizon of a place.
float irradianceOf(std::array<V3f, 4> corners, const V3f& position, const V3f& normal) noexcept {
    std::array<V3f, 8> above;
    std::size_t count = 0;
    for (V3f& corner : corners)
        corner -= position;
    for (std::size_t i = 0; i < 4; ++i) {
        const V3f& a = corners[i];
        const V3f& b = corners[(i + 1) % 4];
        const float ha = a.dot(normal);
        const float hb = b.dot(normal);
        if (ha >= 0.0F)
            above[count++] = a;
        if ((ha >= 0.0F) != (hb >= 0.0F))
            above[count++] = a + (b - a) * (ha / (ha - hb));
    }
    if (count < 3)
        return 0.0F;
    float sum = 0.0F;
    for (std::size_t i = 0; i < count; ++i) {
        const V3f a = above[i].normalized();
        const V3f b = above[(i + 1) % count].normalized();
        const V3f across = a.cross(b);
        const float length = across.length();
        if (length > 1e-9F)
            sum += std::atan2(length, a.dot(b)) * across.dot(normal) / length;
    }
    return std::abs(sum) * 0.5F;
}

}  // namespace

LightResponse::LightResponse(const SceneLight& light, float highlight)
    : m_light(light), m_highlight(highlight), m_towards(light.towards.normalized()),
      m_inner(light.inner * kRadians),
      m_outer(std::max(light.outer, light.inner + 0.01F) * kRadians) {
    // The square looks along -towards, at the scene.
    V3f side = m_towards.cross(std::abs(m_towards.y) < 0.9F ? V3f(0, 1, 0) : V3f(1, 0, 0));
    side.normalize();
    const V3f up = side.cross(m_towards);
    const float half = 0.5F * light.size;
    for (int i = 0; i < 4; ++i) {
        const float u = i == 0 || i == 3 ? -half : half;
        const float v = i < 2 ? -half : half;
        m_corners[i] = light.position + side * u + up * v;
    }
}

LinearRgb LightResponse::fromDirection(const LitPoint& p, const V3f& towards, float irradiance,
                                       float widened) const noexcept {
    const float cosine = p.normal.dot(towards);
    if (!(cosine > 0.0F) || !(irradiance > 0.0F))
        return {};
    const float view = std::max(p.normal.dot(p.towardsViewer), 1e-3F);
    V3f half = towards + p.towardsViewer;
    half.normalize();
    const float bent = half.dot(p.towardsViewer);
    const float atView = fifth(view);
    const float rise = fifth(bent);
    const float alpha = std::clamp(p.roughness * p.roughness + widened, kSmoothestAlpha, 1.0F);
    const float a2 = alpha * alpha;
    const float h = half.dot(p.normal);
    const float spread = h * h * (a2 - 1.0F) + 1.0F;
    const float lobe = m_highlight * a2 / (kPi * spread * spread) /
                       (1.0F + masking(view, alpha) + masking(cosine, alpha)) / (4.0F * view);
    const auto channel = [&](float albedo, float mirror) {
        const float f0 = straightOn(mirror, atView);
        const float f = f0 + (1.0F - f0) * rise;
        return irradiance * (albedo * (1.0F - f) * cosine / kPi + f * lobe);
    };
    return {channel(p.albedo.r, p.mirror.r) * m_light.colour.r,
            channel(p.albedo.g, p.mirror.g) * m_light.colour.g,
            channel(p.albedo.b, p.mirror.b) * m_light.colour.b};
}

LinearRgb LightResponse::fromArea(const LitPoint& p) const noexcept {
    if ((p.position - m_light.position).dot(m_towards) > 0.0F)
        return {};  // behind its back
    const float irradiance =
        m_light.strength * irradianceOf({m_corners[0], m_corners[1], m_corners[2], m_corners[3]},
                                        p.position, p.normal);
    V3f towards = m_light.position - p.position;
    const float away = towards.length();
    towards /= std::max(away, 1e-6F);
    // Part of it may be above the horizon although its middle is below.
    const float cosine = std::max(p.normal.dot(towards), 0.02F);
    V3f lifted = towards + p.normal * (cosine - p.normal.dot(towards));
    lifted.normalize();
    const float wide = std::min(1.0F, 0.5F * m_light.size / std::max(away, 1e-3F));
    return fromDirection(p, lifted, irradiance / p.normal.dot(lifted), 0.5F * wide);
}

LinearRgb LightResponse::fromDome(const LitPoint& p) const noexcept {
    const float view = std::max(p.normal.dot(p.towardsViewer), 1e-3F);
    static const HemisphereTable table;
    const OfAll all = table.at(view, p.roughness);
    const auto channel = [&](float albedo, float mirror) {
        const float f0 = straightOn(mirror, fifth(view));
        return m_light.strength * (albedo * (1.0F - f0) * (1.0F - all.diffuse) +
                                   m_highlight * (f0 * all.scale + all.rise));
    };
    return {channel(p.albedo.r, p.mirror.r) * m_light.colour.r,
            channel(p.albedo.g, p.mirror.g) * m_light.colour.g,
            channel(p.albedo.b, p.mirror.b) * m_light.colour.b};
}

LinearRgb LightResponse::operator()(const LitPoint& p) const noexcept {
    switch (m_light.kind) {
    case SceneLightKind::Sun:
        return fromDirection(p, m_towards, m_light.strength, 0.0F);
    case SceneLightKind::Area:
        return fromArea(p);
    case SceneLightKind::Dome:
        return fromDome(p);
    case SceneLightKind::Point:
    case SceneLightKind::Spot:
        break;
    }
    V3f towards = m_light.position - p.position;
    const float away2 = std::max(towards.length2(), 1e-8F);
    towards /= std::sqrt(away2);
    float strength = m_light.strength / away2;
    if (m_light.kind == SceneLightKind::Spot) {
        const float angle = std::acos(std::clamp(towards.dot(m_towards), -1.0F, 1.0F));
        const float t = std::clamp((m_outer - angle) / (m_outer - m_inner), 0.0F, 1.0F);
        strength *= t * t * (3.0F - 2.0F * t);
    }
    return fromDirection(p, towards, strength, 0.0F);
}

}  // namespace noctis
