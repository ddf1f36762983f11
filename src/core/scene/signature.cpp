#include "core/scene/signature.h"

#include "core/scene/signature_sums.h"

#include <charconv>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

/// Further objects share one entry, so that the text stays short.
constexpr std::size_t kNamedObjects = 200;

/// To a fixed number of digits, whatever the locale.
double shortened(double value, int digits) {
    if (!std::isfinite(value))
        return 0.0;
    const std::string text = fmt::format("{:.{}g}", value, digits);
    double rounded = value;
    std::from_chars(text.data(), text.data() + text.size(), rounded);
    return rounded;
}

/// A sum with weights that differ from term to term, so that two things can't change places unseen;
/// and its size, to know what rounding may take of it.
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
    void add(const Image& image) noexcept {
        for (int c = 0; c < image.channels(); ++c)
            for (int y = 0; y < image.height(); ++y)
                for (int x = 0; x < image.width(); ++x)
                    add(image(x, y, c));
    }
    [[nodiscard]] std::array<double, 2> numbers() const {
        return {shortened(m_sum, 12), shortened(m_size, 4)};
    }

private:
    double m_sum = 0.0;
    double m_size = 0.0;
    double m_weight = 1.0;
};

/// In the order of ObjectSum, MaterialSum or LightSum.
template <std::size_t N> using SumsByName = std::map<std::string, std::array<Sum, N>>;

template <std::size_t N> Things numbersOf(const SumsByName<N>& sums) {
    Things things;
    for (const auto& [name, each] : sums)
        for (const Sum& sum : each)
            things[name].push_back(sum.numbers());
    return things;
}

/// Distances from the middle stay as they are when a thing is moved or turned.
void addForm(Sum& form, const Mesh& mesh, const M44f& toWorld) {
    Imath::V3d middle(0.0);
    for (const V3f& position : mesh.positions)
        middle += Imath::V3d(position * toWorld);
    middle /= std::max(1.0, static_cast<double>(mesh.positions.size()));
    for (const V3f& position : mesh.positions)
        form.add(static_cast<float>((Imath::V3d(position * toWorld) - middle).length()));
}

void addSurface(Sum& surface, const Scene& scene, const Mesh& mesh) {
    surface.add(static_cast<float>(mesh.triangles.size()));
    for (const auto& triangle : mesh.triangles)
        for (const std::uint32_t corner : triangle)
            surface.add(static_cast<float>(corner));
    for (const V3f& normal : mesh.normals)
        surface.add(normal);
    for (const V2f& at : mesh.texture) {
        surface.add(at.x);
        surface.add(at.y);
    }
    for (const LinearRgb& colour : mesh.colours)
        surface.add(colour);
    for (const char letter : scene.materials[static_cast<std::size_t>(mesh.material)].name)
        surface.add(static_cast<float>(letter));
}

Things objectSumsOf(const Scene& scene) {
    SumsByName<3> sums;
    for (const Instance& instance : scene.instances) {
        const auto object = static_cast<std::size_t>(instance.object);
        auto& [where, form, surface] =
            sums[object < kNamedObjects ? scene.objects[object] : "another object"];
        const Mesh& mesh = scene.meshes[static_cast<std::size_t>(instance.mesh)];
        for (const V3f& position : mesh.positions)
            where.add(position * instance.toWorld);
        addForm(form, mesh, instance.toWorld);
        addSurface(surface, scene, mesh);
    }
    return numbersOf(sums);
}

Things materialSumsOf(const Scene& scene) {
    SumsByName<2> sums;  // materials may share a name
    for (const Material& m : scene.materials) {
        const auto addTexture = [&](Sum& sum, int texture) {
            if (texture >= 0)
                sum.add(scene.textures[static_cast<std::size_t>(texture)].image);
        };
        auto& [relief, look] = sums[m.name];
        if (m.normalTexture >= 0)
            relief.add(m.bumpiness);
        addTexture(relief, m.normalTexture);
        look.add(m.baseColour);
        look.add(m.emission);
        for (const float value : {m.roughness, m.metalness, m.transmission, m.refraction})
            look.add(value);
        for (const int texture : {m.baseTexture, m.roughnessTexture, m.emissionTexture})
            addTexture(look, texture);
    }
    return numbersOf(sums);
}

Things lightSumsOf(const Scene& scene) {
    SumsByName<2> sums;
    for (const Light& light : scene.lights) {
        auto& [place, shine] = sums[light.name];
        place.add(light.position);
        place.add(light.direction);
        shine.add(light.power);
        for (const float value : {light.radius, light.angleRadians, light.innerRadians,
                                  light.outerRadians, static_cast<float>(light.kind)})
            shine.add(value);
    }
    if (scene.sky) {
        Sum& shine = sums["environment"][kShine];
        for (const LinearRgb& colour : {scene.sky->zenith, scene.sky->horizon, scene.sky->ground})
            shine.add(colour);
        shine.add(scene.sky->strength);
        shine.add(scene.sky->panorama);
    }
    return numbersOf(sums);
}

Things motionSumsOf(const Scene& scene) {
    if (!scene.animation)
        return {};
    Sum sum;
    for (const NodeKeys& keys : scene.animation->keys) {
        for (const auto* moving : {&keys.translation, &keys.scale})
            for (const auto& [time, value] : *moving) {
                sum.add(static_cast<float>(time));
                sum.add(value);
            }
        for (const auto& [time, turn] : keys.rotation) {
            sum.add(static_cast<float>(time));
            sum.add(turn.r);
            sum.add(turn.v);
        }
    }
    return {{"motion", {sum.numbers()}}};
}

}  // namespace

std::string signatureOf(const Scene& scene) {
    return textOf(
        {objectSumsOf(scene), materialSumsOf(scene), lightSumsOf(scene), motionSumsOf(scene)});
}

}  // namespace noctis
