#include "core/image/psnr.h"
#include "core/image/resample.h"
#include "core/steps/distortion.h"
#include "core/steps/fringing.h"
#include "core/steps/sharpen.h"
#include "core/steps/vignette.h"
#include "core/steps/warped_picture.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/worse.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr int kLensWidth = 192;
constexpr int kLensHeight = 108;

/// Soft spots on a rising ground.
Image spots(int width, int height) {
    Image image(width, height, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                const float u = static_cast<float>(x) / static_cast<float>(height);
                const float v = static_cast<float>(y) / static_cast<float>(height);
                image.editPlane(c)[image.rowStride() * y + x] =
                    0.2F + 0.1F * u +
                    0.15F * std::sin(23.0F * u + static_cast<float>(c)) * std::cos(19.0F * v);
            }
    return image;
}

PlaceMap mapOfLens(const DistortionSettings& s) {
    return [map = DistortionMap(s, kLensWidth, kLensHeight)](float x, float y) {
        return map.sourceOf(x, y);
    };
}

/// The middle of what is brighter than nothing, px from the left.
double brightMiddle(const Image& image, int channel) {
    double sum = 0.0;
    double weight = 0.0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x) {
            const auto light = static_cast<double>(image(x, y, channel));
            sum += light * (x + 0.5);
            weight += light;
        }
    return sum / weight;
}

double lightSum(const Image& image, int channel) {
    double sum = 0.0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            sum += static_cast<double>(image(x, y, channel));
    return sum;
}

}  // namespace

TEST_CASE("distortion follows its formula, and its inverse returns", "[steps][distortion]") {
    for (const auto& [k1, k2] :
         {std::pair{0.1F, 0.0F}, {-0.1F, 0.02F}, {0.3F, -0.05F}, {0.9F, 0.9F}, {0.02F, 0.3F}}) {
        const DistortionMap there({.k1 = k1, .k2 = k2}, 1920, 1080);
        const DistortionMap back({.k1 = k1, .k2 = k2, .inverse = true}, 1920, 1080);
        CAPTURE(k1, k2);
        float worst = 0.0F;
        const double half = std::hypot(960.0, 540.0);
        for (int i = 0; i <= 20; ++i)
            for (int j = 0; j <= 20; ++j) {
                const V2f p(96.0F * static_cast<float>(i), 54.0F * static_cast<float>(j));
                const V2f shown = there.sourceOf(p.x, p.y);
                const double dx = static_cast<double>(p.x) - 960.0;
                const double dy = static_cast<double>(p.y) - 540.0;
                const double u = (dx * dx + dy * dy) / (half * half);
                const double scale =
                    1.0 + static_cast<double>(k1) * u + static_cast<double>(k2) * u * u;
                worst =
                    test::worse(worst, std::abs(shown.x - static_cast<float>(960.0 + dx * scale)));
                const V2f again = back.sourceOf(shown.x, shown.y);
                worst = test::worse(worst, (again - p).length());
            }
        CHECK(worst < 0.001F);
    }
}

TEST_CASE("where a distortion would turn back, it stays at its farthest", "[steps][distortion]") {
    // r (1 - r^2 / 3) has its greatest value at r = 1: nothing beyond it, and no place twice.
    const DistortionMap map({.k1 = -1.0F / 3.0F, .k2 = -0.2F}, 1000, 1000);
    float last = 0.0F;
    for (int i = 0; i <= 100; ++i) {
        const float x = 500.0F + 20.0F * static_cast<float>(i);
        const V2f at = map.sourceOf(x, 500.0F);
        CHECK(at.x - 500.0F >= last - 1e-3F);
        last = at.x - 500.0F;
    }
    const DistortionMap back({.k1 = -0.3F, .k2 = -0.2F, .inverse = true}, 1000, 1000);
    CHECK(std::isfinite(back.sourceOf(-2000.0F, 40.0F).x));
}

TEST_CASE("a distorted picture and its straightened one agree, and a filled frame has no border",
          "[steps][distortion]") {
    const Image picture = spots(kLensWidth, kLensHeight);
    for (const float k1 : {0.08F, -0.08F}) {
        CAPTURE(k1);
        const Image bent = warpedPicture(picture, mapOfLens({.k1 = k1}));
        const Image again = warpedPicture(bent, mapOfLens({.k1 = k1, .inverse = true}));
        Image inner(kLensWidth - 60, kLensHeight - 40, {"R", "G", "B"});
        Image truth = inner;
        for (int c = 0; c < 3; ++c)
            for (int y = 0; y < inner.height(); ++y)
                for (int x = 0; x < inner.width(); ++x) {
                    inner.editPlane(c)[inner.rowStride() * y + x] = again(x + 30, y + 20, c);
                    truth.editPlane(c)[truth.rowStride() * y + x] = picture(x + 30, y + 20, c);
                }
        CHECK(psnrOf(inner, truth) > 50.0);
        for (const bool inverse : {false, true}) {
            const DistortionMap filled({.k1 = k1, .inverse = inverse, .fill = true}, kLensWidth,
                                       kLensHeight);
            for (int x = 0; x <= kLensWidth; ++x)
                for (const int y : {0, kLensHeight / 2, kLensHeight}) {
                    const V2f at = filled.sourceOf(static_cast<float>(x), static_cast<float>(y));
                    CHECK(at.x > -0.01F);
                    CHECK(at.x < kLensWidth + 0.01F);
                    CHECK(at.y > -0.01F);
                    CHECK(at.y < kLensHeight + 0.01F);
                }
        }
    }
    CHECK(test::mostApart(warpedPicture(picture, [](float x, float y) { return V2f(x, y); }),
                          picture) == 0.0);
}

