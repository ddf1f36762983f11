#include "core/tracer/denoise.h"
#include "core/tracer/denoise_guides.h"

#include "core/image/error.h"
#include "support/files.h"
#include "support/render.h"
#include "support/scenes.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;
using test::imageOf;
using test::looking;
using test::rendered;

namespace {

Scene stepped() {
    Scene scene;
    test::addGround(scene, 30.0F);
    test::addBall(scene, "ball", V3f(0, 0.8F, 0), 0.8F, 32);
    test::addQuad(scene, "wall", V3f(-6, 0, -3), V3f(6, 0, -3), V3f(6, 4, -3), V3f(-6, 4, -3));
    return scene;
}

double psnr(const Image& a, const Image& b) {
    double sum = 0.0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x)
            sum += std::pow(static_cast<double>(a(x, y, 0) - b(x, y, 0)), 2.0);
    return -10.0 * std::log10(sum / (a.width() * a.height()));
}

/// What cleaning gains at least at 16 samples, dB.
constexpr double kGain = 8.0;

}  // namespace

TEST_CASE("cleaned occlusion of 16 samples is 8 dB nearer to 4096 than the raw one",
          "[tracer][denoise]") {
    const View view = looking(V3f(1, 2.2F, 5), V3f(0, 0.9F, 0));
    const auto of = [&](const std::string& samples, const std::string& clean) {
        return rendered(stepped(), view, {"occlusion"},
                        {.width = 240,
                         .height = 160,
                         .settings = {"occlusion.samples=" + samples, "occlusion.denoise=" + clean,
                                      "occlusion.keep_raw=on"}});
    };
    const PassSet truth = of("4096", "0");
    const PassSet clean = of("16", "1");
    const double raw = psnr(imageOf(clean, "occlusion.raw"), imageOf(truth, "occlusion"));
    const double cleaned = psnr(imageOf(clean, "occlusion"), imageOf(truth, "occlusion"));
    CAPTURE(raw, cleaned);
    CHECK(cleaned - raw > kGain);
}

TEST_CASE("cleaning does not bleed across a step in depth", "[tracer][denoise]") {
    // Left a near surface with 0, right a far one with 1, both noisy.
    constexpr int kSide = 64;
    DenoiseGuides guides;
    guides.position = Image(kSide, kSide, {"X", "Y", "Z"});
    guides.normal = Image(kSide, kSide, {"X", "Y", "Z"});
    guides.footprint = Image(kSide, kSide, {"Y"}, 0.01F);
    Image noisy(kSide, kSide, {"Y"});
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const std::ptrdiff_t at = noisy.rowStride() * y + x;
            guides.position.editPlane(0)[at] = static_cast<float>(x) * 0.01F;
            guides.position.editPlane(1)[at] = static_cast<float>(y) * 0.01F;
            guides.position.editPlane(2)[at] = x < kSide / 2 ? 0.0F : -1.0F;
            guides.normal.editPlane(2)[at] = 1.0F;
            const float noise = static_cast<float>((x * 7 + y * 13) % 11) / 20.0F - 0.25F;
            noisy.editPlane(0)[at] = (x < kSide / 2 ? 0.0F : 1.0F) + noise;
        }
    const Image clean = denoised(noisy, guides, 1.0F);
    for (int y = 8; y < kSide - 8; ++y) {
        CHECK(std::abs(clean(kSide / 2 - 1, y, 0)) < 0.08F);
        CHECK(std::abs(clean(kSide / 2, y, 0) - 1.0F) < 0.08F);
    }
}

TEST_CASE("cleaning by halves is half way, and by nothing changes nothing", "[tracer][denoise]") {
    const PassSet set =
        rendered(stepped(), looking(V3f(1, 2.2F, 5), V3f(0, 0.9F, 0)),
                 {"position", "normal", "occlusion"}, {.settings = {"occlusion.samples=4"}});
    const DenoiseGuides guides{
        imageOf(set, "position"), imageOf(set, "normal"), Image(48, 48, {"Y"}, 0.02F), {}, {}};
    const Image& noisy = imageOf(set, "occlusion");
    const Image full = denoised(noisy, guides, 1.0F);
    const Image half = denoised(noisy, guides, 0.5F);
    CHECK(test::sameBits(denoised(noisy, guides, 0.0F), noisy));
    CHECK_FALSE(test::sameBits(full, noisy));
    for (const auto& [x, y] : {std::pair(10, 40), std::pair(24, 24), std::pair(40, 12)})
        CHECK(half(x, y, 0) == Approx(0.5F * (noisy(x, y, 0) + full(x, y, 0))).margin(1e-5));
    const DenoiseGuides wrong{
        imageOf(set, "position"), imageOf(set, "normal"), Image(4, 4, {"Y"}, 0.02F), {}, {}};
    CHECK_THROWS_AS(denoised(noisy, wrong, 1.0F), Error);
}

