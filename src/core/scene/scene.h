#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"
#include "core/scene/animation.h"

#include <array>
#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <Imath/ImathBox.h>

namespace noctis {

using Imath::Box3f;

/// Triangles that share a material. normals, texture and colours are empty or one a vertex.
struct Mesh {
    std::string name;
    std::vector<V3f> positions;
    std::vector<V3f> normals;
    std::vector<V3f> tangents;
    std::vector<float> handedness;   ///< one a tangent: 1, or -1 where the texture is mirrored
    std::vector<V2f> texture;        ///< v upwards
    std::vector<LinearRgb> colours;  ///< multiply the material's base colour
    std::vector<std::array<std::uint32_t, 3>> triangles;
    int material = 0;
};

struct Texture {
    std::string file;
    Image image;  ///< linear; R G B [A]
};

/// A metal-and-roughness surface. Texture indices are -1 for none.
struct Material {
    std::string name;
    LinearRgb baseColour{0.6F, 0.6F, 0.6F};
    float roughness = 0.6F;
    float metalness = 0.0F;
    LinearRgb emission{};
    std::string lightGroup{};  ///< of what it emits; empty: the material's name
    float transmission = 0.0F;
    float refraction = 1.5F;  ///< index of refraction
    float bumpiness = 1.0F;   ///< strength of the normal map
    int baseTexture = -1;
    int roughnessTexture = -1;  ///< green channel; blue is metalness
    int emissionTexture = -1;
    int normalTexture = -1;

    [[nodiscard]] bool emits() const noexcept {
        return emission.r > 0.0F || emission.g > 0.0F || emission.b > 0.0F;
    }
};

/// A mesh placed in the world.
struct Instance {
    int mesh = 0;
    int object = 0;  ///< index into Scene::objects
    M44f toWorld;
};

/// A named camera.
struct View {
    std::string name;
    Camera camera;
    bool operator==(const View&) const = default;
};

enum class LightKind { Sun, Point, Spot };

/// A light that is not a surface; surfaces shine by their material's emission.
struct Light {
    std::string name;
    std::string group{};  ///< empty: the light's name
    LightKind kind = LightKind::Point;
    V3f position{0.0F};
    V3f direction{0.0F, -1.0F, 0.0F};   ///< it shines this way
    LinearRgb power{1.0F, 1.0F, 1.0F};  ///< Sun: irradiance; Point, Spot: radiant intensity
    float angleRadians = 0.0093F;       ///< Sun: angular diameter
    float radius = 0.0F;                ///< m; Point, Spot: of the sphere that shines
    float innerRadians = 0.4F;          ///< Spot: full strength within this half-angle
    float outerRadians = 0.7F;          ///< Spot: nothing beyond this half-angle
    bool standIn = false;               ///< added to a scene without light; a panorama replaces it
};

/// A named place without a surface.
struct Locator {
    std::string name;
    M44f toWorld;
};

/// What lies beyond all surfaces, visible and emitting light: a gradient by height, or a panorama.
struct Sky {
    /// Directions whose y is below minus this show only the ground's colour.
    static constexpr float kGroundFrom = 0.125F;

    LinearRgb zenith{0.18F, 0.32F, 0.60F};
    LinearRgb horizon{0.62F, 0.70F, 0.80F};
    LinearRgb ground{0.10F, 0.09F, 0.08F};
    float strength = 1.0F;
    std::string group = "sky";
    Image panorama;  ///< equirectangular, linear R G B; -Z at its middle; empty for the gradient
};

struct Scene {
    std::filesystem::path file;  ///< of an imported one
    std::vector<Mesh> meshes;
    std::vector<Material> materials;
    std::vector<Texture> textures;
    std::vector<std::string> objects;
    std::vector<std::string>
        groups;  ///< one an object: the node above it, or the object's own name
    std::vector<Instance> instances;
    std::vector<View> views;
    std::vector<Light> lights;
    std::vector<Locator> locators;
    std::optional<Sky> sky;                      ///< where the file has one
    std::optional<float> standInGround;          ///< y, m; see StandInGround
    std::shared_ptr<const Animation> animation;  ///< where anything moves
    std::string signature;                       ///< of an imported one; see signature.h
    std::vector<std::string> warnings;           ///< whole sentences
    std::vector<std::string> notes;              ///< what was converted
};

/// Triangles as rendered: each as often as it is placed.
std::size_t triangleCount(const Scene& scene);

/// In the world. Empty for a scene without triangles.
Box3f boundsOf(const Scene& scene);

/// A view from the front, a little above, that holds the whole scene.
View framingView(const Box3f& bounds, float aspect);

/// The groups whose light adds up to the picture: of lights, of emitting surfaces, and of the sky, last.
std::vector<std::string> lightGroups(const Scene& scene);

/// The subjects of shadow passes: lights, objects that emit, and "environment", last.
std::vector<std::string> lightNames(const Scene& scene);

/// Names with commas, each an object, a group or a material; with a minus before it, it is left out.
/// Empty is everything; only names to leave out is everything else.
/// Result   whether each instance takes part. unknown collects names that are nothing in the scene.
std::vector<bool> instancesNamed(const Scene& scene, const std::string& names,
                                 std::vector<std::string>* unknown = nullptr);

/// In the world, of these instances; see instancesNamed.
Box3f boundsOf(const Scene& scene, const std::vector<bool>& instances);

/// Which instances are things rather than surroundings: not much larger than most, as ground or sea would be,
/// and not far away from nine of ten. All of them if none stands out.
std::vector<bool> thingsOf(const Scene& scene);

/// Views of one thing from several sides, evenly spaced.
struct Turnaround {
    int count = 8;
    float startDegrees = 0.0F;  ///< 0 looks along -Z, counted to the left from above
    float elevationDegrees = 12.0F;
    bool orthographic = false;
};

/// Named "NAME 1/8" and so on; each holds all of bounds. Source: as framingView.
std::vector<View> turnaroundViews(const std::string& name, const Box3f& bounds, float aspect,
                                  const Turnaround& turnaround);

/// Looks straight down on bounds, parallel, the top of the picture towards -Z.
View viewFromAbove(const std::string& name, const Box3f& bounds, float aspect);

/// The view of that name. Errors: Error(UnknownName), naming those there are.
const View& viewNamed(const Scene& scene, const std::string& name);

}  // namespace noctis
