// Light in the air against the law, integrated step by step.
#include "core/image/error.h"
#include "core/steps/air_scattering.h"
#include "support/frames.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <numbers>

using namespace noctis;

namespace {

constexpr double kPi = std::numbers::pi;

struct Air {
    SceneLight light;
    double sigma = 0.05;
    double g = 0.4;
    double size = 0.01;
    TintByDistance tint{};
};

double phaseOf(double g, double cosine) {
    return (1.0 - g * g) / (4.0 * kPi * std::pow(1.0 + g * g - 2.0 * g * cosine, 1.5));
}

double spotOf(const SceneLight& light, const V3f& fromLamp) {
    if (light.kind != SceneLightKind::Spot)
        return 1.0;
    const double cosine =
        static_cast<double>(fromLamp.normalized().dot(-light.towards.normalized()));
    const double angle = std::acos(std::clamp(cosine, -1.0, 1.0)) * 180.0 / kPi;
    const double t =
        std::clamp((static_cast<double>(light.outer) - angle) /
                       (static_cast<double>(light.outer) - static_cast<double>(light.inner)),
                   0.0, 1.0);
    return t * t * (3.0 - 2.0 * t);
}

/// The red light along a ray by many steps, which are shorter near the lamp.
double marched(const Air& air, const V3f& eye, const V3f& v, double distance) {
    const double s = static_cast<double>(air.light.strength * air.light.colour.r);
    if (air.light.kind == SceneLightKind::Sun) {
        const double cosine = static_cast<double>(air.light.towards.normalized().dot(v));
        return s * phaseOf(air.g, cosine) * (1.0 - std::exp(-air.sigma * distance));
    }
    distance = std::min(distance, 4000.0);
    double sum = 0.0;
    double t = 0.0;
    while (t < distance) {
        const V3f here = eye + v * static_cast<float>(t);
        const double near =
            std::max(static_cast<double>((here - air.light.position).length()), air.size);
        const double step = std::min(0.002 * near, distance - t);
        const double middle = t + 0.5 * step;
        const V3f fromLamp = eye + v * static_cast<float>(middle) - air.light.position;
        const double r = static_cast<double>(fromLamp.length());
        const double cosine = -static_cast<double>(fromLamp.dot(v)) / std::max(r, 1e-9);
        const double far =
            air.tint.reach > 0.0F ? std::min(r / static_cast<double>(air.tint.reach), 1.0) : 0.0;
        const double tint = (1.0 - far) * static_cast<double>(air.tint.near.r) +
                            far * static_cast<double>(air.tint.far.r);
        sum += tint * step * air.sigma * phaseOf(air.g, cosine) *
               std::exp(-air.sigma * (middle + r)) * spotOf(air.light, fromLamp) /
               std::pow(std::max(r, air.size), 2.0);
        t += std::max(step, 1e-7);
    }
    return s * sum;
}

/// The worst difference over rays that look at the light, past it and away from it, over its brightest.
double worstOf(const Air& air, const V3f& eye) {
    const AirScattering scattering(air.light, static_cast<float>(air.sigma),
                                   static_cast<float>(air.g), static_cast<float>(air.size),
                                   air.tint);
    double brightest = 0.0;
    double worst = 0.0;
    for (const float yaw : {0.0F, 0.0004F, 0.003F, 0.02F, 0.1F, 0.4F, 1.0F, 1.6F, 2.4F, 3.1F})
        for (const float pitch : {0.0F, 0.15F, -0.5F})
            for (const double distance : {0.7, 3.0, 9.0, 40.0, 3000.0}) {
                const V3f v(std::sin(yaw) * std::cos(pitch), std::sin(pitch),
                            -std::cos(yaw) * std::cos(pitch));
                const double truth = marched(air, eye, v, distance);
                const LinearRgb ours = scattering.along(eye, v, static_cast<float>(distance));
                brightest = std::max(brightest, truth);
                worst = std::max(worst, std::abs(static_cast<double>(ours.r) - truth));
            }
    REQUIRE(brightest > 0.0);
    return worst / brightest;
}

Air lampAhead(SceneLightKind kind = SceneLightKind::Point) {
    Air air;
    air.light.kind = kind;
    air.light.position = V3f(0.0F, 0.0F, -6.0F);
    air.light.strength = 3.0F;
    air.light.colour = {0.8F, 0.5F, 0.2F};
    return air;
}

}  // namespace

