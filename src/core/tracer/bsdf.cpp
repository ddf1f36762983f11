#include "core/tracer/bsdf.h"

#include "core/tracer/rgb.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr float kSmoothestAlpha = 0.002F;

float square(float x) noexcept { return x * x; }

/// GGX distribution of normals.
float distribution(float cosine, float alpha) noexcept {
    const float a2 = alpha * alpha;
    return a2 / (kPi * square(cosine * cosine * (a2 - 1.0F) + 1.0F));
}

/// Smith's masking of one direction, as lambda.
float lambda(const V3f& v, float alpha) noexcept {
    const float c2 = std::max(v.z * v.z, 1e-12F);
    const float tan2 = std::max(0.0F, 1.0F - c2) / c2;
    return 0.5F * (std::sqrt(1.0F + alpha * alpha * tan2) - 1.0F);
}

const Image& textureImage(const Scene& scene, int index) {
    return scene.textures[static_cast<std::size_t>(index)].image;
}

}  // namespace

LinearRgb baseColourOf(const Surface& surface, const Material& material,
                       const Scene& scene) noexcept {
    const LinearRgb base = material.baseColour * surface.tint;
    return material.baseTexture < 0
               ? base
               : base * sampleTexture(textureImage(scene, material.baseTexture), surface.texture);
}

float roughnessOf(const Surface& surface, const Material& material, const Scene& scene) noexcept {
    if (material.roughnessTexture < 0)
        return material.roughness;
    return material.roughness *
           sampleTexture(textureImage(scene, material.roughnessTexture), surface.texture).g;
}

LinearRgb emissionOf(const Surface& surface, const Material& material,
                     const Scene& scene) noexcept {
    if (material.emissionTexture < 0)
        return material.emission;
    return material.emission *
           sampleTexture(textureImage(scene, material.emissionTexture), surface.texture);
}

Bsdf::Bsdf(const Surface& surface, const Material& material, const Scene& scene,
           const V3f& towardsViewer) noexcept
    : m_frame(surface.normal), m_view(m_frame.toLocal(towardsViewer)),
      m_geometricNormal(surface.geometricNormal), m_base(baseColourOf(surface, material, scene)) {
    // A shading normal that faces away from the viewer would see nothing of the viewer.
    if (m_view.z < 1e-3F) {
        m_frame = TangentFrame(surface.geometricNormal);
        m_view = m_frame.toLocal(towardsViewer);
        m_view.z = std::max(m_view.z, 1e-3F);
    }
    float metalness = material.metalness;
    m_roughness = material.roughness;
    if (material.roughnessTexture >= 0) {
        const LinearRgb texel =
            sampleTexture(textureImage(scene, material.roughnessTexture), surface.texture);
        m_roughness *= texel.g;
        metalness *= texel.b;
    }
    m_alpha = std::max(m_roughness * m_roughness, kSmoothestAlpha);
    m_transmission = material.transmission * (1.0F - metalness);
    m_eta = surface.entering ? 1.0F / material.refraction : material.refraction;
    const float f0 = square((material.refraction - 1.0F) / (material.refraction + 1.0F));
    m_specular = mix({f0, f0, f0}, m_base, metalness);
    m_diffuse = m_base * ((1.0F - metalness) * (1.0F - m_transmission));

    const float reflected = luminance(fresnel(m_view.z));
    const float diffuse = luminance(m_diffuse) * (1.0F - reflected);
    const float through = m_transmission * (1.0F - reflected);
    const float total = reflected + diffuse + through;
    m_transmissionChance = total > 0.0F ? through / total : 0.0F;
    m_specularChance = total > 0.0F ? reflected / total : 1.0F;
    // Both lobes keep some probability, so that neither is sampled with an extreme weight.
    if (m_transmission == 0.0F)
        m_specularChance = diffuse > 0.0F ? std::clamp(m_specularChance, 0.1F, 0.9F) : 1.0F;
}

LinearRgb Bsdf::fresnel(float cosine) const noexcept {
    const float x = std::clamp(1.0F - cosine, 0.0F, 1.0F);
    const float x5 = square(square(x)) * x;
    return mix(m_specular, {1.0F, 1.0F, 1.0F}, x5);
}

LinearRgb Bsdf::glossColour() const noexcept {
    constexpr float kLeast = 0.02F;
    const LinearRgb f = fresnel(m_view.z);
    return {std::max(f.r, kLeast), std::max(f.g, kLeast), std::max(f.b, kLeast)};
}

