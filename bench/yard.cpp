#include "yard.h"

#include <array>
#include <cmath>
#include <map>
#include <string>

namespace bench {

using namespace noctis;

namespace {

/// Surfaces of one colour each, put together tile by tile.
class Builder {
public:
    explicit Builder(Scene& scene) : m_scene(scene) {}

    int tone(float r, float g, float b) {
        Material material;
        material.name = "tone " + std::to_string(m_scene.materials.size());
        material.baseColour = {0.0F, 0.0F, 0.0F};
        material.emission = {r, g, b};
        m_scene.materials.push_back(material);
        return static_cast<int>(m_scene.materials.size()) - 1;
    }
    void object(const std::string& name) {
        m_scene.objects.push_back(name);
        m_scene.groups.push_back(name);
        m_meshes.clear();
    }
    void quad(int tone, const V3f& a, const V3f& b, const V3f& c, const V3f& d) {
        Mesh& mesh = meshOf(tone);
        const auto first = static_cast<std::uint32_t>(mesh.positions.size());
        for (const V3f& corner : {a, b, c, d})
            mesh.positions.push_back(corner);
        mesh.triangles.push_back({first, first + 1, first + 2});
        mesh.triangles.push_back({first, first + 2, first + 3});
    }
    /// A parallelogram of tiles, whose tones follow from their place.
    void tiles(const std::array<int, 3>& tones, const V3f& corner, const V3f& along, const V3f& up,
               int columns, int rows) {
        for (int j = 0; j < rows; ++j)
            for (int i = 0; i < columns; ++i) {
                const auto at = [&](int u, int v) {
                    return corner + along * (static_cast<float>(u) / static_cast<float>(columns)) +
                           up * (static_cast<float>(v) / static_cast<float>(rows));
                };
                quad(tones[static_cast<std::size_t>((i * 7 + j * 5 + i * j) % 3)], at(i, j),
                     at(i + 1, j), at(i + 1, j + 1), at(i, j + 1));
            }
    }
    /// A ringed post with eight sides.
    void post(const std::array<int, 3>& tones, float x, float z, float radius, float height) {
        constexpr float kPi = 3.14159265F;
        for (int side = 0; side < 8; ++side) {
            const auto corner = [&](int k) {
                const float angle = kPi * static_cast<float>(k) / 4.0F;
                return V3f(x + radius * std::cos(angle), 0.0F, z + radius * std::sin(angle));
            };
            tiles(tones, corner(side), corner(side + 1) - corner(side), V3f(0.0F, height, 0.0F), 1,
                  6);
        }
    }

private:
    /// The present object's mesh of a tone.
    Mesh& meshOf(int tone) {
        const auto [found, isNew] = m_meshes.try_emplace(tone, m_scene.meshes.size());
        if (isNew) {
            m_scene.instances.push_back({static_cast<int>(m_scene.meshes.size()),
                                         static_cast<int>(m_scene.objects.size()) - 1, M44f()});
            Mesh& mesh = m_scene.meshes.emplace_back();
            mesh.name = m_scene.objects.back();
            mesh.material = tone;
        }
        return m_scene.meshes[found->second];
    }

