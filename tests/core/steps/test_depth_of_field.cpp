#include "core/steps/depth_of_field.h"

#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/steps/aperture.h"
#include "core/steps/blur_surfaces.h"
#include "support/files.h"
#include "support/worse.h"

#include <algorithm>
#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;
using test::sameBits;

namespace {

/// A lens whose blur at infinity, focused at 5 m, is this radius in a picture of 512 px.
DepthOfFieldSettings byRadius(float radius) {
    DepthOfFieldSettings s;
    s.focus = 5.0F;
    s.lens = LensMode::Radius;
    s.radius = radius;
    s.limit = 512.0F;
    return s;
}

struct Disc {
    double energy = 0.0;
    double radius = 0.0;  ///< of a disc with this second moment
    double edge = 0.0;    ///< where it falls to half of its middle, along the row
};

Disc measure(const Image& image, int cx, int cy) {
    Disc disc;
    double moment = 0.0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x) {
            const auto v = static_cast<double>(image(x, y, 0));
            disc.energy += v;
            moment += v * ((x - cx) * (x - cx) + (y - cy) * (y - cy));
        }
    disc.radius = std::sqrt(2.0 * moment / disc.energy);
    const double middle = static_cast<double>(image(cx, cy, 0));
    int last = cx;
    while (last + 1 < image.width() && static_cast<double>(image(last + 1, cy, 0)) > middle / 2)
        ++last;
    const double inside = static_cast<double>(image(last, cy, 0));
    const double outside = static_cast<double>(image(last + 1, cy, 0));
    disc.edge = last - cx + (inside - middle / 2) / std::max(inside - outside, 1e-12);
    return disc;
}

Image pointOfLight(int side) {
    Image image = Image::filled(side, side, 3, 0.0F);
    for (int c = 0; c < 3; ++c)
        image.editPlane(c)[image.rowStride() * (side / 2) + side / 2] = 1000.0F;
    return image;
}

}  // namespace

TEST_CASE("the blur radius is the thin lens's circle of confusion", "[steps][dof][truth]") {
    const DepthOfFieldSettings s{
        .focus = 5.0F, .fNumber = 2.0F, .focalLength = 50.0F, .sensorWidth = 36.0F};
    for (const double z : {1.0, 3.0, 5.0, 8.0, 400.0}) {
        const double c = std::abs(z - 5.0) / z * 0.05 * 0.05 / (2.0 * (5.0 - 0.05));
        const double radius = 0.5 * c / 0.036 * 1920.0;
        CHECK(std::abs(blurRadius(static_cast<float>(z), s, 1920.0F)) ==
              Approx(radius).epsilon(1e-4).margin(1e-5));
        if (z != 5.0)
            CHECK((blurRadius(static_cast<float>(z), s, 1920.0F) < 0.0F) == (z < 5.0));
    }
    const double endless = 0.5 * 0.05 * 0.05 / (2.0 * (5.0 - 0.05)) / 0.036 * 1920.0;
    CHECK(blurRadius(kNothingHit, s, 1920.0F) == Approx(endless).epsilon(1e-4));
}

TEST_CASE("a sharp span is sharp, near and far blur are set apart, and no blur passes the limit",
          "[steps][dof]") {
    DepthOfFieldSettings s = byRadius(40.0F);
    s.spanNear = 1.0F;
    s.spanFar = 3.0F;
    for (const float z : {4.0F, 5.0F, 8.0F})
        CHECK(blurRadius(z, s, 512.0F) == 0.0F);
    CHECK(blurRadius(16.0F, s, 512.0F) == Approx(20.0F));
    s.farAmount = 0.5F;
    CHECK(blurRadius(16.0F, s, 512.0F) == Approx(10.0F));
    s.nearAmount = 0.0F;
    CHECK(blurRadius(1.0F, s, 512.0F) == 0.0F);
    s.limit = 6.0F;
    CHECK(blurRadius(16.0F, s, 512.0F) == 6.0F);
}

