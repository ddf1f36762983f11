#include "core/image/error.h"
#include "core/relief/sources.h"
#include "core/settings/value_type.h"
#include "support/fields.h"
#include "support/scenes.h"

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

Settings settingsOf(const char* source, std::vector<std::pair<std::string, Value>> values = {}) {
    return settingsWith(reliefSource(source), values);
}

HeightField heightsFrom(const char* source, const ReliefInput& input,
                        std::vector<std::pair<std::string, Value>> values = {}) {
    return reliefSource(source).make(input, settingsOf(source, std::move(values)), {});
}

/// A picture of what rays meet on the surface y = height(x, z), found by halving.
template <typename Height>
PassSet seen(const Camera& camera, int width, int height, const Height& surface) {
    PassSet set;
    set.camera = camera;
    Image depth(width, height, {"Z"});
    float* to = depth.editPlane(0);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const CameraRay ray = cameraRay(camera, static_cast<float>(x) + 0.5F,
                                            static_cast<float>(y) + 0.5F, width, height);
            const auto above = [&](double t) {
                const double px =
                    static_cast<double>(ray.origin.x) + t * static_cast<double>(ray.direction.x);
                const double py =
                    static_cast<double>(ray.origin.y) + t * static_cast<double>(ray.direction.y);
                const double pz =
                    static_cast<double>(ray.origin.z) + t * static_cast<double>(ray.direction.z);
                return py - surface(px, pz);
            };
            double from = 0.0;
            double end = 0.0;
            for (double t = 0.0; t < 60.0; t += 0.02)
                if (above(t) < 0.0) {
                    end = t;
                    from = t - 0.02;
                    break;
                }
            for (int i = 0; i < 60 && end > 0.0; ++i) {
                const double middle = 0.5 * (from + end);
                (above(middle) < 0.0 ? end : from) = middle;
            }
            to[depth.rowStride() * y + x] =
                end > 0.0 ? static_cast<float>(end) * ray.planarPerDistance : kNothingHit;
        }
    Pass pass;
    pass.name = "depth";
    pass.kind = PassKind::Depth;
    pass.image = depth;
    set.put(std::move(pass));
    return set;
}

}  // namespace

TEST_CASE("a parallel view from above gives the world's heights", "[relief][surface]") {
    Scene scene;
    addGround(scene, 2.0F);
    addBall(scene, "ball", V3f(0.2F, 0.1F, -0.3F), 0.4F, 200);
    const Accelerator accelerator(scene);
    Box3f bounds(V3f(-1.0F, 0.0F, -1.0F), V3f(1.0F, 0.5F, 1.0F));
    const View view = viewFromAbove("above", bounds, 1.0F);
    const ReliefInput input = traceReliefInput(scene, accelerator, view, 128, 128);
    for (const char* source : {"depth", "position"}) {
        const HeightField field = heightsFrom(source, input);
        INFO(source);
        REQUIRE(field.width() == 128);
        CHECK(field.level == "the world's height 0");
        const Image& position = input.passes.find(PassKind::Position)->image;
        float most = 0.0F;
        for (int y = 0; y < 128; ++y)
            for (int x = 0; x < 128; ++x)
                most = std::max(most, std::abs(field.heights(x, y, 0) - position(x, y, 1)));
        CHECK(most < 1e-5F * 0.5F);
        // Where a cell lies in the scene.
        const V3f at = scenePoint(field, 40.0F, 90.0F, field.heights(40, 90, 0));
        CHECK(at.x == Approx(position(40, 90, 0)).margin(1e-4));
        CHECK(at.z == Approx(position(40, 90, 2)).margin(1e-4));
    }
}

