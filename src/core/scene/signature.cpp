#include "core/scene/signature.h"

#include <array>
#include <cmath>
#include <functional>
#include <map>
#include <vector>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace {

using Json = nlohmann::json;
/// Each a sum and its size.
using Sums = std::vector<std::array<double, 2>>;
using Things = std::map<std::string, Sums>;

// Which sums a thing has.
enum ObjectSum : std::size_t { kWhere, kForm, kSurface };
enum MaterialSum : std::size_t { kRelief, kLook };
enum LightSum : std::size_t { kPlace, kShine };

/// Part of a sum's size that rounding may take; a finger's breadth of one crate in a harbour is more.
constexpr double kRounding = 1e-9;
/// The same for an object's form, which only tells moved from changed.
constexpr double kSameForm = 1e-4;
/// Further objects share one entry, so that the text stays short.
constexpr std::size_t kNamedObjects = 200;

double shortened(double value, int digits) {
    return std::isfinite(value) ? std::stod(fmt::format("{:.{}g}", value, digits)) : 0.0;
}

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

struct ObjectSums {
    Sum where;
    Sum form;
    Sum surface;
};

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
    std::map<std::string, ObjectSums> sums;
    for (const Instance& instance : scene.instances) {
        const auto object = static_cast<std::size_t>(instance.object);
        ObjectSums& to = sums[object < kNamedObjects ? scene.objects[object] : "another object"];
        const Mesh& mesh = scene.meshes[static_cast<std::size_t>(instance.mesh)];
        for (const V3f& position : mesh.positions)
            to.where.add(position * instance.toWorld);
        addForm(to.form, mesh, instance.toWorld);
        addSurface(to.surface, scene, mesh);
    }
    Things things;
    for (const auto& [name, s] : sums)
        things[name] = {s.where.numbers(), s.form.numbers(), s.surface.numbers()};
    return things;
}

Things materialSumsOf(const Scene& scene) {
    Things things;
    for (const Material& m : scene.materials) {
        const auto addTexture = [&](Sum& sum, int texture) {
            if (texture >= 0)
                sum.add(scene.textures[static_cast<std::size_t>(texture)].image);
        };
        Sum relief;
        if (m.normalTexture >= 0)
            relief.add(m.bumpiness);
        addTexture(relief, m.normalTexture);
        Sum look;
        look.add(m.baseColour);
        look.add(m.emission);
        for (const float value : {m.roughness, m.metalness, m.transmission, m.refraction})
            look.add(value);
        for (const int texture : {m.baseTexture, m.roughnessTexture, m.emissionTexture})
            addTexture(look, texture);
        things[m.name] = {relief.numbers(), look.numbers()};
    }
    return things;
}

Things lightSumsOf(const Scene& scene) {
    std::map<std::string, std::array<Sum, 2>> sums;
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
    Things things;
    for (const auto& [name, s] : sums)
        things[name] = {s[kPlace].numbers(), s[kShine].numbers()};
    return things;
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

bool same(const Sums& a, const Sums& b, std::size_t which, double tolerance = kRounding) {
    if (which >= a.size() || which >= b.size())
        return a.size() == b.size();
    const double size = std::max(a[which][1], b[which][1]);
    return std::abs(a[which][0] - b[which][0]) <= tolerance * size;
}

/// What became of a thing that is in both scenes, or nothing.
using Change = std::function<std::string(const Sums& before, const Sums& now)>;

void compare(const Things& before, const Things& now, const Change& change,
             std::vector<std::string>& changes) {
    const auto note = [&](const std::string& name, const std::string& what) {
        if (!what.empty())
            changes.push_back(name + " " + what);
    };
    for (const auto& [name, sums] : now) {
        const auto was = before.find(name);
        note(name, was == before.end() ? "added" : change(was->second, sums));
    }
    for (const auto& [name, sums] : before)
        if (!now.contains(name))
            note(name, "gone");
}

std::string changeOfObject(const Sums& before, const Sums& now) {
    if (!same(before, now, kSurface) || !same(before, now, kForm, kSameForm))
        return "changed";
    return same(before, now, kWhere) ? "" : "moved";
}

std::string changeOfLight(const Sums& before, const Sums& now) {
    if (!same(before, now, kShine))
        return "changed";
    return same(before, now, kPlace) ? "" : "moved";
}

std::string changeOfMaterial(const Sums& before, const Sums& now) {
    return same(before, now, kRelief) && same(before, now, kLook) ? "" : "changed";
}

std::string changeOfRelief(const Sums& before, const Sums& now) {
    return same(before, now, kRelief) ? "" : "changed";
}

std::string changeOfMotion(const Sums& before, const Sums& now) {
    return same(before, now, 0) ? "" : "changed";
}

Things onlyNamed(const Things& all, const std::string& name) {
    const auto found = all.find(name);
    return found == all.end() ? Things{} : Things{*found};
}

Things inBoth(Things things, const Things& others) {
    std::erase_if(things, [&](const auto& thing) { return !others.contains(thing.first); });
    return things;
}

struct Signature {
    Things objects;
    Things materials;
    Things lights;
    Things motion;
};

/// Errors   json's own, of text that is none.
Signature parsed(const std::string& text) {
    const Json json = Json::parse(text);
    return {json.at("objects").get<Things>(), json.at("materials").get<Things>(),
            json.at("lights").get<Things>(), json.at("motion").get<Things>()};
}

std::string changeBetween(const Signature& before, const Signature& now,
                          const SceneReading& reading) {
    std::vector<std::string> changes;
    const auto add = [&](const Things& a, const Things& b, const Change& change) {
        compare(a, b, change, changes);
    };
    if (inBoth(before.objects, now.objects).empty())
        return "another scene";
    add(before.objects, now.objects, changeOfObject);
    // A material that comes or goes without its look being read is noticed by the objects that have it.
    if (reading.look)
        add(before.materials, now.materials, changeOfMaterial);
    else if (reading.relief)
        add(inBoth(before.materials, now.materials), inBoth(now.materials, before.materials),
            changeOfRelief);
    if (!reading.light.empty())
        add(onlyNamed(before.lights, reading.light), onlyNamed(now.lights, reading.light),
            changeOfLight);
    else if (reading.lights)
        add(before.lights, now.lights, changeOfLight);
    if (reading.motion)
        add(before.motion, now.motion, changeOfMotion);
    if (changes.empty())
        return {};
    return changes.size() == 1 ? changes[0]
                               : fmt::format("{} and {} more", changes[0], changes.size() - 1);
}

}  // namespace

std::string signatureOf(const Scene& scene) {
    return Json{{"objects", objectSumsOf(scene)},
                {"materials", materialSumsOf(scene)},
                {"lights", lightSumsOf(scene)},
                {"motion", motionSumsOf(scene)}}
        .dump(-1, ' ', true, Json::error_handler_t::replace);
}

struct SceneComparison::Both {
    Signature before;
    Signature now;
};

SceneComparison::SceneComparison(const std::string& before, const std::string& now) {
    if (before == now || before.empty() || now.empty())
        return;
    try {
        m_both = std::make_shared<const Both>(Both{parsed(before), parsed(now)});
    } catch (const Json::exception&) {
        m_readable = false;  // a signature of an older Noctis, or none
    }
}

std::string SceneComparison::changeFor(const SceneReading& reading) const {
    if (!m_readable)
        return "scene changed";
    return m_both ? changeBetween(m_both->before, m_both->now, reading) : std::string();
}

std::string sceneChange(const std::string& before, const std::string& now,
                        const SceneReading& reading) {
    return SceneComparison(before, now).changeFor(reading);
}

}  // namespace noctis