TEST_CASE("passes and masks go with a distorted picture, each once", "[steps][distortion]") {
    // A bright crate on the left, at 5 m; the rest at 40 m.
    const auto isCrate = [](int x) { return x < 40; };
    PassSet set;
    set.camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.7F);
    set.put(test::passOf({PassKind::Beauty, {}}, kLensWidth, kLensHeight,
                         [&](int x, int, int) { return isCrate(x) ? 0.8F : 0.1F; }));
    set.put(test::passOf({PassKind::Depth, {}}, kLensWidth, kLensHeight,
                         [&](int x, int, int) { return isCrate(x) ? 5.0F : 40.0F; }));
    const std::string bend = R"({"step":"distortion","settings":{"k1":-0.25}})";
    const std::string near =
        R"({"step":"grade","settings":{"exposure":1},"where":{"by":"depth","to":20}})";
    const std::string farther = R"({"step":"distance_tint","settings":{"strength":1}})";
    const Image after = test::finished(set, test::recipeOf(bend + "," + near));
    const Image before = test::finished(set, test::recipeOf(near + "," + bend));
    CHECK(psnrOf(after, before) > 40.0);
    // A lens behind it reads the depth where the picture is now.
    const std::string focus =
        R"({"step":"depth_of_field","settings":{"lens":"radius","radius":6,"focus":5,"span_near":1,"span_far":1}})";
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(set);
    const Image blurred = evaluator.evaluate(test::recipeOf(bend + "," + focus));
    const Image bent = test::finished(set, test::recipeOf(bend));
    const int row = kLensHeight / 2;
    int edge = 0;
    while (edge < kLensWidth && bent(edge, row, 0) > 0.45F)
        ++edge;
    CHECK(edge < 38);  // drawn in
    CHECK(edge > 10);
    CHECK(blurred(edge - 2, row, 0) > 0.7F);
    // The same when the bent picture is recalled.
    const Image again = evaluator.evaluate(test::recipeOf(bend + "," + focus + "," + near));
    CHECK(again(edge - 6, row, 0) == Approx(2.0F * blurred(edge - 6, row, 0)).margin(0.02));
    CHECK(again(kLensWidth - 20, row, 0) == Approx(blurred(kLensWidth - 20, row, 0)).margin(0.01));
}

TEST_CASE("fringing draws red and blue apart at the corner and leaves green", "[steps][fringing]") {
    Image picture(200, 120, {"R", "G", "B"}, 0.0F);
    // A white spot on the middle row, at three quarters of the width: half of half the width off.
    for (int c = 0; c < 3; ++c)
        for (int y = 58; y < 62; ++y)
            for (int x = 148; x < 152; ++x)
                picture.editPlane(c)[picture.rowStride() * y + x] = 1.0F;
    const float half = std::hypot(100.0F, 60.0F);
    for (const float strength : {1.0F, 6.0F, -4.0F}) {
        CAPTURE(strength);
        const Image out = fringed(picture, strength);
        // A place x off the middle shows what is x (1 - smaller) off it.
        const auto smaller = static_cast<double>(0.5F * strength / half);
        CHECK(brightMiddle(out, 0) - brightMiddle(out, 1) ==
              Approx(50.0 * smaller / (1.0 - smaller)).margin(0.01));
        CHECK(brightMiddle(out, 1) - brightMiddle(out, 2) ==
              Approx(50.0 * smaller / (1.0 + smaller)).margin(0.01));
        CHECK(brightMiddle(out, 1) == Approx(150.0).margin(0.1));
        // What is larger has more light.
        const double larger = 1.0 + 0.5 * static_cast<double>(strength / half);
        CHECK(lightSum(out, 0) == Approx(lightSum(picture, 0) * larger * larger).epsilon(0.01));
    }
    // Its colours pass into each other: along the smear, no gap of black between two of them.
    const Image wide = fringed(picture, 40.0F);
    float least = 1.0F;
    for (int x = 142; x < 158; ++x)
        least = std::min(least, wide(x, 60, 0) + wide(x, 60, 1) + wide(x, 60, 2));
    CHECK(least > 0.05F);
    CHECK(test::mostApart(fringed(Image(40, 30, {"R", "G", "B"}, 0.7F), 8.0F),
                          Image(40, 30, {"R", "G", "B"}, 0.7F)) < 1e-5);
}

