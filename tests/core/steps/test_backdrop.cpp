#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/passes/pass_file.h"
#include "core/steps/backdrop.h"
#include "core/steps/placed_picture.h"
#include "core/steps/registry.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/worse.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr int kRoofWidth = 160;
constexpr int kRoofHeight = 90;

/// How much of a pixel a roof covers that falls to the right.
float roofAt(int x, int y) {
    return std::clamp(static_cast<float>(y) - 40.0F - 0.25F * static_cast<float>(x - 80), 0.0F,
                      1.0F);
}

/// A roof against nothing, with alpha.
PassSet roof(float light = 0.3F) {
    PassSet set;
    set.camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.7F);
    Pass beauty = test::passOf({PassKind::Beauty, {}}, kRoofWidth, kRoofHeight,
                               [&](int x, int y, int) { return light * roofAt(x, y); });
    Image alpha(kRoofWidth, kRoofHeight, {"A"});
    for (int y = 0; y < kRoofHeight; ++y)
        for (int x = 0; x < kRoofWidth; ++x)
            alpha.editPlane(0)[alpha.rowStride() * y + x] = roofAt(x, y);
    beauty.image = beauty.image.select({0, 1, 2}, {"R", "G", "B"});
    beauty.image.append(alpha);
    set.put(beauty);
    set.put(test::passOf({PassKind::Depth, {}}, kRoofWidth, kRoofHeight, [](int x, int y, int) {
        return roofAt(x, y) >= 0.5F ? 14.0F : kNothingHit;
    }));
    return set;
}

/// A sky that gets redder to the right and bluer downwards.
Image sky(int width, int height) {
    Image image(width, height, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x)
                image.editPlane(c)[image.rowStride() * y + x] =
                    c == 0   ? (static_cast<float>(x) + 0.5F) / static_cast<float>(width)
                    : c == 2 ? (static_cast<float>(y) + 0.5F) / static_cast<float>(height)
                             : 0.4F;
    return image;
}

/// A file of that picture in the folder, as a recipe names it.
std::string pictureFile(const test::Folder& folder, const Image& picture,
                        const std::string& name = "sky.exr") {
    PassSet set;
    Pass pass;
    pass.name = "beauty";
    pass.kind = PassKind::Beauty;
    pass.image = picture;
    set.put(pass);
    writePasses(folder / name, set);
    return (folder / name).string();
}

Image over(const PassSet& set, const Image& picture, const std::string& more = {}) {
    const test::Folder folder;
    return test::finished(set, test::recipeOf(R"({"step":"backdrop","settings":{"picture":")" +
                                              pictureFile(folder, picture) + "\"" + more + "}}"));
}

}  // namespace

TEST_CASE("a backdrop fills what the alpha leaves, to the pixel's share", "[steps][backdrop]") {
    const Image out = over(roof(), sky(kRoofWidth, kRoofHeight));
    REQUIRE(out.channels() == 4);
    double worst = 0.0;
    for (int y = 1; y < kRoofHeight - 1; ++y)
        for (int x = 1; x < kRoofWidth - 1; ++x) {
            const float a = roofAt(x, y);
            const float red = (static_cast<float>(x) + 0.5F) / kRoofWidth;
            worst = test::worse(
                worst, static_cast<double>(std::abs(out(x, y, 0) - (0.3F * a + (1.0F - a) * red))));
            CHECK(out(x, y, 3) == Approx(1.0F).margin(1e-5));
        }
    CHECK(worst < 1e-4);
}

TEST_CASE("an opaque picture's edges lose the old sky", "[steps][backdrop]") {
    // The old sky is bright; the roof dark, and coverage says how much of each pixel it has.
    PassSet set = test::greyFrame(kRoofWidth, kRoofHeight);
    set.put(test::passOf({PassKind::Beauty, {}}, kRoofWidth, kRoofHeight, [](int x, int y, int) {
        return 0.05F * roofAt(x, y) + 2.0F * (1.0F - roofAt(x, y));
    }));
    set.put(test::passOf({PassKind::Coverage, {}}, kRoofWidth, kRoofHeight,
                         [](int x, int y, int) { return roofAt(x, y); }));
    const Image out = over(set, Image(kRoofWidth, kRoofHeight, {"R", "G", "B"}, 0.0F));
    CHECK(out.channels() == 3);
    double brightest = 0.0;
    for (int y = 0; y < kRoofHeight; ++y)
        for (int x = 0; x < kRoofWidth; ++x)
            brightest = std::max(brightest, static_cast<double>(out(x, y, 1)));
    CHECK(brightest < 0.051);
    CHECK(out(80, 85, 1) == 0.05F);
}