TEST_CASE("a defocused point is a disc of that radius with all its energy, from 4 to 64 px",
          "[steps][dof][truth]") {
    constexpr int kSide = 257;
    const Image light = pointOfLight(kSide);
    for (const float radius : {4.0F, 5.3F, 8.0F, 11.0F, 16.0F, 23.0F, 32.0F, 45.0F, 64.0F}) {
        // Everything at infinity: every pixel blurs by the radius.
        const Image out = applyDepthOfField(light, Image::filled(kSide, kSide, 1, kNothingHit),
                                            byRadius(radius), kSide);
        const Disc disc = measure(out, kSide / 2, kSide / 2);
        INFO("radius " << radius << ": second moment " << disc.radius << ", edge " << disc.edge
                       << ", energy " << disc.energy);
        CHECK(disc.energy == Approx(1000.0).epsilon(0.01));
        CHECK(disc.radius == Approx(radius).margin(0.5));
        CHECK(disc.edge == Approx(radius).margin(0.5));
    }
}

TEST_CASE("what is in focus stays bit for bit, and a lens without blur changes nothing",
          "[steps][dof]") {
    const Image colour = test::ramp(64, 48, {"R", "G", "B"});
    CHECK(sameBits(
        applyDepthOfField(colour, Image::filled(64, 48, 1, 5.0F), byRadius(30.0F), 64.0F), colour));
    CHECK(sameBits(applyDepthOfField(colour, Image::filled(64, 48, 1, 9.0F), byRadius(0.0F), 64.0F),
                   colour));
}

TEST_CASE("an even picture stays even, at its edges too", "[steps][dof]") {
    Image depth(120, 80, {"Z"});
    for (int y = 0; y < 80; ++y)
        for (int x = 0; x < 120; ++x)
            depth.editPlane(0)[depth.rowStride() * y + x] =
                1.5F + 0.4F * static_cast<float>(80 - y);
    for (const float radius : {6.0F, 24.0F, 70.0F}) {
        const Image out =
            applyDepthOfField(Image::filled(120, 80, 3, 0.6F), depth, byRadius(radius), 120.0F);
        for (int y = 0; y < 80; ++y)
            for (int x = 0; x < 120; ++x)
                REQUIRE(out(x, y, 1) == Approx(0.6F).epsilon(1e-3));
    }
}

TEST_CASE("a sharp thing does not bleed into the blur behind it, nor the blur over the sharp thing",
          "[steps][dof]") {
    // A red board in focus in the left half, a blue far behind.
    constexpr int kSide = 128;
    Image colour = Image::filled(kSide, kSide, 3, 0.0F);
    Image depth = Image::filled(kSide, kSide, 1, kNothingHit);
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const std::ptrdiff_t at = colour.rowStride() * y + x;
            colour.editPlane(x < 64 ? 0 : 2)[at] = 1.0F;
            if (x < 64)
                depth.editPlane(0)[at] = 5.0F;
        }
    const Image out = applyDepthOfField(colour, depth, byRadius(20.0F), kSide);
    for (int x = 0; x < kSide; ++x) {
        CHECK(out(x, 64, 0) == Approx(x < 64 ? 1.0F : 0.0F).margin(0.01));
        CHECK(out(x, 64, 2) == Approx(x < 64 ? 0.0F : 1.0F).margin(0.01));
    }
}