LinearRgb Bsdf::transmissionColour() const noexcept {
    constexpr float kLeast = 0.02F;
    return LinearRgb{std::max(m_base.r, kLeast), std::max(m_base.g, kLeast),
                     std::max(m_base.b, kLeast)} *
           m_transmission;
}

Scattered Bsdf::evaluate(const V3f& direction, float& pdf) const noexcept {
    pdf = 0.0F;
    const V3f l = m_frame.toLocal(direction);
    if (l.z <= 0.0F || direction.dot(m_geometricNormal) <= 0.0F)
        return {};
    const V3f h = (l + m_view).normalized();
    const float lambdaView = lambda(m_view, m_alpha);
    const float d = distribution(h.z, m_alpha);
    const LinearRgb f = fresnel(h.dot(m_view));
    const float masking = 1.0F / (1.0F + lambdaView + lambda(l, m_alpha));
    Scattered out;
    out.gloss = f * (d * masking / (4.0F * m_view.z));
    out.diffuse = m_diffuse * LinearRgb{1.0F - f.r, 1.0F - f.g, 1.0F - f.b} * (l.z / kPi);
    const float diffuseChance = 1.0F - m_specularChance - m_transmissionChance;
    pdf =
        m_specularChance * d / ((1.0F + lambdaView) * 4.0F * m_view.z) + diffuseChance * l.z / kPi;
    return out;
}

V3f Bsdf::visibleNormal(const Sample2& u) const noexcept {
    const V3f v = V3f(m_alpha * m_view.x, m_alpha * m_view.y, m_view.z).normalized();
    const float length2 = v.x * v.x + v.y * v.y;
    const V3f t1 = length2 > 0.0F ? V3f(-v.y, v.x, 0.0F) / std::sqrt(length2) : V3f(1, 0, 0);
    const V3f t2 = v.cross(t1);
    const float r = std::sqrt(u.x);
    const float phi = 2.0F * kPi * u.y;
    const float a = r * std::cos(phi);
    const float s = 0.5F * (1.0F + v.z);
    const float b = (1.0F - s) * std::sqrt(std::max(0.0F, 1.0F - a * a)) + s * r * std::sin(phi);
    const V3f n = t1 * a + t2 * b + v * std::sqrt(std::max(0.0F, 1.0F - a * a - b * b));
    return V3f(m_alpha * n.x, m_alpha * n.y, std::max(1e-6F, n.z)).normalized();
}

BsdfSample Bsdf::refract(const Sample2& u) const noexcept {
    BsdfSample result;
    const V3f h = visibleNormal(u);
    const float cosine = m_view.dot(h);
    const float k = 1.0F - m_eta * m_eta * (1.0F - cosine * cosine);
    V3f local = k < 0.0F ? h * (2.0F * cosine) - m_view  // total internal reflection
                         : h * (m_eta * cosine - std::sqrt(k)) - m_view * m_eta;
    result.direction = m_frame.toWorld(local).normalized();
    result.transmitted = true;
    result.pdf = 1.0F;
    const float masking = (1.0F + lambda(m_view, m_alpha)) /
                          (1.0F + lambda(m_view, m_alpha) + lambda(local, m_alpha));
    const LinearRgb f = fresnel(cosine);
    const LinearRgb through =
        k < 0.0F ? LinearRgb{1, 1, 1} : m_base * LinearRgb{1.0F - f.r, 1.0F - f.g, 1.0F - f.b};
    result.weight = through * (m_transmission * masking / m_transmissionChance);
    return result;
}

BsdfSample Bsdf::sample(float lobe, const Sample2& u) const noexcept {
    if (lobe < m_transmissionChance)
        return refract(u);
    BsdfSample result;
    if (lobe < m_transmissionChance + m_specularChance) {
        const V3f h = visibleNormal(u);
        result.direction = m_frame.toWorld(h * (2.0F * h.dot(m_view)) - m_view);
    } else {
        const V2f disc = discFromSquare(u.x, u.y);
        result.direction = m_frame.toWorld(
            {disc.x, disc.y, std::sqrt(std::max(0.0F, 1.0F - disc.x * disc.x - disc.y * disc.y))});
    }
    result.direction.normalize();
    result.value = evaluate(result.direction, result.pdf);
    result.weight = result.pdf > 0.0F ? result.value.sum() * (1.0F / result.pdf) : LinearRgb{};
    return result;
}

}  // namespace noctis
