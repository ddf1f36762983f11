#include "core/scene/signature.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <sstream>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

namespace {

/// Part of a sum's size that rounding may take; a finger's breadth of one crate in a harbour is more.
constexpr double kRounding = 1e-9;
/// Places are summed in so many parts, so that a small thing counts in a large scene, too.
constexpr std::size_t kParts = 16;

/// A sum with weights that differ from term to term, so that two things can't change places unseen;
/// and its size, to tell what rounding may take of it.
class Sum {
public:
    void add(float value) noexcept {
        m_weight = m_weight >= 2.0 ? 1.0 : m_weight + 0.0137;
        m_sum += m_weight * static_cast<double>(value);
        m_size += std::abs(static_cast<double>(value));
    }
    void add(const V3f& v) noexcept {
        add(v.x);
        add(v.y);
        add(v.z);
    }
    void add(const LinearRgb& c) noexcept {
        add(c.r);
        add(c.g);
        add(c.b);
    }
    void appendTo(std::vector<double>& signature) const {
        signature.push_back(m_sum);
        signature.push_back(m_size);
    }

private:
    double m_sum = 0.0;
    double m_size = 0.0;
    double m_weight = 1.0;
};

std::array<Sum, kParts> sumsOfPlaces(const Scene& scene) {
    std::array<Sum, kParts> sums;
    for (std::size_t i = 0; i < scene.instances.size(); ++i) {
        const Instance& instance = scene.instances[i];
        for (const V3f& position : scene.meshes[static_cast<std::size_t>(instance.mesh)].positions)
            sums[i % kParts].add(position * instance.toWorld);
    }
    return sums;
}

Sum sumOfShading(const Scene& scene) {
    Sum sum;
    for (const Mesh& mesh : scene.meshes) {
        for (const V3f& normal : mesh.normals)
            sum.add(normal);
        for (const V2f& at : mesh.texture) {
            sum.add(at.x);
            sum.add(at.y);
        }
        for (const LinearRgb& colour : mesh.colours)
            sum.add(colour);
        sum.add(static_cast<float>(mesh.material));
    }
    return sum;
}

Sum sumOfMaterials(const Scene& scene) {
    Sum sum;
    for (const Material& m : scene.materials) {
        sum.add(m.baseColour);
        sum.add(m.emission);
        for (const float value :
             {m.roughness, m.metalness, m.transmission, m.refraction, m.bumpiness})
            sum.add(value);
    }
    return sum;
}

Sum sumOfTextures(const Scene& scene) {
    Sum sum;
    for (const Texture& texture : scene.textures)
        for (int c = 0; c < texture.image.channels(); ++c)
            for (int y = 0; y < texture.image.height(); ++y)
                for (int x = 0; x < texture.image.width(); ++x)
                    sum.add(texture.image(x, y, c));
    return sum;
}

Sum sumOfLights(const Scene& scene) {
    Sum sum;
    for (const Light& light : scene.lights) {
        sum.add(light.position);
        sum.add(light.direction);
        sum.add(light.power);
        sum.add(light.radius);
        sum.add(light.outerRadians);
    }
    if (scene.sky)
        for (const LinearRgb& colour : {scene.sky->zenith, scene.sky->horizon, scene.sky->ground})
            sum.add(colour);
    return sum;
}

std::vector<double> numbersIn(const std::string& text) {
    std::istringstream in(text);
    std::vector<double> numbers;
    for (double number = 0.0; in >> number;)
        numbers.push_back(number);
    return numbers;
}

}  // namespace

std::vector<double> signatureOf(const Scene& scene) {
    std::vector<double> signature{static_cast<double>(triangleCount(scene)),
                                  static_cast<double>(scene.instances.size())};
    for (const Sum& sum : sumsOfPlaces(scene))
        sum.appendTo(signature);
    for (const Sum& sum :
         {sumOfShading(scene), sumOfMaterials(scene), sumOfTextures(scene), sumOfLights(scene)})
        sum.appendTo(signature);
    return signature;
}

std::string textOfSignature(const std::vector<double>& signature) {
    return fmt::format("{:.13g}", fmt::join(signature, " "));
}

bool sameScene(const std::string& a, const std::string& b) {
    const std::vector<double> first = numbersIn(a);
    const std::vector<double> second = numbersIn(b);
    if (first.empty() || second.empty())
        return true;
    if (first.size() != second.size() || first[0] != second[0] || first[1] != second[1])
        return false;
    for (std::size_t i = 2; i + 1 < first.size(); i += 2) {
        const double size = std::max(first[i + 1], second[i + 1]);
        if (std::abs(first[i] - second[i]) > kRounding * size)
            return false;
    }
    return true;
}

}  // namespace noctis