TEST_CASE("a lamp's halo is that of the law", "[airlight]") {
    for (const double g : {-0.8, -0.3, 0.0, 0.5, 0.8})
        for (const double sigma : {0.002, 0.05, 0.6}) {
            CAPTURE(g, sigma);
            Air air = lampAhead();
            air.g = g;
            air.sigma = sigma;
            CHECK(worstOf(air, V3f(0, 0, 0)) < 1e-3);
            CHECK(worstOf(air, V3f(2.0F, 1.0F, 0.5F)) < 1e-3);
        }
}

TEST_CASE("a large lamp's halo gets no brighter within it", "[airlight]") {
    for (const double size : {0.001, 0.2, 1.5}) {
        CAPTURE(size);
        Air air = lampAhead();
        air.size = size;
        CHECK(worstOf(air, V3f(0, 0, 0)) < 1e-3);
        CHECK(worstOf(air, V3f(0.1F, 0.0F, -5.5F)) < 1e-3);  // in it, or close by
    }
}

TEST_CASE("a spot's beam is that of the law, from all sides", "[airlight]") {
    for (const V3f& towards : {V3f(-1, 0, 0), V3f(0, 0, -1), V3f(0, 0, 1), V3f(-0.4F, 0.8F, -0.3F)})
        for (const double g : {-0.5, 0.7}) {
            CAPTURE(towards.x, towards.y, towards.z, g);
            Air air = lampAhead(SceneLightKind::Spot);
            air.light.towards = towards;
            air.light.inner = 12.0F;
            air.light.outer = 30.0F;
            air.g = g;
            CHECK(worstOf(air, V3f(0, 0, 0)) < 1e-3);
            CHECK(worstOf(air, V3f(0.5F, -0.2F, 1.0F)) < 1e-3);
        }
}

TEST_CASE("a sun's glow is that of the law, and an endless ray has all of it", "[airlight]") {
    Air air;
    air.light.kind = SceneLightKind::Sun;
    air.light.towards = V3f(0.2F, 0.3F, -1.0F);
    for (const double g : {-0.8, 0.0, 0.8}) {
        air.g = g;
        CHECK(worstOf(air, V3f(0, 0, 0)) < 1e-5);
    }
    const AirScattering scattering(air.light, 0.1F, 0.0F, 0.01F);
    CHECK(scattering.along(V3f(0, 0, 0), V3f(0, 0, -1), kNothingHit).r ==
          Approx(1.0 / (4.0 * kPi)).epsilon(1e-4));
}

TEST_CASE("the tint goes from the near colour to the far one", "[airlight]") {
    Air air = lampAhead();
    air.tint = {{1.0F, 1.0F, 1.0F}, {0.1F, 1.0F, 1.0F}, 2.5F};
    CHECK(worstOf(air, V3f(0, 0, 0)) < 1e-3);
    CHECK(worstOf(air, V3f(0.3F, 0.0F, 3.0F)) < 1e-3);
}

TEST_CASE("an area counts as a lamp of its power, a dome is refused", "[airlight]") {
    SceneLight area;
    area.kind = SceneLightKind::Area;
    area.position = V3f(1.0F, 0.0F, -4.0F);
    area.size = 0.5F;
    area.strength = 8.0F;
    SceneLight lamp = area;
    lamp.kind = SceneLightKind::Point;
    lamp.strength = 8.0F * 0.25F / 4.0F;
    const V3f v(0, 0, -1);
    CHECK(AirScattering(area, 0.1F, 0.2F, 0.01F).along(V3f(0, 0, 0), v, 9.0F).r ==
          AirScattering(lamp, 0.1F, 0.2F, 0.01F).along(V3f(0, 0, 0), v, 9.0F).r);
    SceneLight dome;
    dome.kind = SceneLightKind::Dome;
    CHECK_THROWS_AS(AirScattering(dome, 0.1F, 0.2F, 0.01F), Error);
}