TEST_CASE("a picture's corners lie where they are put, to a twentieth of a pixel",
          "[steps][backdrop][truth]") {
    const Image board = sky(400, 300);
    const PlaceList corners{V2f(20.3F, 10.7F), V2f(140.2F, 22.1F), V2f(130.6F, 80.4F),
                            V2f(31.9F, 70.0F)};
    const Image out = placedPicture(board, kRoofWidth, kRoofHeight, corners, {});
    // Its red and blue say which place of it is seen; that place goes back through the map of the corners.
    const auto mapped = [&](double u, double v) {
        // Heckbert's projective map of the unit square.
        const auto at = [&](std::size_t i) {
            return Imath::V2d(static_cast<double>(corners[i].x), static_cast<double>(corners[i].y));
        };
        const Imath::V2d d1 = at(1) - at(2);
        const Imath::V2d d2 = at(3) - at(2);
        const Imath::V2d s = at(0) - at(1) + at(2) - at(3);
        const double det = d1.x * d2.y - d2.x * d1.y;
        const double g = (s.x * d2.y - d2.x * s.y) / det;
        const double h = (d1.x * s.y - s.x * d1.y) / det;
        const Imath::V2d a = at(1) - at(0) + at(1) * g;
        const Imath::V2d b = at(3) - at(0) + at(3) * h;
        return (a * u + b * v + at(0)) / (g * u + h * v + 1.0);
    };
    double worst = 0.0;
    int seen = 0;
    for (int y = 0; y < kRoofHeight; ++y)
        for (int x = 0; x < kRoofWidth; ++x) {
            if (out(x, y, 3) < 1.0F)
                continue;
            const Imath::V2d place =
                mapped(static_cast<double>(out(x, y, 0)), static_cast<double>(out(x, y, 2)));
            // Bilinear sampling is exact for a ramp but near its border.
            if (out(x, y, 0) < 0.03F || out(x, y, 0) > 0.97F || out(x, y, 2) < 0.03F ||
                out(x, y, 2) > 0.97F)
                continue;
            worst = test::worse(worst, (place - Imath::V2d(x + 0.5, y + 0.5)).length());
            ++seen;
        }
    CHECK(seen > 4000);
    CHECK(worst < 0.05);
    CHECK(out(2, 2, 3) == 0.0F);
    CHECK_THROWS_AS(placedPicture(board, 20, 20, {V2f(0, 0), V2f(10, 0)}, {}), Error);
    CHECK_THROWS_AS(
        placedPicture(board, 20, 20, {V2f(0, 0), V2f(10, 10), V2f(10, 0), V2f(0, 10)}, {}), Error);
}

TEST_CASE("the backdrop's light wraps over its edge and not over what is nearer",
          "[steps][backdrop]") {
    PassSet set = roof();
    // A post in front of the roof, right at its edge.
    Pass& depth = *set.find(std::string_view("depth"));
    for (int y = 0; y < kRoofHeight; ++y)
        for (int x = 100; x < 110; ++x)
            if (roofAt(x, y) >= 0.5F)
                depth.image.editPlane(0)[depth.image.rowStride() * y + x] = 3.0F;
    const Image board(kRoofWidth, kRoofHeight, {"R", "G", "B"}, 1.0F);
    const Image plain = over(set, board);
    const Image wrapped = over(set, board, R"(,"wrap":0.5,"wrap_width":10)");
    const auto gained = [&](int x, int below) {
        const int y = static_cast<int>(41.5F + 0.25F * static_cast<float>(x - 80)) + below;
        return wrapped(x, y, 1) - plain(x, y, 1);
    };
    CHECK(gained(50, 1) > 0.1F);
    CHECK(gained(50, 4) < gained(50, 1));
    CHECK(gained(50, 25) < 0.002F);
    CHECK(gained(105, 4) < 0.5F * gained(50, 4));
    CHECK(wrapped(20, 5, 1) == Approx(plain(20, 5, 1)).margin(1e-6));
}

TEST_CASE("a backdrop at a distance is fogged there, and one beyond all as the sky is",
          "[steps][backdrop]") {
    const test::Folder folder;
    const std::string file =
        pictureFile(folder, Image(kRoofWidth, kRoofHeight, {"R", "G", "B"}, 1.0F));
    const auto fogged = [&](const char* distance) {
        return test::finished(
            roof(), test::recipeOf(R"({"step":"backdrop","settings":{"picture":")" + file +
                                   R"(","distance":)" + distance +
                                   R"(}},{"step":"fog","settings":{"density":0.02,"start":0,)"
                                   R"("colour":[0,0,0]}})"));
    };
    // At 50 m along the view; in the middle of the picture that is nearly the distance.
    CHECK(fogged("50")(80, 20, 0) == Approx(std::exp(-1.0)).epsilon(0.02));
    CHECK(fogged("0")(80, 20, 0) == 0.0F);
}