TEST_CASE("a perspective view is laid onto the ground within a thousandth of its range",
          "[relief][surface]") {
    // Slopes to 45 degrees.
    const auto surface = [](double x, double z) {
        return 0.4 * std::sin(2.0 * x) * std::cos(1.5 * z);
    };
    const Camera camera = lookingAt(V3f(1.0F, 6.0F, 6.0F), V3f(0.0F, 0.0F, 0.0F), 0.6F);
    ReliefInput input;
    input.passes = seen(camera, 640, 480, surface);
    const HeightField field =
        heightsFrom("depth", input, {{"plane", std::string("ground")}, {"metres_a_pixel", 0.02F}});
    CHECK(field.metresPerPixel == 0.02F);
    std::size_t known = 0;
    double squares = 0.0;
    std::size_t wide = 0;
    for (int y = 0; y < field.height(); ++y)
        for (int x = 0; x < field.width(); ++x) {
            const float h = field.heights(x, y, 0);
            if (!std::isfinite(h))
                continue;
            const V3f at = scenePoint(field, static_cast<float>(x), static_cast<float>(y), h);
            const double off = static_cast<double>(h) -
                               surface(static_cast<double>(at.x), static_cast<double>(at.z));
            // A cell between two that are seen may lie in a dip that is not.
            const V3f truth(at.x, static_cast<float>(static_cast<double>(h) - off), at.z);
            const V3f pixel = project(camera, truth, 640, 480);
            const Image& depth = input.passes.find(PassKind::Depth)->image;
            const int u = std::clamp(static_cast<int>(pixel.x), 0, 639);
            const int v = std::clamp(static_cast<int>(pixel.y), 0, 479);
            if (pixel.z > depth(u, v, 0) + 0.04F)
                continue;
            squares += off * off;
            wide += std::abs(off) > 2e-3 * 0.8 ? 1 : 0;
            ++known;
        }
    CHECK(known > 20000);
    CHECK(std::sqrt(squares / static_cast<double>(known)) < 1e-3 * 0.8);
    CHECK(wide < known / 500);                           // beside what a crest hides
    CHECK(heightStatisticsOf(field.heights).holes > 0);  // the view is a trapezoid on the ground
}

TEST_CASE("what a near thing hides is a hole, and no slope is made over it", "[relief][surface]") {
    const auto surface = [](double x, double z) {
        return std::abs(x) < 0.3 && std::abs(z) < 0.3 ? 0.8 : 0.0;
    };
    const Camera camera = lookingAt(V3f(0.0F, 4.0F, 5.0F), V3f(0.0F), 0.7F);
    ReliefInput input;
    input.passes = seen(camera, 320, 240, surface);
    const HeightField field =
        heightsFrom("depth", input, {{"plane", std::string("ground")}, {"metres_a_pixel", 0.03F}});
    std::size_t between = 0;
    for (int y = 0; y < field.height(); ++y)
        for (int x = 0; x < field.width(); ++x) {
            const float h = field.heights(x, y, 0);
            const V3f at = scenePoint(field, static_cast<float>(x), static_cast<float>(y), 0.0F);
            // The wall that is seen stands in front; behind the box nothing may lie between.
            between += at.z < -0.35F && h > 0.05F && h < 0.75F ? 1 : 0;
        }
    CHECK(between == 0);
    const auto cellOf = [&](const V3f& p) {
        const V3f d = p - field.plane.origin;
        return std::pair{static_cast<int>(d.dot(field.plane.right) / field.metresPerPixel),
                         static_cast<int>(-d.dot(field.plane.up) / field.metresPerPixel)};
    };
    const auto [bx, by] = cellOf(V3f(0.0F, 0.0F, -0.7F));
    CHECK(std::isnan(field.heights(bx, by, 0)));
    const auto [tx, ty] = cellOf(V3f(0.0F, 0.0F, 0.0F));
    CHECK(field.heights(tx, ty, 0) == Approx(0.8F).margin(1e-3));
}

TEST_CASE("a plane is fitted to what most of the view shows", "[relief][surface]") {
    const auto surface = [](double x, double z) { return 0.3 * x + 0.1 * z + 1.0; };
    ReliefInput input;
    input.passes =
        seen(lookingAt(V3f(0.0F, 5.0F, 4.0F), V3f(0.0F, 1.0F, 0.0F), 0.6F), 160, 120, surface);
    const HeightField field = heightsFrom("depth", input, {{"metres_a_pixel", 0.05F}});
    const HeightStatistics statistics = heightStatisticsOf(field.heights);
    CHECK(std::max(std::abs(statistics.lowest), std::abs(statistics.highest)) < 2e-3F);
    const V3f wanted = V3f(-0.3F, 1.0F, -0.1F).normalized();
    CHECK(field.plane.normal.dot(wanted) > 0.9999F);
}