    Scene& m_scene;
    std::map<int, std::size_t> m_meshes;  ///< of the present object, by tone
};

void addView(Scene& scene, float height) {
    View view;
    view.name = "yard";
    view.camera = assumedCamera();
    view.camera.yfovRadians = 2.0F * std::atan(0.5F * 20.25F / 35.0F);  // 35 mm on 36 mm at 16:9
    view.camera.cameraToWorld = M44f();
    view.camera.cameraToWorld[3][1] = height;
    scene.views = {view};
    Sky sky;
    sky.zenith = sky.horizon = sky.ground = kYardSky;
    scene.sky = sky;
}

}  // namespace

Scene yard() {
    Scene scene;
    Builder build(scene);
    const std::array<int, 3> ground{build.tone(0.10F, 0.11F, 0.10F),
                                    build.tone(0.14F, 0.13F, 0.11F),
                                    build.tone(0.18F, 0.17F, 0.15F)};
    const std::array<int, 3> wood{build.tone(0.05F, 0.03F, 0.02F), build.tone(0.16F, 0.09F, 0.05F),
                                  build.tone(0.30F, 0.20F, 0.12F)};
    const std::array<int, 3> stone{build.tone(0.20F, 0.21F, 0.24F), build.tone(0.28F, 0.28F, 0.30F),
                                   build.tone(0.24F, 0.22F, 0.20F)};
    const std::array<int, 3> paint{build.tone(0.45F, 0.08F, 0.05F), build.tone(0.50F, 0.45F, 0.38F),
                                   build.tone(0.06F, 0.12F, 0.30F)};
    const std::array<int, 3> bright{build.tone(0.80F, 0.72F, 0.55F),
                                    build.tone(0.65F, 0.62F, 0.55F),
                                    build.tone(0.90F, 0.85F, 0.75F)};
    build.object("ground");
    build.tiles(ground, {-60.0F, 0.0F, -1.0F}, {120.0F, 0.0F, 0.0F}, {0.0F, 0.0F, -100.0F}, 120,
                100);
    int number = 0;
    for (const auto& [x, z, radius, height] :
         {std::array{-0.9F, -2.4F, 0.06F, 1.5F}, std::array{0.75F, -3.0F, 0.09F, 2.4F},
          std::array{-0.35F, -4.5F, 0.08F, 1.9F}, std::array{1.9F, -6.0F, 0.10F, 2.2F},
          std::array{-2.6F, -8.0F, 0.12F, 2.6F}, std::array{0.2F, -11.0F, 0.15F, 2.8F},
          std::array{3.8F, -14.0F, 0.18F, 3.0F}, std::array{-5.0F, -20.0F, 0.25F, 4.0F}}) {
        build.object("post " + std::to_string(++number));
        build.post(number % 2 == 0 ? wood : paint, x, z, radius, height);
    }
    build.object("rail");
    for (const float y : {0.55F, 0.95F})
        build.tiles(wood, {-1.6F, y, -3.6F}, {3.6F, 0.1F, -0.9F}, {0.0F, 0.07F, 0.0F}, 18, 1);
    build.object("board");
    build.tiles(paint, {-2.2F, 0.3F, -7.0F}, {1.5F, 0.0F, 0.3F}, {0.0F, 1.0F, 0.0F}, 6, 4);
    build.object("wall");
    build.tiles(stone, {0.6F, 0.0F, -16.0F}, {11.0F, 0.0F, 3.0F}, {0.0F, 1.7F, 0.0F}, 24, 6);
    build.object("front");
    build.tiles(bright, {-24.0F, 0.0F, -58.0F}, {30.0F, 0.0F, 0.0F}, {0.0F, 9.0F, 0.0F}, 16, 6);
    addView(scene, 1.35F);
    return scene;
}

Scene card(bool even) {
    Scene scene;
    Builder build(scene);
    // Three tones to a surface, or their middle one alone.
    const auto tones = [&](float low, float middle, float high) {
        return even ? std::array{build.tone(middle, middle, middle),
                                 build.tone(middle, middle, middle),
                                 build.tone(middle, middle, middle)}
                    : std::array{build.tone(middle, middle, middle), build.tone(low, low, low),
                                 build.tone(high, high, high)};
    };
    const std::array<int, 3> dark = tones(0.02F, 0.02F, 0.03F);
    const std::array<int, 3> middle = tones(0.18F, 0.19F, 0.21F);
    const std::array<int, 3> bright = tones(0.8F, 0.9F, 0.95F);
    for (int i = -2; i <= 2; ++i) {
        build.object("post " + std::to_string(i + 3));
        const float x = 0.55F * static_cast<float>(i);
        build.tiles(dark, {x - 0.05F, -1.5F, -3.0F}, {0.1F, 0.0F, 0.0F}, {0.0F, 3.0F, 0.0F}, 1, 9);
    }
    build.object("wall");
    build.tiles(middle, {-6.0F, -4.0F, -8.0F}, {12.0F, 0.0F, 0.0F}, {0.0F, 4.3F, 0.0F}, 24, 8);
    build.object("far");
    build.tiles(bright, {-40.0F, -20.0F, -40.0F}, {80.0F, 0.0F, 0.0F}, {0.0F, 40.0F, 0.0F}, 20, 10);
    addView(scene, 0.0F);
    return scene;
}

}  // namespace bench
