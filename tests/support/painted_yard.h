#pragma once

#include "support/scenes.h"

#include <array>
#include <cmath>

namespace noctis::test {

inline constexpr float kBoardAt = -60.0F;  ///< where the board stands
inline constexpr float kBoardHalfWide = 60.0F;
inline constexpr float kBoardLow = -40.0F;
inline constexpr float kBoardHigh = 80.0F;  ///< m from its lower to its upper edge

/// A wall far away, painted smoothly.
inline void addBoard(Scene& scene) {
    constexpr int kColumns = 64;
    constexpr int kRows = 36;
    Mesh mesh;
    mesh.name = "board";
    for (int j = 0; j <= kRows; ++j)
        for (int i = 0; i <= kColumns; ++i) {
            const float u = static_cast<float>(i) / kColumns;
            const float v = static_cast<float>(j) / kRows;
            mesh.positions.emplace_back(-kBoardHalfWide + 2.0F * kBoardHalfWide * u,
                                        kBoardLow + kBoardHigh * v, kBoardAt);
            mesh.colours.push_back({0.5F + 0.4F * std::sin(9.0F * u), 0.3F + 0.6F * v,
                                    0.5F + 0.3F * std::cos(7.0F * u + 5.0F * v)});
        }
    for (std::uint32_t j = 0; j < kRows; ++j)
        for (std::uint32_t i = 0; i < kColumns; ++i) {
            const std::uint32_t at = j * (kColumns + 1) + i;
            mesh.triangles.push_back({at, at + 1, at + kColumns + 2});
            mesh.triangles.push_back({at, at + kColumns + 2, at + kColumns + 1});
        }
    scene.instances.push_back(
        {static_cast<int>(scene.meshes.size()), static_cast<int>(scene.objects.size()), M44f()});
    scene.objects.push_back("board");
    scene.meshes.push_back(std::move(mesh));
}

/// Slanted beams, a ball and a roof.
inline void addThings(Scene& scene) {
    for (int i = 0; i < 5; ++i) {
        const float x = -2.4F + 1.2F * static_cast<float>(i);
        const float lean = 0.15F * static_cast<float>(i - 2);
        addQuad(scene, "beam", {x, -3, 0}, {x + 0.22F, -3, 0}, {x + 0.22F + lean, 3, 0},
                {x + lean, 3, 0});
    }
    addBall(scene, "ball", {0.5F, -0.4F, 1.5F}, 0.7F, 32);
    addQuad(scene, "roof", {-4, 1.1F, -1}, {0.3F, 1.1F, -1}, {-0.6F, 1.9F, -1.6F},
            {-3.4F, 1.9F, -1.6F});
}

inline Scene paintedYard(bool things, bool board) {
    Scene scene;
    scene.materials = {{.name = "matt", .roughness = 1.0F}};
    if (things)
        addThings(scene);
    if (board)
        addBoard(scene);
    Light sun;
    sun.kind = LightKind::Sun;
    sun.name = "sun";
    sun.direction = V3f(0.3F, -0.4F, -1.0F).normalized();
    sun.power = {3.0F, 3.0F, 3.0F};
    scene.lights = {sun};
    return scene;
}

}  // namespace noctis::test