TEST_CASE("depth without a camera counts from the farthest surface", "[relief][surface]") {
    ReliefInput input;
    Pass pass;
    pass.name = "depth";
    pass.kind = PassKind::Depth;
    pass.image = Image::row({2.0F, 3.5F, kNothingHit, 5.0F}).select({0}, {"Z"});
    input.passes.put(std::move(pass));
    const HeightField field = heightsFrom("depth", input, {{"metres_a_pixel", 0.01F}});
    CHECK(field.heights(0, 0, 0) == 3.0F);
    CHECK(field.heights(3, 0, 0) == 0.0F);
    CHECK(std::isnan(field.heights(2, 0, 0)));
    CHECK(field.metresPerPixel == 0.01F);
}

TEST_CASE("a map of too many cells is refused before any work", "[relief][surface]") {
    ReliefInput input;
    input.passes = seen(lookingAt(V3f(0.0F, 5.0F, 4.0F), V3f(0.0F), 0.6F), 16, 12,
                        [](double, double) { return 0.0; });
    CHECK_THROWS_WITH(
        heightsFrom("depth", input, {{"plane", std::string("ground")}, {"metres_a_pixel", 1e-5F}}),
        Catch::Contains("more metres per pixel"));
}

TEST_CASE("normals alone give the form, and pinned ones its place", "[relief][surface]") {
    const Waves waves;
    const Slopes slopes = slopesBy(waves, 120, 90);
    ReliefInput input;
    Pass normal;
    normal.name = "normal";
    normal.kind = PassKind::Normal;
    normal.space = "camera";
    normal.image = normalsBy(slopes);
    input.passes.put(std::move(normal));
    const HeightField field = heightsFrom("normal", input, {{"metres_a_pixel", Waves::kCell}});
    CHECK(apart(field.heights, heightsBy(waves, 120, 90)) < 1e-3 * 0.02);
    CHECK(std::abs(heightStatisticsOf(field.heights).mean) < 1e-6);
    const HeightField flipped =
        heightsFrom("normal", input, {{"metres_a_pixel", Waves::kCell}, {"flip_y", true}});
    bool reported = false;
    for (const std::string& note : flipped.warnings)
        reported |= note.find("green") != std::string::npos;
    CHECK(reported);
}

TEST_CASE("a grey picture lies between two heights", "[relief][grey]") {
    ReliefInput input;
    input.stored = Image::row({0.0F, 0.25F, 1.0F});
    input.storedType = SampleType::Float;
    const HeightField field = heightsFrom("grey", input, {{"black", 0.5F}, {"white", -0.5F}});
    CHECK(field.heights(0, 0, 0) == 0.5F);
    CHECK(field.heights(1, 0, 0) == 0.25F);
    CHECK(field.heights(2, 0, 0) == -0.5F);
}

TEST_CASE("stairs of 8 bits are evened out and edges stay", "[relief][grey]") {
    const int w = 300;
    const auto truth = [](int x, int y) {
        const float wave = 0.5F + 0.08F * std::sin(0.02F * static_cast<float>(x)) *
                                      std::cos(0.03F * static_cast<float>(y));
        return x > 200 ? wave + 0.25F : wave;
    };
    ReliefInput input;
    input.stored =
        filledBy(w, w, [&](int x, int y) { return std::round(truth(x, y) * 255.0F) / 255.0F; });
    input.storedType = SampleType::Byte;
    const std::vector<std::pair<std::string, Value>> metres{{"black", 0.0F}, {"white", 1.0F}};
    const HeightField smooth = heightsFrom("grey", input, metres);
    auto stepped = metres;
    stepped.emplace_back("smooth_steps", false);
    const HeightField raw = heightsFrom("grey", input, stepped);
    const Image wanted = filledBy(w, w, truth);
    const double before = apart(raw.heights, wanted);
    const double after = apart(smooth.heights, wanted);
    CHECK(20.0 * std::log10(before / after) > 10.0);
    float moved = 0.0F;
    for (int y = 0; y < w; ++y)
        for (int x = 0; x < w; ++x)
            moved = std::max(moved, std::abs(smooth.heights(x, y, 0) - raw.heights(x, y, 0)));
    CHECK(moved <= 0.5001F / 255.0F);
}