TEST_CASE("the guides are what is seen through the pixels' centres", "[tracer][denoise]") {
    Scene scene;
    const V3f middle(0.5F, 0, -6);
    test::addBall(scene, "ball", middle, 1.5F, 64);
    scene.materials[0].baseColour = {0.2F, 0.4F, 0.6F};
    const Accelerator accelerator(scene);
    const Camera camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -5), 0.8F);
    const Lighting light(scene, {}, Sky{});
    const std::vector<Tile> leftHalf{{0, 0, 20, 30}};
    const DenoiseGuides guides = seenThroughCentres(accelerator, camera, 40, 30, leftHalf, &light);
    const float widePerMetre = 2.0F * std::tan(0.4F) / 30.0F;
    int seen = 0;
    for (int y = 0; y < 30; ++y)
        for (int x = 0; x < 40; ++x) {
            const auto at = [&](const Image& image) {
                return V3f(image(x, y, 0), image(x, y, 1), image(x, y, 2));
            };
            if (at(guides.normal).length() < 0.5F) {
                CHECK(at(guides.albedo) == V3f(0.0F));
                continue;
            }
            ++seen;
            CHECK(x < 20);
            const V3f out = at(guides.position) - middle;
            CHECK(out.length() == Approx(1.5F).margin(0.01));
            CHECK(at(guides.normal).dot(out.normalized()) > 0.999F);
            CHECK(guides.footprint(x, y, 0) == Approx(-at(guides.position).z * widePerMetre));
            CHECK(at(guides.albedo).equalWithAbsError(V3f(0.2F, 0.4F, 0.6F), 1e-5F));
        }
    CHECK(seen > 40);
    CHECK(seenThroughCentres(accelerator, camera, 40, 30, leftHalf, nullptr).albedo.empty());
}

TEST_CASE("a flat picture stays flat, and nothing hit keeps to itself", "[tracer][denoise]") {
    DenoiseGuides guides{Image(32, 32, {"X", "Y", "Z"}),
                         Image(32, 32, {"X", "Y", "Z"}),
                         Image(32, 32, {"Y"}, 0.01F),
                         {},
                         {}};
    Image picture(32, 32, {"R", "G", "B"}, 0.4F);
    // Left a surface, right the sky with a moon of a few pixels in it.
    for (int y = 0; y < 32; ++y)
        for (int x = 0; x < 32; ++x) {
            const std::ptrdiff_t at = picture.rowStride() * y + x;
            guides.position.editPlane(0)[at] = static_cast<float>(x) * 0.01F;
            guides.position.editPlane(1)[at] = static_cast<float>(y) * 0.01F;
            guides.normal.editPlane(2)[at] = x < 16 ? 1.0F : 0.0F;
            if (x >= 16)
                picture.editPlane(2)[at] =
                    (x - 20) * (x - 20) + (y - 9) * (y - 9) < 8 ? 90.0F : 1.0F;
        }
    const Image clean = denoised(picture, guides, 1.0F);
    for (int y = 0; y < 32; ++y)
        for (int x = 0; x < 32; ++x)
            for (int c = 0; c < 3; ++c)
                if (x < 16)
                    CHECK(clean(x, y, c) == Approx(0.4F));
                else
                    CHECK(clean(x, y, c) == picture(x, y, c));
}

TEST_CASE("small things, which have nothing to be smoothed with, get more rays",
          "[tracer][denoise]") {
    // Slats a pixel wide before a ground: no neighbour shows the same surface.
    Scene scene;
    test::addGround(scene, 20.0F);
    for (int i = 0; i < 30; ++i) {
        const float x = -1.5F + 0.1F * static_cast<float>(i);
        test::addQuad(scene, "slat", {x, 0, 0.3F * static_cast<float>(i % 3)},
                      {x + 0.02F, 0, 0.3F * static_cast<float>(i % 3)},
                      {x + 0.02F, 1, 0.3F * static_cast<float>(i % 3)},
                      {x, 1, 0.3F * static_cast<float>(i % 3)});
    }
    const View view = looking(V3f(0, 0.5F, 4), V3f(0, 0.5F, 0), 0.3F);
    const auto of = [&](const std::string& samples, const std::string& clean) {
        return rendered(
            scene, view, {"occlusion"},
            {.width = 120,
             .height = 40,
             .settings = {"occlusion.samples=" + samples, "occlusion.denoise=" + clean}});
    };
    const PassSet truth = of("2048", "0");
    const double raw = psnr(imageOf(of("16", "0"), "occlusion"), imageOf(truth, "occlusion"));
    const double clean = psnr(imageOf(of("16", "1"), "occlusion"), imageOf(truth, "occlusion"));
    CAPTURE(raw, clean);
    CHECK(clean > raw + 6.0);
}

