#include "core/image/resample.h"
#include "core/steps/grain_row.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/worse.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr int kGrainWidth = 512;
constexpr int kGrainHeight = 256;

/// Grain alone, on a flat grey.
Image grained(float grey, GrainRow grain) {
    Image image(kGrainWidth / grain.factor, kGrainHeight / grain.factor, {"R", "G", "B"}, grey);
    for (int y = 0; y < image.height(); ++y) {
        const std::ptrdiff_t at = image.rowStride() * y;
        grainRow(grain, 0, y, nullptr, image.editPlane(0) + at, image.editPlane(1) + at,
                 image.editPlane(2) + at, image.width());
    }
    return image;
}

struct Moments {
    double mean = 0.0;
    double deviation = 0.0;
};

Moments momentsOf(const Image& image, int channel, double about) {
    double sum = 0.0;
    double squares = 0.0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x) {
            const double off = static_cast<double>(image(x, y, channel)) - about;
            sum += off;
            squares += off * off;
        }
    const double count = static_cast<double>(image.width()) * image.height();
    return {sum / count, std::sqrt(squares / count - sum / count * sum / count)};
}

/// How alike two channels are: 1 the same, 0 independent.
double likeness(const Image& image, int a, int b, double about) {
    double both = 0.0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            both += (static_cast<double>(image(x, y, a)) - about) *
                    (static_cast<double>(image(x, y, b)) - about);
    const double count = static_cast<double>(image.width()) * image.height();
    return both / count /
           (momentsOf(image, a, about).deviation * momentsOf(image, b, about).deviation);
}

}  // namespace

TEST_CASE("grain has the deviation of its law over twelve stops, whatever its size and colour",
          "[steps][grain]") {
    for (const float size : {1.0F, 1.7F, 3.0F})
        for (const float own : {0.0F, 0.5F, 1.0F})
            for (int stop = -9; stop <= 3; ++stop) {
                const float grey = std::ldexp(0.18F, stop);
                const Image image =
                    grained(grey, {.strength = 0.2F, .size = size, .ownShare = own});
                const double wanted =
                    0.2 * std::sqrt(0.18 * std::max(static_cast<double>(grey), 0.18 / 1024.0));
                CAPTURE(size, own, stop);
                for (int c = 0; c < 3; ++c) {
                    const Moments m = momentsOf(image, c, static_cast<double>(grey));
                    // So many grains there are, and so near can their deviation be known.
                    const double grains =
                        kGrainWidth * kGrainHeight / static_cast<double>(size * size);
                    CHECK(m.deviation == Approx(wanted).epsilon(0.01 + 2.5 / std::sqrt(grains)));
                    CHECK(std::abs(m.mean) < 8.0 * wanted / std::sqrt(grains));
                }
            }
}

TEST_CASE("dark grain isn't clipped, and has its law's least below a thousandth of middle grey",
          "[steps][grain]") {
    const Image dark = grained(0.0F, {.strength = 1.0F});
    const Moments m = momentsOf(dark, 1, 0.0);
    CHECK(m.deviation == Approx(0.18 / 32.0).epsilon(0.02));
    bool below = false;
    for (int x = 0; x < kGrainWidth; ++x)
        below = below || dark(x, 3, 1) < 0.0F;
    CHECK(below);
}

TEST_CASE("grain's channels differ by its colour", "[steps][grain]") {
    CHECK(likeness(grained(0.2F, {.strength = 0.2F}), 0, 2, 0.2) == Approx(1.0).margin(1e-3));
    CHECK(likeness(grained(0.2F, {.strength = 0.2F, .ownShare = 1.0F}), 0, 2, 0.2) ==
          Approx(0.0).margin(0.02));
    CHECK(likeness(grained(0.2F, {.strength = 0.2F, .ownShare = 0.6F}), 0, 2, 0.2) ==
          Approx(1.0 - 0.36).margin(0.02));
}

TEST_CASE("at a smaller scale grain is the mean of what it is in full", "[steps][grain]") {
    for (const float size : {1.0F, 2.5F})
        for (const int factor : {2, 4}) {
            const GrainRow grain{.strength = 0.3F, .size = size, .ownShare = 0.4F, .seed = 7};
            GrainRow coarse = grain;
            coarse.factor = factor;
            CAPTURE(size, factor);
            CHECK(test::mostApart(grained(0.25F, coarse),
                                  shrinkByMean(grained(0.25F, grain), factor)) < 1e-5);
        }
}

TEST_CASE("grain of another frame or seed is another, and doesn't repeat", "[steps][grain]") {
    PassSet set = test::greyFrame(256, 64, 0.18F);
    const auto at = [&](int frame, int seed) {
        EvaluateOptions options;
        options.time.number = frame;
        return test::finished(
            set,
            test::recipeOf(
                R"({"step":"grain","settings":{"strength":0.5,"size":1,"colour":0,"seed":)" +
                std::to_string(seed) + "}}"),
            options);
    };
    const Image one = at(1, 1);
    CHECK(test::sameBits(at(1, 1), one));
    const auto alike = [&](const Image& a, const Image& b, int dx, int dy) {
        double both = 0.0;
        double own = 0.0;
        for (int y = 0; y + dy < 64; ++y)
            for (int x = 0; x + dx < 256; ++x) {
                both += (static_cast<double>(a(x, y, 0)) - 0.18) *
                        (static_cast<double>(b(x + dx, y + dy, 0)) - 0.18);
                own += std::pow(static_cast<double>(a(x, y, 0)) - 0.18, 2.0);
            }
        return both / own;
    };
    CHECK(std::abs(alike(one, at(2, 1), 0, 0)) < 0.04);
    CHECK(std::abs(alike(one, at(1, 2), 0, 0)) < 0.04);
    for (const auto& [dx, dy] :
         {std::pair{1, 0}, {0, 1}, {1, 1}, {2, 0}, {64, 0}, {128, 0}, {0, 32}})
        CHECK(std::abs(alike(one, one, dx, dy)) < 0.05);
    CHECK(alike(one, at(2, 1), 1, 0) < 0.04);
}