TEST_CASE("a natural vignette is cos^4 of the ray's own angle", "[steps][vignette]") {
    const Camera camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 1.2F);
    const Image white(160, 90, {"R", "G", "B"}, 1.0F);
    VignetteSettings s;
    s.natural = true;
    s.strength = 0.0F;
    const Image out = vignetted(white, camera, 1.0F, s);
    float worst = 0.0F;
    for (int y = 0; y < 90; ++y)
        for (int x = 0; x < 160; ++x) {
            const CameraRay ray = cameraRay(camera, static_cast<float>(x) + 0.5F,
                                            static_cast<float>(y) + 0.5F, 160, 90);
            worst =
                test::worse(worst, std::abs(out(x, y, 1) - std::pow(ray.planarPerDistance, 4.0F)));
        }
    CHECK(worst < 1e-5F);
    Camera parallel = camera;
    parallel.orthographicHeight = 2.0F;
    CHECK(test::mostApart(vignetted(white, parallel, 1.0F, s), white) == 0.0);
}

TEST_CASE("a vignette's ellipse begins and is full where it says, tinted, about its centre",
          "[steps][vignette]") {
    const Image white(200, 100, {"R", "G", "B"}, 1.0F);
    VignetteSettings s;
    s.strength = 0.8F;
    s.inner = 0.3F;
    s.outer = 0.6F;
    s.colour = {0.5F, 0.0F, 0.0F};
    const Image out = vignetted(white, {}, 1.0F, s);
    const float half = 0.5F * std::hypot(200.0F, 100.0F);
    const auto outwards = [&](float part) {
        return static_cast<int>(std::lround(100.0F + part * half - 0.5F));
    };
    CHECK(out(outwards(0.28F), 50, 1) == 1.0F);
    CHECK(out(outwards(0.62F), 50, 1) == Approx(0.2F).margin(1e-4));
    CHECK(out(outwards(0.62F), 50, 0) == Approx(0.6F).margin(1e-4));
    CHECK(out(outwards(0.45F), 50, 1) == Approx(0.6F).margin(0.02));
    s.centre = V2f(20.0F, 50.0F);
    const Image aside = vignetted(white, {}, 1.0F, s);
    CHECK(aside(20, 50, 1) == 1.0F);
    CHECK(aside(190, 50, 1) == Approx(0.2F).margin(1e-4));
    // At half the size it is at the same place.
    const Image small = vignetted(shrinkByMean(white, 2), {}, 0.5F, s);
    CHECK(small(40, 25, 1) == Approx(aside(80, 50, 1)).margin(0.02));
    s.centre = V2f(-1.0F, -1.0F);
    s.stretch = 1.0F;
    const Image wide = vignetted(white, {}, 1.0F, s);
    CHECK(wide(outwards(0.58F), 50, 1) == 1.0F);
    CHECK(wide(100, 2, 1) < 0.9F);
}

TEST_CASE("a vignette's blur grows towards the edge, and masks follow it", "[steps][vignette]") {
    Image lines(240, 120, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < 120; ++y)
            for (int x = 0; x < 240; ++x)
                lines.editPlane(c)[lines.rowStride() * y + x] = x % 8 < 4 ? 0.8F : 0.2F;
    VignetteSettings s;
    s.strength = 0.0F;
    s.blur = 6.0F;
    s.inner = 0.2F;
    s.outer = 0.9F;
    const Image out = vignetted(lines, {}, 1.0F, s);
    const auto contrast = [&](int from) {
        float least = 9.0F;
        float most = 0.0F;
        for (int x = from; x < from + 8; ++x) {
            least = std::min(least, out(x, 60, 0));
            most = std::max(most, out(x, 60, 0));
        }
        return most - least;
    };
    CHECK(contrast(116) == Approx(0.6F).margin(1e-4));
    CHECK(contrast(200) < 0.3F);
    CHECK(contrast(228) < 0.1F);
    CHECK(contrast(228) <= contrast(200) + 0.005F);
}