TEST_CASE("support is full within a plain surface and none for a lone pixel", "[tracer][denoise]") {
    constexpr int kSide = 24;
    DenoiseGuides guides{Image(kSide, kSide, {"X", "Y", "Z"}),
                         Image(kSide, kSide, {"X", "Y", "Z"}),
                         Image(kSide, kSide, {"Y"}, 0.02F),
                         {},
                         Image(kSide, kSide, {"Y"}, 16.0F)};
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const std::ptrdiff_t at = guides.normal.rowStride() * y + x;
            const bool alone = x == 12 && y == 12;
            guides.position.editPlane(0)[at] = 0.02F * static_cast<float>(x);
            guides.position.editPlane(1)[at] = 0.02F * static_cast<float>(y);
            guides.position.editPlane(2)[at] = alone ? 1.0F : 0.0F;
            guides.normal.editPlane(alone ? 0 : 2)[at] = 1.0F;
        }
    const Image support = smoothingSupport(Image(kSide, kSide, {"Y"}, 0.5F), guides);
    CHECK(support(6, 6, 0) == Approx(1.0F));
    CHECK(support(12, 12, 0) == Approx(0.0F).margin(1e-4));
    CHECK(support(0, 0, 0) == Approx(8.0F / 24.0F));  // a corner has eight about it
}

TEST_CASE("cleaning keeps the edges of a surface's own colours", "[tracer][denoise]") {
    // A plain wall of two greys that are little apart, under noise that would hide their border.
    constexpr int kSide = 64;
    Image noisy(kSide, kSide, {"R", "G", "B"});
    DenoiseGuides guides{Image(kSide, kSide, {"X", "Y", "Z"}),
                         Image(kSide, kSide, {"X", "Y", "Z"}),
                         Image(kSide, kSide, {"Y"}, 0.02F),
                         Image(kSide, kSide, {"R", "G", "B"}),
                         {}};
    std::uint32_t state = 7;
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const std::ptrdiff_t at = noisy.rowStride() * y + x;
            guides.position.editPlane(0)[at] = 0.02F * static_cast<float>(x);
            guides.position.editPlane(1)[at] = 0.02F * static_cast<float>(y);
            guides.normal.editPlane(2)[at] = 1.0F;
            const float grey = x < kSide / 2 ? 0.3F : 0.5F;
            state = state * 1664525U + 1013904223U;
            const float noise = static_cast<float>(state >> 8U) * 0x1p-24F - 0.5F;
            for (int c = 0; c < 3; ++c) {
                guides.albedo.editPlane(c)[at] = grey;
                noisy.editPlane(c)[at] = grey + 0.4F * noise;
            }
        }
    const auto errorBesideBorder = [&](const Image& image) {
        double sum = 0.0;
        for (int y = 0; y < kSide; ++y)
            for (int x = kSide / 2 - 3; x < kSide / 2 + 3; ++x)
                sum += std::abs(static_cast<double>(image(x, y, 0)) - (x < kSide / 2 ? 0.3 : 0.5));
        return sum / (6.0 * kSide);
    };
    const double with = errorBesideBorder(denoised(noisy, guides, 1.0F));
    guides.albedo = {};
    const double without = errorBesideBorder(denoised(noisy, guides, 1.0F));
    CAPTURE(with, without);
    CHECK(with < 0.02);
    CHECK(with < 0.5 * without);
    guides.albedo = Image(8, 8, {"R", "G", "B"});
    CHECK_THROWS_AS(denoised(noisy, guides, 1.0F), Error);
}

TEST_CASE("more channels than a picture has are not cleaned", "[tracer][denoise]") {
    const DenoiseGuides guides{Image(8, 8, {"X", "Y", "Z"}),
                               Image(8, 8, {"X", "Y", "Z"}),
                               Image(8, 8, {"Y"}, 0.01F),
                               {},
                               {}};
    CHECK_NOTHROW(denoised(Image::filled(8, 8, 4, 0.5F), guides, 1.0F));
    CHECK_THROWS_AS(denoised(Image::filled(8, 8, 5, 0.5F), guides, 1.0F), Error);
}
