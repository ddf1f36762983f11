#include "core/scene/import.h"
#include "harness.h"

#include <cmath>
#include <fstream>

#include <assimp/Importer.hpp>
#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <fmt/format.h>
#include <unistd.h>

namespace bench {

namespace {

constexpr int kSide = 500;

/// Hills of half a million triangles, without normals, as scans come.
std::filesystem::path hills() {
    const auto path =
        std::filesystem::temp_directory_path() / fmt::format("noctis-bench-{}.obj", ::getpid());
    std::ofstream out(path);
    for (int j = 0; j <= kSide; ++j)
        for (int i = 0; i <= kSide; ++i)
            out << fmt::format("v {:.3f} {:.4f} {:.3f}\n", 0.5 * i,
                               8.0 * std::sin(0.04 * i) * std::cos(0.06 * j), 0.5 * j);
    for (int j = 0; j < kSide; ++j)
        for (int i = 0; i < kSide; ++i) {
            const int a = j * (kSide + 1) + i + 1;
            const int b = a + kSide + 1;
            out << fmt::format("f {0} {1} {2}\nf {2} {1} {3}\n", a, b, a + 1, b + 1);
        }
    return path;
}

}  // namespace

void sceneReading(const Filter& wanted, std::vector<Row>& rows) {
    const std::string name = "scene without normals";
    if (!wanted(name))
        return;
    const std::filesystem::path path = hills();
    const auto check = [&]() -> std::string {
        const noctis::Scene scene = noctis::importScene(path);
        if (noctis::triangleCount(scene) != 2 * kSide * kSide)
            return "triangles are missing";
        for (const noctis::Mesh& mesh : scene.meshes)
            for (const noctis::V3f& normal : mesh.normals)
                if (std::abs(normal.y) < 0.6F)
                    return "normals that aren't those of hills";
        return {};
    };
    rows.push_back(
        run({name, check, [&] { (void)noctis::importScene(path); },
             [&] {
                 Assimp::Importer importer;
                 (void)importer.ReadFile(path.string(), aiProcess_Triangulate |
                                                            aiProcess_JoinIdenticalVertices |
                                                            aiProcess_SortByPType);
             },
             3.5, false,
             "Assimp alone, once and without normals; ours is tried first in a process of "
             "its own",
             5}));
    std::filesystem::remove(path);
}

}  // namespace bench