TEST_CASE("sharpening strengthens detail, keeps its halo and spares noise and what is blurred",
          "[steps][sharpen]") {
    Image edge(80, 40, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < 40; ++y)
            for (int x = 0; x < 80; ++x) {
                const float rise = std::clamp((static_cast<float>(x) - 37.0F) / 6.0F, 0.0F, 1.0F);
                edge.editPlane(c)[edge.rowStride() * y + x] =
                    (c == 2 ? 0.5F : 1.0F) * (0.2F + 0.6F * rise);
            }
    const auto slope = [](const Image& image) { return image(41, 20, 0) - image(39, 20, 0); };
    SharpenSettings s;
    s.radius = 2.0F;
    s.strength = 1.5F;
    s.threshold = 0.0F;
    s.limit = 0.0F;
    const Image tight = sharpened(edge, {}, 1.0F, s);
    CHECK(slope(tight) > 1.2F * slope(edge));
    for (int x = 0; x < 80; ++x) {
        CHECK(tight(x, 20, 0) <= 0.8F + 1e-5F);
        CHECK(tight(x, 20, 0) >= 0.2F - 1e-5F);
        CHECK(tight(x, 20, 2) == Approx(0.5F * tight(x, 20, 0)).margin(1e-5));  // the colour stays
    }
    s.limit = 1.0F;
    const Image loose = sharpened(edge, {}, 1.0F, s);
    CHECK(loose(44, 20, 0) > 0.81F);
    // A lens has blurred all of it by more than the radius.
    CHECK(test::mostApart(sharpened(edge, Image(80, 40, {"Y"}, 9.0F), 1.0F, s), edge) == 0.0);
    Image noisy(80, 40, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < 40; ++y)
            for (int x = 0; x < 80; ++x)
                noisy.editPlane(c)[noisy.rowStride() * y + x] =
                    0.5F + ((x * 7 + y * 13) % 5 < 2 ? 0.004F : -0.004F);
    s.threshold = 0.05F;
    CHECK(test::mostApart(sharpened(noisy, {}, 1.0F, s), noisy) == 0.0);
}

TEST_CASE("a lamp at night keeps no black ring when it is sharpened", "[steps][sharpen]") {
    Image night(60, 40, {"R", "G", "B"}, 0.02F);
    for (int c = 0; c < 3; ++c)
        for (int y = 15; y < 25; ++y)
            for (int x = 25; x < 35; ++x)
                night.editPlane(c)[night.rowStride() * y + x] = 50.0F;
    SharpenSettings s;
    s.strength = 1.0F;
    const Image out = sharpened(night, {}, 1.0F, s);
    float least = 1.0F;
    float most = 0.0F;
    for (int y = 0; y < 40; ++y)
        for (int x = 0; x < 60; ++x) {
            least = std::min(least, out(x, y, 1));
            most = std::max(most, out(x, y, 1));
        }
    CHECK(least >= 0.02F / 1.101F);
    CHECK(most <= 50.0F * 1.101F);
}

TEST_CASE("sharpening behind a lens knows what it has blurred", "[steps][sharpen]") {
    PassSet set;
    set.camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.7F);
    const Image picture = spots(160, 90);
    set.put(test::passOf({PassKind::Beauty, {}}, 160, 90,
                         [&](int x, int y, int c) { return picture(x, y, c); }));
    set.put(test::passOf({PassKind::Depth, {}}, 160, 90,
                         [](int x, int, int) { return x < 80 ? 5.0F : 500.0F; }));
    const std::string lens =
        R"({"step":"depth_of_field","settings":{"lens":"radius","radius":8,"focus":5,"span_near":1,"span_far":1}})";
    const std::string sharp =
        R"(,{"step":"sharpen","settings":{"radius":1.5,"strength":2,"threshold":0,"limit":1}})";
    const Image without = test::finished(set, test::recipeOf(lens));
    const Image with = test::finished(set, test::recipeOf(lens + sharp));
    double near = 0.0;
    double far = 0.0;
    for (int y = 10; y < 80; ++y)
        for (int x = 10; x < 60; ++x) {
            near += std::abs(static_cast<double>(with(x, y, 1) - without(x, y, 1)));
            far += std::abs(static_cast<double>(with(x + 90, y, 1) - without(x + 90, y, 1)));
        }
    CHECK(near > 1.0);
    CHECK(far == 0.0);
}

TEST_CASE("steps of the lens have the same bits on any number of threads", "[steps][lens]") {
    PassSet set;
    set.camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.9F);
    const Image picture = spots(233, 131);
    set.put(test::passOf({PassKind::Beauty, {}}, 233, 131,
                         [&](int x, int y, int c) { return picture(x, y, c); }));
    const Recipe recipe = test::recipeOf(
        R"({"step":"distortion","settings":{"k1":0.2}},{"step":"fringing","settings":{"strength":5}},)"
        R"({"step":"vignette","settings":{"natural":true,"blur":4}},{"step":"sharpen"},)"
        R"({"step":"grain","settings":{"size":2.3,"colour":0.5}})");
    const auto made = [&](int threads) {
        const ThreadLimit limit(threads);
        return test::finished(set, recipe);
    };
    const Image one = made(1);
    CHECK(test::sameBits(made(2), one));
    CHECK(test::sameBits(made(7), one));
}
