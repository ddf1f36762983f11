#include "core/image/error.h"
#include "core/image/resample.h"
#include "core/image/tiles.h"
#include "core/steps/glow.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/worse.h"

#include <cmath>
#include <limits>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

/// Black, with one bright square in the middle.
Image lampPicture(int width, int height, int side, float light, int channels = 3) {
    Image image = Image::filled(width, height, channels, 0.0F);
    for (int c = 0; c < 3; ++c) {
        float* plane = image.editPlane(c);
        for (int y = (height - side) / 2; y < (height + side) / 2; ++y)
            for (int x = (width - side) / 2; x < (width + side) / 2; ++x)
                plane[image.rowStride() * y + x] = light * (c == 2 ? 0.5F : 1.0F);
    }
    return image;
}

double sumOf(const Image& image, int channel) {
    double sum = 0.0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            sum += static_cast<double>(image(x, y, channel));
    return sum;
}

double peakToNoise(const Image& a, const Image& b, double white) {
    double sum = 0.0;
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < a.height(); ++y)
            for (int x = 0; x < a.width(); ++x) {
                const double off =
                    static_cast<double>(a(x, y, c)) - static_cast<double>(b(x, y, c));
                sum += off * off / (3.0 * a.width() * a.height());
            }
    return -10.0 * std::log10(sum / (white * white));
}

}  // namespace

TEST_CASE("glow that keeps light neither makes nor loses any", "[steps][glow][truth]") {
    const Image lamp = lampPicture(640, 420, 10, 6.0F);
    for (const int streaks : {0, 1, 4, 5})
        for (const float radius : {0.001F, 0.008F, 0.02F}) {
            const Image out = applyGlow(lamp, {.threshold = 1.0F,
                                               .radius = radius,
                                               .strength = 0.8F,
                                               .streaks = streaks,
                                               .angle = 17.0F});
            for (int c = 0; c < 3; ++c)
                CHECK(sumOf(out, c) == Approx(sumOf(lamp, c)).epsilon(0.005));
            CHECK(out(320, 210, 0) < lamp(320, 210, 0));
        }
}

TEST_CASE("half of the light stays within the radius", "[steps][glow][truth]") {
    constexpr int kWidth = 900;
    constexpr int kHeight = 700;
    const Image lamp = lampPicture(kWidth, kHeight, 2, 100.0F);
    for (const int streaks : {0, 6})
        for (const float radius : {0.01F, 0.04F, 0.12F, 0.4F}) {
            const Image out = applyGlow(lamp, {.threshold = 0.0F,
                                               .radius = radius,
                                               .strength = 1.0F,
                                               .mode = GlowMode::Add,
                                               .streaks = streaks});
            double within = 0.0;
            for (int y = 0; y < kHeight; ++y)
                for (int x = 0; x < kWidth; ++x)
                    if (std::hypot(x + 0.5 - kWidth / 2, y + 0.5 - kHeight / 2) <
                        static_cast<double>(radius) * kWidth)
                        within += static_cast<double>(out(x, y, 0) - lamp(x, y, 0));
            CHECK(within / sumOf(lamp, 0) == Approx(0.5).margin(radius < 0.39F ? 0.025 : 0.06));
        }
}

TEST_CASE("a round halo is round, and falls without a step", "[steps][glow]") {
    Image point = Image::filled(801, 801, 3, 0.0F);
    point.editPlane(0)[point.rowStride() * 400 + 400] = 1000.0F;
    const Image out = applyGlow(point, {.threshold = 0.0F, .radius = 0.05F, .strength = 1.0F});
    const auto at = [&](double angle, double r) {
        return static_cast<double>(out(static_cast<int>(std::lround(400 + r * std::cos(angle))),
                                       static_cast<int>(std::lround(400 + r * std::sin(angle))),
                                       0));
    };
    for (const double r : {20.0, 60.0, 150.0, 300.0})
        for (double angle = 0.3; angle < 6.2; angle += 0.37)
            CHECK(at(angle, r) == Approx(at(0.0, r)).epsilon(0.06));
    double before = at(0.0, 2.0);
    for (double r = 3.0; r < 380.0; r += 1.0) {
        CHECK(at(0.0, r) <= before * 1.0001);
        CHECK(at(0.0, r) > 0.8 * before);
        before = at(0.0, r);
    }
}

TEST_CASE("glow at a smaller scale is the glow seen smaller", "[steps][glow]") {
    PassSet set = test::greyFrame(640, 360, 0.02F);
    Pass& beauty = *set.find(std::string_view("beauty"));
    for (int c = 0; c < 3; ++c) {
        float* plane = beauty.image.editPlane(c);
        for (int lamp = 0; lamp < 6; ++lamp)
            for (int y = 0; y < 12; ++y)
                for (int x = 0; x < 12; ++x)
                    plane[beauty.image.rowStride() * (40 + 52 * lamp + y) + 61 + 93 * lamp + x] =
                        3.0F + static_cast<float>(c);
    }
    for (const char* settings :
         {R"("threshold":0.5,"radius":0.005,"strength":0.8)",
          R"("threshold":0.5,"radius":0.05,"strength":1,"mode":"add")",
          R"("threshold":0.5,"radius":0.3,"strength":1,"mode":"add")",
          R"("threshold":0.5,"radius":0.04,"strength":1,"mode":"add","streaks":5,"angle":20)"}) {
        const Recipe recipe =
            test::recipeOf(R"({"step":"glow","settings":{)" + std::string(settings) + "}}");
        const Image full = test::finished(set, recipe);
        for (const int factor : {2, 4}) {
            EvaluateOptions options;
            options.factor = factor;
            CHECK(peakToNoise(test::finished(set, recipe, options), shrinkByMean(full, factor),
                              1.0) > 34.0);
        }
    }
}