TEST_CASE("matching gives a picture the other's brightness and warmth", "[steps][backdrop]") {
    const Image night = [] {
        Image image(40, 40, {"R", "G", "B"});
        const float colour[] = {0.02F, 0.03F, 0.05F};
        for (int c = 0; c < 3; ++c)
            for (int y = 0; y < 40; ++y)
                for (int x = 0; x < 40; ++x)
                    image.editPlane(c)[image.rowStride() * y + x] =
                        colour[c] * (1.0F + 0.02F * static_cast<float>((x + y) % 5));
        return image;
    }();
    BackdropSettings s;
    matchColours(s, sky(80, 60), night);
    CHECK(s.exposure < -3.0F);
    CHECK(s.temperature < 6500.0F);
    BackdropSettings none;
    matchColours(none, night, night);
    CHECK(none.exposure == Approx(0.0F).margin(0.05));
    CHECK(none.temperature == Approx(6500.0F).margin(150.0));
    CHECK(none.saturation == Approx(1.0F).margin(0.05));
    matchColours(none, Image(4, 4, {"R", "G", "B"}, 0.0F), night);  // which says nothing
    CHECK(none.exposure == Approx(0.0F).margin(0.05));
}

TEST_CASE("a part of a picture alone can be matched", "[steps][backdrop]") {
    const test::Folder folder;
    PassSet set = test::greyFrame(80, 60, 0.01F);
    Image bright = set.passes.front().image;
    for (int c = 0; c < 3; ++c)
        for (int y = 10; y < 20; ++y)
            for (int x = 50; x < 70; ++x)
                bright.editPlane(c)[bright.rowStride() * y + x] = 0.64F;
    set.passes.front().image = bright;
    const StepType& type = stepCatalogue().type("backdrop");
    const auto matched = [&](std::optional<Tile> part) {
        Settings settings = initialSettings(type.parameters);
        settings.set("picture", FilePath{pictureFile(folder, Image(8, 8, {"R", "G", "B"}, 0.16F))});
        Surroundings around(set);
        around.part = part;
        const auto action = std::ranges::find(type.actions, part.has_value(), &CardAction::ofPart);
        REQUIRE(action != type.actions.end());
        action->change(settings, settings, around);
        return settings.number("exposure");
    };
    CHECK(matched(Tile{52, 11, 66, 19}) == Approx(2.0F).margin(0.02));
    CHECK(matched(Tile{-10, 30, 900, 50}) == Approx(-4.0F).margin(0.02));
}

TEST_CASE("a gap in a sequence is named, and another frame's new content is seen",
          "[steps][backdrop]") {
    const test::Folder folder;
    for (const int frame : {1, 2, 5})
        (void)pictureFile(folder, Image(8, 8, {"R", "G", "B"}, static_cast<float>(frame)),
                          "sky.000" + std::to_string(frame) + ".exr");
    const Recipe recipe = test::recipeOf(R"({"step":"backdrop","settings":{"picture":")" +
                                         (folder / "sky.0001.exr").string() + "\"}}");
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(roof());
    EvaluateOptions options;
    options.time.number = 4;
    std::string noticed;
    options.notice = [&](const std::string&, const std::string& text) { noticed += text; };
    CHECK(evaluator.evaluate(recipe, options)(80, 10, 0) == Approx(5.0F));
    CHECK(noticed.find("no frame 3 to 4") != std::string::npos);
    (void)pictureFile(folder, Image(9, 8, {"R", "G", "B"}, 7.0F), "sky.0005.exr");
    CHECK(evaluator.evaluate(recipe, options)(80, 10, 0) == Approx(7.0F));
    CHECK(missingFrames({1, 2, 3}).empty());
    CHECK(missingFrames({1, 3, 9}) == "2, 4 to 8");
    CHECK(missingFrames({1, 3, 5, 7, 9, 11, 13}) == "2, 4, 6, 8, 10, …");
}

TEST_CASE("a numbered backdrop shows the frame's picture, and the nearest where one is missing",
          "[steps][backdrop]") {
    const test::Folder folder;
    for (const int frame : {1, 2, 5})
        (void)pictureFile(folder, Image(8, 8, {"R", "G", "B"}, static_cast<float>(frame)),
                          "sky.000" + std::to_string(frame) + ".exr");
    const auto at = [&](int frame) {
        EvaluateOptions options;
        options.time.number = frame;
        return test::finished(roof(),
                              test::recipeOf(R"({"step":"backdrop","settings":{"picture":")" +
                                             (folder / "sky.0001.exr").string() + "\"}}"),
                              options)(80, 10, 0);
    };
    CHECK(at(1) == Approx(1.0F));
    CHECK(at(2) == Approx(2.0F));
    CHECK(at(3) == Approx(2.0F));
    CHECK(at(5) == Approx(5.0F));
    CHECK(at(50) == Approx(5.0F));
}

TEST_CASE("a backdrop has the same bits on any number of threads", "[steps][backdrop]") {
    const Image board = sky(233, 177);
    const auto made = [&] {
        return over(roof(), board,
                    R"(,"wrap":0.4,"blur":3,"corners":[[-5,-4],[150,3],[158,80],[4,95]])");
    };
    const Image all = made();
    for (const int threads : {1, 2, 7}) {
        const ThreadLimit limit(threads);
        CHECK(test::sameBits(made(), all));
    }
}