TEST_CASE("near blur spreads over what is behind, half of it at the edge", "[steps][dof]") {
    constexpr int kSide = 128;
    Image colour = Image::filled(kSide, kSide, 3, 0.0F);
    Image depth = Image::filled(kSide, kSide, 1, 5.0F);
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const std::ptrdiff_t at = colour.rowStride() * y + x;
            colour.editPlane(x < 64 ? 0 : 2)[at] = 1.0F;
            if (x < 64)
                depth.editPlane(0)[at] = 2.5F;
        }
    const Image out = applyDepthOfField(colour, depth, byRadius(12.0F), kSide);
    CHECK(out(64, 64, 0) == Approx(0.5F).margin(0.06));
    CHECK(out(70, 64, 0) > 0.05F);
    CHECK(out(58, 64, 2) > 0.05F);  // and the hidden ground shows through its edge
    CHECK(out(80, 64, 0) == Approx(0.0F).margin(0.01));
    CHECK(out(40, 64, 0) == Approx(1.0F).margin(0.01));
    for (int x = 30; x < 100; ++x)
        CHECK(out(x, 64, 0) + out(x, 64, 2) == Approx(1.0F).margin(0.02));
}

namespace {

/// Columns of one tone and depth each, from their first to their last.
struct Strip {
    int from;
    int to;
    float tone;
    float metres;
};

struct Frame {
    Image colour;
    Image depth;
};

Frame strips(int width, int height, const std::vector<Strip>& strips) {
    Frame frame{Image::filled(width, height, 3, 0.0F), Image::filled(width, height, 1, 1.0F)};
    for (const Strip& strip : strips)
        for (int y = 0; y < height; ++y)
            for (int x = strip.from; x < strip.to; ++x) {
                for (int c = 0; c < 3; ++c)
                    frame.colour.editPlane(c)[frame.colour.rowStride() * y + x] = strip.tone;
                frame.depth.editPlane(0)[frame.depth.rowStride() * y + x] = strip.metres;
            }
    return frame;
}

}  // namespace

TEST_CASE("no post gets a bright rim from what is far beyond, wherever the focus is",
          "[steps][dof][truth]") {
    // A dark post before a middle wall that ends beyond it; bright sky farther off.
    const Frame frame = strips(
        200, 40, {{0, 130, 0.2F, 8.0F}, {130, 200, 0.95F, kNothingHit}, {90, 100, 0.02F, 3.0F}});
    for (const float focus : {1.5F, 3.0F, 5.0F, 8.0F, 20.0F, 100.0F}) {
        DepthOfFieldSettings s = byRadius(12.0F);
        s.focus = focus;
        s.radius = 12.0F * 3.0F / focus;
        s.limit = 14.0F;
        const Image out = applyDepthOfField(frame.colour, frame.depth, s, 200.0F);
        INFO("focus " << focus);
        for (int x = 60; x < 104; ++x)  // the sky's own blur ends beyond
            CHECK(out(x, 20, 1) < 0.2F + 0.02F);
    }
}

TEST_CASE("a bright spot far off does not leak behind what stands before it", "[steps][dof]") {
    Frame frame = strips(160, 80, {{0, 160, 0.1F, 30.0F}, {60, 80, 0.05F, 4.0F}});
    for (int c = 0; c < 3; ++c)
        frame.colour.editPlane(c)[frame.colour.rowStride() * 4 + 130] = 1365.0F;
    DepthOfFieldSettings s = byRadius(4.0F);
    s.focus = 30.0F;
    const Image out = applyDepthOfField(frame.colour, frame.depth, s, 160.0F);
    for (int y = 20; y < 80; ++y)
        for (int x = 0; x < 160; ++x)
            REQUIRE(out(x, y, 0) <= 0.1001F);
}