TEST_CASE("the air's light is added, ends at surfaces and at its reach, and leaves alpha",
          "[airlight]") {
    PassSet set = test::greyFrame(40, 20, 0.2F);
    set.put(test::passOf({PassKind::Depth, {}}, 40, 20,
                         [](int x, int, int) { return x < 20 ? 3.0F : 30.0F; }));
    const auto made = [&](const std::string& settings) {
        return test::finished(
            set, test::recipeOf(R"({"step":"airlight","settings":{"kind":"sun","towards":[0,0,-1],)"
                                R"("density":0.05,"scatter":0,)" +
                                settings + R"("strength":2}})"));
    };
    const Image all = made("");
    const auto added = [&](double d) { return 2.0 / (4.0 * kPi) * (1.0 - std::exp(-0.05 * d)); };
    CHECK(all(19, 10, 1) == Approx(0.2 + added(3.0)).epsilon(1e-3));
    CHECK(all(20, 10, 1) == Approx(0.2 + added(30.0)).epsilon(1e-3));
    const Image near = made(R"("reach":10,)");
    CHECK(near(19, 10, 1) == Approx(0.2 + added(3.0)).epsilon(1e-3));
    CHECK(near(20, 10, 1) == Approx(0.2 + added(10.0)).epsilon(1e-3));
    const Image none = made(R"("density":0,)");
    CHECK(none(5, 5, 0) == set.find(PassKind::Beauty)->image(5, 5, 0));
}

TEST_CASE("a row of pixels gets what each ray gets by itself", "[steps][airlight][truth]") {
    constexpr int kAcross = 150;
    constexpr int kDown = 60;
    const Camera camera = lookingAt(V3f(0, 1.5F, 6), V3f(0, 1, 0), 0.9F);
    const FrameRays rays(camera, kAcross, kDown);
    std::vector<SceneLight> lights(5);
    lights[0].kind = SceneLightKind::Sun;
    lights[0].towards = V3f(0.3F, 0.2F, -0.9F);
    for (std::size_t i = 1; i < lights.size(); ++i) {
        lights[i].kind = i == 1 ? SceneLightKind::Point : SceneLightKind::Spot;
        lights[i].position = V3f(0.4F, 1.2F, i == 4 ? 2.5F : -1.0F);
        lights[i].towards = V3f(i == 2 ? -0.8F : 0.2F, i == 3 ? 1.0F : 0.3F, i == 4 ? -1.0F : 0.1F);
        lights[i].inner = i == 3 ? 3.0F : 20.0F;
        lights[i].outer = i == 3 ? 5.0F : 40.0F;
    }
    for (const SceneLight& light : lights)
        for (const float scatter : {-0.8F, 0.0F, 0.8F})
            for (const float sigma : {0.01F, 0.3F}) {
                const AirScattering air(light, sigma, scatter, 0.01F);
                double most = 0.0;
                double apart = 0.0;
                for (int y = 0; y < kDown; ++y) {
                    std::vector<float> metres;
                    for (int x = 0; x < kAcross; ++x)
                        metres.push_back(x % 7 == 0   ? kNothingHit
                                         : x % 5 == 0 ? 0.0F
                                                      : 0.4F * static_cast<float>(x % 40));
                    std::vector<float> share(kAcross, 0.5F);
                    std::vector<float> r(kAcross, 0.0F);
                    std::vector<float> g(kAcross, 0.0F);
                    std::vector<float> b(kAcross, 0.0F);
                    air.addRow(rays.row(0, y), metres.data(), share.data(), r.data(), g.data(),
                               b.data(), kAcross);
                    for (std::size_t x = 0; x < kAcross; ++x) {
                        const CameraRay ray = rays.through(static_cast<float>(x) + 0.5F,
                                                           static_cast<float>(y) + 0.5F);
                        const double one =
                            static_cast<double>(air.along(ray.origin, ray.direction, metres[x]).r);
                        most = std::max(most, one);
                        apart =
                            std::isfinite(r[x])
                                ? std::max(apart, std::abs(2.0 * static_cast<double>(r[x]) - one))
                                : 1e9;
                    }
                }
                INFO(lightKindId(light.kind) << ", scatter " << scatter << ", density " << sigma);
                REQUIRE(most > 0.0);
                CHECK(apart < 1e-3 * most);
            }
}
