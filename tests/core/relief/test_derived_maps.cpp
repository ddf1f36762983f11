#include "core/image/error.h"
#include "core/relief/derived_maps.h"
#include "support/fields.h"

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

HeightField fieldOf(Image heights, float metresPerPixel = Waves::kCell) {
    HeightField field;
    field.heights = std::move(heights);
    field.metresPerPixel = metresPerPixel;
    return field;
}

/// The open part about a normal by casting rays through the field, for a few cells.
double openByRays(const HeightField& field, int x, int y) {
    const Image normals = normalsOf(field);
    const V3f n(normals(x, y, 0), normals(x, y, 1), normals(x, y, 2));
    const V3f t = std::abs(n.x) < 0.9F ? V3f(1, 0, 0).cross(n).normalized()
                                       : V3f(0, 1, 0).cross(n).normalized();
    const V3f b = n.cross(t);
    int open = 0;
    constexpr int kRays = 4000;
    for (int i = 0; i < kRays; ++i) {
        const double u = (i + 0.5) / kRays;
        const double phi = 2.39996322972865332 * i;
        const auto r = static_cast<float>(std::sqrt(u));
        const V3f d = t * (r * static_cast<float>(std::cos(phi))) +
                      b * (r * static_cast<float>(std::sin(phi))) +
                      n * static_cast<float>(std::sqrt(1.0 - u));
        bool hit = d.z <= 0.0F && std::hypot(d.x, d.y) < 1e-6F;
        const float flat = std::hypot(d.x, d.y);
        const float m = field.metresPerPixel;
        const float start = field.heights(x, y, 0);
        for (float s = 0.7F; !hit && flat > 1e-6F; s += 0.35F) {
            const float px = static_cast<float>(x) + d.x / flat * s;
            const float py = static_cast<float>(y) - d.y / flat * s;
            if (px < 0 || py < 0 || px > static_cast<float>(field.width() - 1) ||
                py > static_cast<float>(field.height() - 1))
                break;
            hit = heightAt(field.heights, px, py) > start + d.z / flat * s * m + 1e-7F;
        }
        open += hit ? 0 : 1;
    }
    return static_cast<double>(open) / kRays;
}

}  // namespace

TEST_CASE("normals of heights are the surface's own within 0.2 degrees", "[relief][derived]") {
    const Slopes slopes = slopesBy(Waves{}, 150, 120);
    const Image exact = normalsBy(slopes);
    const HeightField field = fieldOf(heightsBy(Waves{}, 150, 120));
    const Image found = normalsOf(field);
    double sum = 0.0;
    for (int y = 0; y < 120; ++y)
        for (int x = 0; x < 150; ++x) {
            const V3f a(exact(x, y, 0), exact(x, y, 1), exact(x, y, 2));
            const V3f b(found(x, y, 0), found(x, y, 1), found(x, y, 2));
            sum += std::acos(std::min(1.0, static_cast<double>(a.dot(b)))) * 57.29578;
        }
    CHECK(sum / (150 * 120) < 0.2);
    const Image down = normalsOf(field, true);
    CHECK(down(30, 40, 1) == -found(30, 40, 1));
}

TEST_CASE("slope and curvature of a ball are known", "[relief][derived]") {
    constexpr float kRadius = 0.3F;
    const HeightField field = fieldOf(filledBy(200, 200, [](int x, int y) {
        const float u = (static_cast<float>(x) - 100.0F) * 0.001F;
        const float v = (static_cast<float>(y) - 100.0F) * 0.001F;
        return std::sqrt(kRadius * kRadius - u * u - v * v);
    }));
    const Image slope = slopeOf(field);
    const Image curvature = curvatureOf(field);
    CHECK(slope(100, 100, 0) == Approx(0.0).margin(0.05));
    CHECK(slope(170, 100, 0) == Approx(std::asin(0.07 / 0.3) * 57.29578).margin(0.1));
    CHECK(curvature(100, 100, 0) == Approx(1.0 / 0.3).epsilon(0.05));
    CHECK(curvature(150, 120, 0) == Approx(1.0 / 0.3).epsilon(0.08));
}

TEST_CASE("the open part agrees with rays through the field", "[relief][derived]") {
    Waves waves;
    waves.high = 0.012F;
    const HeightField field = fieldOf(heightsBy(waves, 160, 160));
    const Image open = openPartOf(field, 32);
    for (const auto& [x, y] : {std::pair{80, 80}, {70, 64}, {90, 96}, {50, 100}, {110, 70}}) {
        INFO(x << ", " << y);
        CHECK(open(x, y, 0) == Approx(openByRays(field, x, y)).margin(0.03));
    }
    const HeightField flat = fieldOf(filledBy(20, 20, [](int, int) { return 0.4F; }));
    CHECK(openPartOf(flat)(10, 10, 0) == Approx(1.0).margin(1e-3));
    // A slope without anything above it is open, too.
    const HeightField tilted =
        fieldOf(filledBy(40, 40, [](int x, int) { return 0.001F * static_cast<float>(x); }));
    CHECK(openPartOf(tilted)(20, 20, 0) == Approx(1.0).margin(1e-3));
}

TEST_CASE("contours lie where heights cross their multiples", "[relief][derived]") {
    const HeightField field = fieldOf(
        filledBy(10, 2, [](int x, int) { return 0.0011F * static_cast<float>(x) + 1e-5F; }));
    const Image lines = contoursOf(field, 0.005F);
    for (int x = 0; x < 10; ++x)
        CHECK(lines(x, 0, 0) == (x == 4 ? 1.0F : x == 9 ? 0.0F : lines(x, 0, 0)));
    CHECK(lines(4, 0, 0) == 1.0F);
    CHECK(lines(2, 0, 0) == 0.0F);
}

TEST_CASE("every derived map suits one cell, a line and holes", "[relief][derived]") {
    for (const auto& [w, h] : {std::pair{1, 1}, {9, 1}, {1, 9}, {6, 5}}) {
        HeightField field = fieldOf(filledBy(w, h, [](int x, int y) {
            return x == 2 && y == 2 ? std::nanf("") : 0.001F * static_cast<float>(x * y);
        }));
        for (const DerivedMap& map : derivedMaps()) {
            INFO(map.id << " " << w << " x " << h);
            const Image made = map.make(field);
            CHECK(made.width() == w);
            const Image coded = map.encoded(made);
            for (int y = 0; y < h; ++y)
                for (int x = 0; x < w; ++x)
                    for (int c = 0; c < coded.channels(); ++c) {
                        CHECK(coded(x, y, c) >= 0.0F);
                        CHECK(coded(x, y, c) <= 1.0F);
                    }
        }
    }
    CHECK_THROWS_WITH(derivedMap("nothing"), Catch::Contains("use height, mesh, normal"));
}