TEST_CASE("a Where says what glows, and the glow leaves it", "[steps][glow]") {
    PassSet set = test::greyFrame(200, 100, 0.0F);
    Pass& beauty = *set.find(std::string_view("beauty"));
    for (int c = 0; c < 3; ++c)
        for (const int x : {40, 160})
            beauty.image.editPlane(c)[beauty.image.rowStride() * 50 + x] = 50.0F;
    set.put(test::passOf({PassKind::Depth, {}}, 200, 100,
                         [](int x, int, int) { return x < 100 ? 5.0F : 50.0F; }));
    const Image out = test::finished(
        set, test::recipeOf(R"({"step":"glow","settings":{"threshold":1,"radius":0.15,)"
                            R"("strength":1,"mode":"add"},"where":{"by":"depth","to":10}})"));
    CHECK(out(40, 50, 0) > 50.0F);
    CHECK(out(110, 50, 0) > 2e-4F);  // light of the left lamp, over what the Where leaves out
    CHECK(out(160, 50, 0) < 50.1F);
    CHECK(out(170, 50, 0) < 0.5F * out(50, 50, 0));
    // A later step's mask is as it would be without.
    const std::string masked =
        R"({"step":"grade","id":"g","settings":{"exposure":1},"where":{"by":"depth","to":10}})";
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(set);
    const Image plain = evaluator.where(test::recipeOf(masked), "g");
    const Image behind = evaluator.where(
        test::recipeOf(R"({"step":"glow","settings":{"threshold":1,"strength":1}},)" + masked),
        "g");
    CHECK(test::sameBits(plain, behind));
}

TEST_CASE("glow over nothing becomes part of the picture's cover", "[steps][glow]") {
    Image lamp = lampPicture(200, 100, 8, 20.0F, 4);
    float* alpha = lamp.editPlane(3);
    for (int y = 0; y < 100; ++y)
        for (int x = 0; x < 200; ++x)
            alpha[lamp.rowStride() * y + x] = lamp(x, y, 0) > 0.0F ? 1.0F : (x > 150 ? 0.4F : 0.0F);
    const Image out = applyGlow(
        lamp, {.threshold = 1.0F, .radius = 0.05F, .strength = 1.0F, .mode = GlowMode::Add});
    for (const int x : {100, 110, 130, 160, 199}) {
        const float arrives =
            std::max({out(x, 50, 0) - lamp(x, 50, 0), out(x, 50, 1) - lamp(x, 50, 1),
                      out(x, 50, 2) - lamp(x, 50, 2)});
        CHECK(out(x, 50, 3) ==
              Approx(lamp(x, 50, 3) + (1.0F - lamp(x, 50, 3)) * std::min(1.0F, arrives))
                  .margin(1e-5));
    }
    CHECK(out(110, 50, 3) > 0.01F);
}

TEST_CASE("what isn't finite doesn't glow, and no number spreads it", "[steps][glow]") {
    Image lamp = lampPicture(120, 80, 6, 4.0F);
    lamp.editPlane(0)[lamp.rowStride() * 5 + 5] = std::numeric_limits<float>::infinity();
    lamp.editPlane(1)[lamp.rowStride() * 70 + 90] = std::numeric_limits<float>::quiet_NaN();
    for (const int streaks : {0, 3}) {
        const Image out = applyGlow(lamp, {.strength = 1.0F, .streaks = streaks});
        int invalid = 0;
        for (int c = 0; c < 3; ++c)
            for (int y = 0; y < 80; ++y)
                for (int x = 0; x < 120; ++x)
                    invalid += std::isfinite(out(x, y, c)) ? 0 : 1;
        CHECK(invalid == 2);
    }
    CHECK_THROWS_AS(applyGlow(Image::filled(3, 3, 1, 1.0F), {}), Error);
    CHECK(test::sameBits(applyGlow(lamp, {.strength = 0.0F}), lamp));
}

TEST_CASE("glow has the same bits on any number of threads, in pictures of any size",
          "[steps][glow]") {
    for (const auto& [width, height] : {std::pair(203, 91), std::pair(1, 1), std::pair(7, 300)})
        for (const int streaks : {0, 3}) {
            const Image lamp = lampPicture(width, height, 1, 5.0F);
            const GlowSettings glow{
                .threshold = 0.1F, .radius = 0.4F, .strength = 1.0F, .streaks = streaks};
            const Image all = applyGlow(lamp, glow);
            for (const int threads : {1, 2, 7}) {
                const ThreadLimit limit(threads);
                CHECK(test::sameBits(applyGlow(lamp, glow), all));
            }
        }
}