TEST_CASE("what is hidden comes from the measured surface behind where there is one",
          "[steps][dof][truth]") {
    // Behind the blurred post stands a board that shows nowhere else.
    const Frame frame = strips(120, 60, {{0, 120, 0.1F, 5.0F}, {50, 70, 0.0F, 2.0F}});
    HiddenSurface hidden{Image::filled(120, 60, 3, 0.8F), Image::filled(120, 60, 1, 4.999F), {}};
    const Image guessed = applyDepthOfField(frame.colour, frame.depth, byRadius(8.0F), 120.0F);
    const Image measured =
        applyDepthOfField(frame.colour, frame.depth, byRadius(8.0F), 120.0F, {}, hidden);
    // Half of the light at the edge passes the post, just inside of it.
    CHECK(guessed(52, 30, 1) < 0.1F);
    CHECK(measured(52, 30, 1) > 0.2F);
    CHECK(measured(20, 30, 1) == Approx(0.1F).epsilon(1e-3));
    // Steps before may have changed the light: by as much as the surface beside.
    hidden.seenThen = Image::filled(120, 60, 3, 0.3F);
    const Image darker =
        applyDepthOfField(frame.colour, frame.depth, byRadius(8.0F), 120.0F, {}, hidden);
    CHECK(darker(52, 30, 1) < measured(52, 30, 1) * 0.9F);
}

TEST_CASE("the light of a bar a pixel wide leaves no sharp line where it was",
          "[steps][dof][truth]") {
    // The bar's light covers a pixel more than its depth does, as anti-aliasing leaves it; the ground is in focus.
    for (const float rest : {1.0F, 0.7F, 0.4F}) {
        Frame frame = strips(120, 20, {{0, 120, 0.05F, 5.0F}, {60, 61, 1.0F, 2.0F}});
        for (int c = 0; c < 3; ++c)
            for (int y = 0; y < 20; ++y)
                frame.colour.editPlane(c)[frame.colour.rowStride() * y + 61] =
                    0.05F + (1.0F - 0.05F) * rest;
        const Image out = applyDepthOfField(frame.colour, frame.depth, byRadius(8.0F), 120.0F);
        float brightest = 0.0F;
        float sum = 0.0F;
        for (int x = 0; x < 120; ++x) {
            brightest = std::max(brightest, out(x, 10, 1));
            sum += out(x, 10, 1) - 0.05F;
        }
        INFO(rest);
        // All of its light is there, spread over two dozen pixels.
        CHECK(brightest < 0.05F + 0.2F * (1.0F + rest));
        CHECK(sum == Approx(0.95F * (1.0F + rest)).epsilon(0.12));
    }
}

TEST_CASE("what was measured behind an edge's pixel does not shine through it",
          "[steps][dof][truth]") {
    // A post of 20.5 pixels before a wall in focus; the last pixel's hidden light is partly that of the bright sky
    // behind the wall.
    Frame frame = strips(120, 20, {{0, 120, 0.1F, 5.0F}, {50, 71, 0.0F, 2.0F}});
    HiddenSurface hidden{Image::filled(120, 20, 3, 0.1F), Image::filled(120, 20, 1, 5.0F), {}};
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < 20; ++y) {
            frame.colour.editPlane(c)[frame.colour.rowStride() * y + 70] = 0.05F;
            hidden.colour.editPlane(c)[hidden.colour.rowStride() * y + 70] = 0.5F;
        }
    const Image out =
        applyDepthOfField(frame.colour, frame.depth, byRadius(8.0F), 120.0F, {}, hidden);
    for (int x = 0; x < 120; ++x)
        CHECK(out(x, 10, 1) <= 0.1F + 0.002F);
}

TEST_CASE("blurred edges that cross multiply", "[steps][dof][truth]") {
    // A near bar over the end of a nearer one, before a bright ground in focus.
    Frame frame = strips(120, 120, {{0, 120, 1.0F, 5.0F}, {0, 60, 0.0F, 3.0F}});
    for (int y = 0; y < 60; ++y)
        for (int x = 0; x < 120; ++x) {
            for (int c = 0; c < 3; ++c)
                frame.colour.editPlane(c)[frame.colour.rowStride() * y + x] = 0.0F;
            frame.depth.editPlane(0)[frame.depth.rowStride() * y + x] = 1.5F;
        }
    const Image out = applyDepthOfField(frame.colour, frame.depth, byRadius(5.0F), 120.0F);
    const float across = out(60, 100, 1);  // half covered by the one bar
    const float along = out(100, 60, 1);   // and by the other
    CHECK(across == Approx(0.5F).margin(0.12));
    CHECK(along == Approx(0.5F).margin(0.12));
    CHECK(out(60, 60, 1) == Approx(across * along).margin(0.06));
}

