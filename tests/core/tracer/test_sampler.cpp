#include "core/tracer/directions.h"
#include "core/tracer/sampler.h"
#include "support/worse.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("samples are the same for the same pixel, sample and seed, and others otherwise",
          "[tracer][sampler]") {
    const auto draw = [](int x, std::uint32_t i, std::uint32_t seed) {
        PixelSampler sampler(x, 3, i, seed);
        (void)sampler.next2();
        return sampler.next2();
    };
    CHECK(draw(5, 7, 1).x == draw(5, 7, 1).x);
    CHECK(draw(5, 7, 1).y == draw(5, 7, 1).y);
    CHECK(draw(5, 7, 1).x != draw(6, 7, 1).x);
    CHECK(draw(5, 7, 1).x != draw(5, 8, 1).x);
    CHECK(draw(5, 7, 1).x != draw(5, 7, 2).x);
}

TEST_CASE("sixteen samples fill a grid of four by four, and each axis evenly",
          "[tracer][sampler]") {
    for (int pixel = 0; pixel < 20; ++pixel)
        for (int dimension = 0; dimension < 3; ++dimension) {
            std::set<int> cells;
            std::set<int> columns;
            std::set<int> rows;
            for (std::uint32_t i = 0; i < 16; ++i) {
                PixelSampler sampler(pixel, 11, i, 5);
                Sample2 s{};
                for (int d = 0; d <= dimension; ++d)
                    s = sampler.next2();
                REQUIRE((s.x >= 0.0F && s.x < 1.0F && s.y >= 0.0F && s.y < 1.0F));
                cells.insert(static_cast<int>(s.x * 4.0F) * 4 + static_cast<int>(s.y * 4.0F));
                columns.insert(static_cast<int>(s.x * 16.0F));
                rows.insert(static_cast<int>(s.y * 16.0F));
            }
            CHECK(cells.size() == 16);
            CHECK(columns.size() == 16);
            CHECK(rows.size() == 16);
        }
}

TEST_CASE("an integral by these samples is far better than by plain random ones",
          "[tracer][sampler]") {
    constexpr int kSamples = 256;
    double worst = 0.0;
    for (int pixel = 0; pixel < 50; ++pixel) {
        double sum = 0.0;
        for (std::uint32_t i = 0; i < kSamples; ++i) {
            PixelSampler sampler(pixel, 2, i, 9);
            const Sample2 s = sampler.next2();
            sum += std::sin(3.0 * static_cast<double>(s.x)) * static_cast<double>(s.y) / kSamples;
        }
        worst = test::worse(worst, std::abs(sum - 0.5 * (1.0 - std::cos(3.0)) / 3.0));
    }
    CHECK(worst < 0.004);  // plain random sampling: about 0.02 in the mean square alone
}

TEST_CASE("a frame about any normal is orthonormal and right-handed", "[tracer][directions]") {
    for (const V3f& raw : {V3f(0, 0, 1), V3f(0, 0, -1), V3f(1, 0, 0), V3f(0, -1, 0),
                           V3f(0.3F, -0.5F, -0.8F), V3f(1e-6F, 0, -1)}) {
        const V3f n = raw.normalized();
        const TangentFrame frame(n);
        CHECK(frame.tangent.length() == Approx(1.0F).epsilon(1e-5));
        CHECK(frame.tangent.dot(n) == Approx(0.0F).margin(1e-5));
        CHECK(frame.tangent.cross(frame.bitangent).equalWithAbsError(n, 1e-5F));
        const V3f v(0.2F, -0.7F, 0.4F);
        CHECK(frame.toLocal(frame.toWorld(v)).equalWithAbsError(v, 1e-5F));
    }
}

TEST_CASE("a square maps evenly onto the disc and the cone", "[tracer][directions]") {
    constexpr int kSide = 64;
    std::array<int, 4> quadrants{};
    int inner = 0;
    double height = 0.0;
    for (int i = 0; i < kSide; ++i)
        for (int j = 0; j < kSide; ++j) {
            const float u = (static_cast<float>(i) + 0.5F) / kSide;
            const float v = (static_cast<float>(j) + 0.5F) / kSide;
            const V2f p = discFromSquare(u, v);
            REQUIRE(p.length() <= 1.0001F);
            ++quadrants[static_cast<std::size_t>((p.x > 0.0F ? 1 : 0) + (p.y > 0.0F ? 2 : 0))];
            inner += p.length() < std::sqrt(0.5F) ? 1 : 0;
            const V3f d = coneFromSquare(u, v, 0.5F);
            REQUIRE(d.z >= 0.4999F);
            height += static_cast<double>(d.z) / (kSide * kSide);
        }
    for (const int count : quadrants)
        CHECK(count == Approx(kSide * kSide / 4).epsilon(0.02));
    CHECK(inner == Approx(kSide * kSide / 2).epsilon(0.05));
    CHECK(height == Approx(0.75).epsilon(0.01));
}
