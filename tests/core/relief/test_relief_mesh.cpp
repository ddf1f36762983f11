#include "core/image/error.h"
#include "core/relief/relief_input.h"
#include "core/relief/relief_mesh.h"
#include "core/relief/sources.h"
#include "core/scene/import.h"
#include "support/fields.h"
#include "support/files.h"

#include <map>

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

HeightField wavyField(int width = 60, int height = 44) {
    HeightField field;
    field.heights = heightsBy(Waves{}, width, height);
    field.metresPerPixel = Waves::kCell;
    return field;
}

/// Whether every edge is walked once in each direction: closed, and all triangles turned one way.
bool isClosed(const ReliefMesh& mesh) {
    std::map<std::pair<std::uint32_t, std::uint32_t>, int> edges;
    for (const auto& t : mesh.triangles)
        for (int i = 0; i < 3; ++i)
            ++edges[{t[static_cast<std::size_t>(i)], t[static_cast<std::size_t>((i + 1) % 3)]}];
    for (const auto& [edge, count] : edges)
        if (edges[{edge.second, edge.first}] != count)
            return false;
    return true;
}

/// Positive where triangles are seen from outside.
double volumeOf(const ReliefMesh& mesh) {
    double volume = 0.0;
    for (const auto& t : mesh.triangles)
        volume += static_cast<double>(
                      mesh.positions[t[0]].dot(mesh.positions[t[1]].cross(mesh.positions[t[2]]))) /
                  6.0;
    return volume;
}

}  // namespace

TEST_CASE("a closed solid has no open edge and its walls face out", "[relief][mesh]") {
    const HeightField field = wavyField();
    const ReliefMesh mesh = reliefMesh(field, {});
    CHECK(isClosed(mesh));
    // A slab from the lowest height less the base up to the mean.
    const double area = 59e-3 * 43e-3;
    CHECK(volumeOf(mesh) == Approx(area * (0.01 + 0.005)).epsilon(0.05));
    CHECK(mesh.triangles.size() == 2 * (2 * 59 * 43) + 2 * 2 * (59 + 43));
}

TEST_CASE("a solid with a hole in it is closed around the hole", "[relief][mesh]") {
    HeightField field = wavyField();
    float* z = field.heights.editPlane(0);
    for (int y = 10; y < 20; ++y)
        for (int x = 15; x < 40; ++x)
            z[field.heights.rowStride() * y + x] = std::nanf("");
    CHECK(isClosed(reliefMesh(field, {})));
    CHECK(volumeOf(reliefMesh(field, {})) > 0.0);
}

TEST_CASE("a thinned solid keeps within the height error asked for", "[relief][mesh]") {
    const HeightField field = wavyField(120, 100);
    const std::size_t all = reliefMesh(field, {}).triangles.size();
    for (const float error : {2e-4F, 1e-3F}) {
        ReliefMeshSettings settings;
        settings.heightError = error;
        const ReliefMesh mesh = reliefMesh(field, settings);
        INFO(error);
        CHECK(mesh.heightError <= error);
        CHECK(mesh.triangles.size() < all / 2);
        CHECK(isClosed(mesh));
        CHECK(volumeOf(mesh) > 0.0);
    }
    ReliefMeshSettings budget;
    budget.triangles = 2000;
    const ReliefMesh mesh = reliefMesh(field, budget);
    CHECK(mesh.triangles.size() <= 2000);
    CHECK(mesh.heightError > 0.0F);
    budget.triangles = 20;
    budget.heightError = 1e-5F;
    CHECK_THROWS_WITH(reliefMesh(field, budget), Catch::Contains("20 triangles can't stay"));
}

TEST_CASE("an open solid is its top alone", "[relief][mesh]") {
    ReliefMeshSettings settings;
    settings.closed = false;
    const ReliefMesh mesh = reliefMesh(wavyField(), settings);
    CHECK(mesh.triangles.size() == 2 * 59 * 43);
    CHECK_FALSE(isClosed(mesh));
    HeightField holes;
    holes.heights = filledBy(5, 5, [](int, int) { return std::nanf(""); });
    CHECK_THROWS_WITH(reliefMesh(holes, {}), Catch::Contains("nothing to make a solid of"));
}

TEST_CASE("a solid traced from above is the map again", "[relief][mesh][tracer]") {
    const HeightField field = wavyField();
    const Scene scene = sceneOf(reliefMesh(field, {}), "waves");
    const Accelerator accelerator(scene);
    View above{"above", lookingAt(V3f(0.0F, 1.0F, 0.0F), V3f(0.0F), 0.5F)};
    above.camera.cameraToWorld = M44f(1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 1, 0, 1);
    above.camera.orthographicHeight = 0.044F;
    const ReliefInput input = traceReliefInput(scene, accelerator, above, 60, 44);
    const HeightField again =
        reliefSource("depth").make(input, initialSettings(reliefSource("depth").parameters), {});
    CHECK(again.metresPerPixel == Approx(Waves::kCell));
    const float step = 0.02F / 65535.0F;
    float most = 0.0F;
    for (int y = 1; y + 1 < 44; ++y)
        for (int x = 1; x + 1 < 60; ++x)
            most = std::max(most, std::abs(again.heights(x, y, 0) - field.heights(x, y, 0)));
    CHECK(most <= 2.0F * step);
}

TEST_CASE("solids read back from every format they are written in", "[relief][mesh][file]") {
    const Folder folder;
    const ReliefMesh mesh = reliefMesh(wavyField(20, 16), {});
    for (const std::string& ending : meshEndings()) {
        const auto path = folder / ("solid 1" + ending);
        writeReliefMesh(path, mesh, "solid");
        const Scene scene = importScene(path);
        INFO(ending);
        CHECK(triangleCount(scene) == mesh.triangles.size());
        CHECK(boundsOf(scene).size().x == Approx(0.019).epsilon(1e-3));
    }
    CHECK_THROWS_WITH(writeReliefMesh(folder / "solid.doc", mesh, "solid"),
                      Catch::Contains(".glb, .ply, .obj or .stl"));
}