TEST_CASE("blades give highlights corners, and rotation turns them", "[steps][dof]") {
    constexpr int kSide = 129;
    DepthOfFieldSettings s = byRadius(24.0F);
    s.roundness = 0.0F;
    const auto reachOf = [&](int blades, float rotation) {
        s.blades = blades;
        s.rotation = rotation;
        const Image out = applyDepthOfField(pointOfLight(kSide),
                                            Image::filled(kSide, kSide, 1, kNothingHit), s, kSide);
        return measure(out, 64, 64);
    };
    CHECK(reachOf(4, 0.0F).edge == Approx(24.0).margin(1.5));  // a corner to the right
    CHECK(reachOf(4, 45.0F).edge == Approx(24.0 * std::sqrt(0.5)).margin(1.5));  // a flat side
    CHECK(reachOf(6, 0.0F).energy == Approx(1000.0).epsilon(0.01));
    s.roundness = 1.0F;
    CHECK(reachOf(4, 45.0F).edge == Approx(24.0).margin(0.5));
}

TEST_CASE("kernels hold all of a point's light, for every radius and shape", "[steps][dof]") {
    for (const int blades : {0, 3, 5, 8}) {
        const ApertureKernels kernels({blades, 17.0F, 0.25F}, 40.0F);
        for (float radius = 0.0F; radius < 40.0F; radius += 0.7F) {
            const ApertureKernel& kernel = kernels.at(kernels.indexOf(radius));
            double area = 0.0;
            for (const ApertureSpan& span : kernel.rows) {
                area += span.right - span.left + 1 +
                        static_cast<double>(span.leftPart + span.rightPart);
                CHECK((span.leftPart >= -1e-4F && span.leftPart <= 1.0F &&
                       span.rightPart >= -1e-4F && span.rightPart <= 1.0F));
            }
            CHECK(area * static_cast<double>(kernel.weight) == Approx(1.0).epsilon(1e-4));
            if (blades == 0 && radius > 3.0F)
                CHECK(area == Approx(M_PI * static_cast<double>(radius * radius)).epsilon(0.06));
        }
    }
}

TEST_CASE("layers follow the radii, and each holds radii within a factor of two", "[steps][dof]") {
    int last = layerOf(-200.0F);
    for (float radius = -200.0F; radius < 200.0F; radius += 0.13F) {
        const int layer = layerOf(radius);
        CHECK((layer == last || layer == last + 1));
        CHECK(std::abs(radius) >= leastRadiusOf(layer) * 0.999F);
        if (layer != 0 && std::abs(radius) > 1.0F)
            CHECK(std::abs(radius) <= leastRadiusOf(layer) * 2.001F);
        last = layer;
    }
    CHECK(layerOf(0.0F) == 0);
}

TEST_CASE("depth of field is the same bits for any thread count", "[steps][dof][threads]") {
    const Image colour = test::ramp(150, 90, {"R", "G", "B"});
    Image depth = test::ramp(150, 90, {"Z"});
    depth.editPlane(0)[7] = kNothingHit;
    const ThreadLimit single(1);
    const Image one = applyDepthOfField(colour, depth, byRadius(25.0F), 150.0F);
    for (const int threads : {2, 7}) {
        const ThreadLimit limit(threads);
        CHECK(sameBits(applyDepthOfField(colour, depth, byRadius(25.0F), 150.0F), one));
    }
}

TEST_CASE("depths that are no numbers, and tiny pictures, do no harm", "[steps][dof]") {
    Image depth = Image::filled(9, 9, 1, 3.0F);
    depth.editPlane(0)[0] = std::nanf("");
    depth.editPlane(0)[1] = 0.0F;
    depth.editPlane(0)[2] = -1.0F;
    const Image out =
        applyDepthOfField(Image::filled(9, 9, 3, 0.5F), depth, byRadius(100.0F), 9.0F);
    for (int x = 0; x < 9; ++x)
        CHECK(out(x, 0, 0) == Approx(0.5F).epsilon(1e-3));
    CHECK(applyDepthOfField(Image::filled(1, 1, 3, 0.5F), Image::filled(1, 1, 1, 90.0F),
                            byRadius(50.0F), 1.0F)(0, 0, 0) == Approx(0.5F).epsilon(1e-3));
    CHECK_THROWS_AS(applyDepthOfField(Image::filled(9, 9, 3, 0.5F), Image::filled(8, 9, 1, 3.0F),
                                      byRadius(5.0F), 9.0F),
                    Error);
}

TEST_CASE("small radii blur a texture as their disc does, without a jump as they grow",
          "[steps][dof][truth]") {
    // Waves of many directions, none shorter than 4 px: what a disc leaves of each is known exactly.
    constexpr int kSide = 96;
    constexpr int kMargin = 12;
    constexpr int kWaves = 40;
    struct Wave {
        double kx, ky, phase;
    };
    std::vector<Wave> waves;
    for (int i = 0; i < kWaves; ++i) {
        const double period = 4.0 * std::pow(8.0, static_cast<double>(i) / (kWaves - 1));
        const double angle = 2.399963 * i;
        const double k = 2.0 * 3.14159265358979 / period;
        waves.push_back({k * std::cos(angle), k * std::sin(angle), 1.7 * i * i});
    }
    const double amplitude = 0.1 * std::sqrt(2.0 / kWaves);  // of a deviation of 0.1
    const auto through = [&](double radius) {
        Image image(kSide, kSide, {"R", "G", "B"}, 0.5F);
        for (const Wave& w : waves) {
            const double kr = std::hypot(w.kx, w.ky) * radius;
            const double left = kr < 1e-9 ? 1.0 : 2.0 * std::cyl_bessel_j(1.0, kr) / kr;
            for (int c = 0; c < 3; ++c)
                for (int y = 0; y < kSide; ++y)
                    for (int x = 0; x < kSide; ++x)
                        image.editPlane(c)[image.rowStride() * y + x] += static_cast<float>(
                            amplitude * left * std::cos(w.kx * x + w.ky * y + w.phase));
        }
        return image;
    };
    const Image sharp = through(0.0);
    const Image depth(kSide, kSide, {"Z"}, kNothingHit);
    const auto rms = [&](const Image& a, const Image& b) {
        double sum = 0.0;
        for (int y = kMargin; y < kSide - kMargin; ++y)
            for (int x = kMargin; x < kSide - kMargin; ++x)
                sum += std::pow(static_cast<double>(a(x, y, 1) - b(x, y, 1)), 2);
        return std::sqrt(sum / std::pow(kSide - 2 * kMargin, 2));
    };
    double worst = 0.0;
    for (int i = 2; i <= 60; ++i) {
        const float radius = 0.1F * static_cast<float>(i);
        const Image ours = applyDepthOfField(sharp, depth, byRadius(radius), kSide);
        const double error = rms(ours, through(static_cast<double>(radius)));
        INFO(radius << " px");
        CHECK(error < 0.004);
        worst = test::worse(worst, error);
    }
    INFO("worst " << worst);
    // A slow pull: no step is more than it must be, also where layers begin.
    Image before = applyDepthOfField(sharp, depth, byRadius(0.2F), kSide);
    for (int i = 1; i <= 300; ++i) {
        const float radius = 0.2F + 0.01F * static_cast<float>(i);
        const Image now = applyDepthOfField(sharp, depth, byRadius(radius), kSide);
        INFO(radius << " px");
        CHECK(rms(now, before) < 0.0025);
        before = now;
    }
}
