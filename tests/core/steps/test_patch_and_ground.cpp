#include "core/image/error.h"
#include "core/passes/pass_file.h"
#include "core/steps/registry.h"
#include "support/files.h"
#include "support/frames.h"

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

PassSet frameOfGrey(int width, int height, float value) {
    PassSet set = test::greyFrame(width, height, value);
    set.put(test::passOf({PassKind::Depth, {}}, width, height, [](int, int, int) { return 9.0F; }));
    return set;
}

/// Red on its left half, half covered in one column, with its own depth.
PassSet part(int width, int height) {
    PassSet set;
    set.camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.7F);
    const auto covered = [width](int x) {
        return x < width / 2 ? 1.0F : x == width / 2 ? 0.5F : 0.0F;
    };
    Pass beauty = test::passOf({PassKind::Beauty, {}}, width, height, [&](int x, int, int c) {
        return c == 0 ? 0.8F * covered(x) : 0.0F;
    });
    Image alpha(width, height, {"A"});
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            alpha.editPlane(0)[alpha.rowStride() * y + x] = covered(x);
    beauty.image = beauty.image.select({0, 1, 2}, {"R", "G", "B"});
    beauty.image.append(alpha);
    set.put(beauty);
    set.put(test::passOf({PassKind::Depth, {}}, width, height, [](int, int, int) { return 4.0F; }));
    return set;
}

std::string patchOf(const test::Folder& folder, const std::string& more = {}) {
    return R"({"step":"patch","settings":{"picture":")" + (folder / "part.exr").string() + "\"" +
           more + "}}";
}

/// A thing with alpha on the left, and the shadow it would throw on a ground.
PassSet sprite() {
    PassSet set;
    set.camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.7F);
    Pass beauty = test::passOf({PassKind::Beauty, {}}, 40, 20,
                               [](int x, int, int) { return x < 10 ? 0.6F : 0.0F; });
    Image alpha(40, 20, {"A"});
    for (int y = 0; y < 20; ++y)
        for (int x = 0; x < 10; ++x)
            alpha.editPlane(0)[alpha.rowStride() * y + x] = 1.0F;
    beauty.image = beauty.image.select({0, 1, 2}, {"R", "G", "B"});
    beauty.image.append(alpha);
    set.put(beauty);
    set.put(test::passOf({PassKind::GroundShadow, {}}, 40, 20,
                         [](int x, int, int) { return x < 25 ? 0.5F : 0.0F; }));
    return set;
}

}  // namespace

TEST_CASE("a patch lies over the picture by its alpha, with its own depth", "[steps][patch]") {
    const test::Folder folder;
    writePasses(folder / "part.exr", part(40, 20));
    const PassSet set = frameOfGrey(40, 20, 0.5F);
    const Image out = test::finished(set, test::recipeOf(patchOf(folder)));
    CHECK(out(5, 5, 0) == Approx(0.8F));
    CHECK(out(5, 5, 1) == Approx(0.0F));
    CHECK(out(20, 5, 0) == Approx(0.65F));
    CHECK(out(20, 5, 1) == Approx(0.25F));
    CHECK(out(30, 5, 0) == 0.5F);
    // A step by depth sees the patch where it is.
    const Image masked =
        test::finished(set, test::recipeOf(patchOf(folder) +
                                           R"(,{"step":"grade","settings":{"exposure":1},"where":)"
                                           R"({"by":"depth","to":5}})"));
    CHECK(masked(5, 5, 0) == Approx(1.6F));
    CHECK(masked(30, 5, 0) == 0.5F);
}

TEST_CASE("a patch can be limited, and says what of it doesn't fit", "[steps][patch]") {
    const test::Folder folder;
    PassSet whole = frameOfGrey(40, 20, 0.9F);
    writePasses(folder / "part.exr", whole);
    const PassSet set = frameOfGrey(40, 20, 0.5F);
    const Image out = test::finished(
        set, test::recipeOf(patchOf(folder).substr(0, patchOf(folder).size() - 1) +
                            R"(,"where":{"by":"rectangle","min":[0,0],"max":[10,20],"soft":0}})"));
    CHECK(out(5, 5, 0) == Approx(0.9F));
    CHECK(out(20, 5, 0) == 0.5F);
    CHECK_THROWS_WITH(test::finished(set, test::recipeOf(patchOf(folder, R"(,"layer":"gloss")"))),
                      Catch::Contains("no pass gloss") && Catch::Contains("beauty"));
    writePasses(folder / "part.exr", part(20, 10));
    CHECK_THROWS_WITH(test::finished(set, test::recipeOf(patchOf(folder))),
                      Catch::Contains("20 × 10") && Catch::Contains("40 × 20"));
    PassSet moved = part(40, 20);
    moved.camera = lookingAt(V3f(0.3F, 0, 0), V3f(0.3F, 0, -1), 0.7F);
    writePasses(folder / "part.exr", moved);
    CHECK_THROWS_WITH(test::finished(set, test::recipeOf(patchOf(folder))),
                      Catch::Contains("stands") && Catch::Contains("away"));
}

TEST_CASE("a patch in another exposure is named, and one in another paint isn't",
          "[steps][patch]") {
    const test::Folder folder;
    const auto textured = [](float gain, bool painted) {
        PassSet set;
        set.camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.7F);
        set.put(test::passOf({PassKind::Beauty, {}}, 80, 60, [=](int x, int y, int c) {
            const float paint = painted && x > 30 ? (c == 0 ? 3.0F : 0.4F) : 1.0F;
            return gain * paint * (0.2F + 0.01F * static_cast<float>((x * 7 + y * 3) % 20));
        }));
        set.put(test::passOf({PassKind::Depth, {}}, 80, 60, [](int, int, int) { return 9.0F; }));
        return set;
    };
    const auto noticed = [&](const PassSet& its) {
        writePasses(folder / "part.exr", its);
        Evaluator evaluator(stepCatalogue());
        evaluator.setPasses(textured(1.0F, false));
        EvaluateOptions options;
        std::string all;
        options.notice = [&](const std::string&, const std::string& text) { all += text; };
        (void)evaluator.evaluate(test::recipeOf(patchOf(folder)), options);
        return all;
    };
    CHECK(noticed(textured(1.0F, false)).empty());
    CHECK(noticed(textured(1.0F, true)).empty());
    const std::string bright = noticed(textured(2.0F, false));
    CHECK(bright.find("1.0 EV brighter") != std::string::npos);
    CHECK(noticed(textured(0.5F, false)).find("darker") != std::string::npos);
}

TEST_CASE("a ground's shadow becomes alpha beneath the thing", "[steps][ground]") {
    const Image out = test::finished(
        sprite(),
        test::recipeOf(R"({"step":"ground","settings":{"strength":0.8,"colour":[0.1,0.2,0.3]}})"));
    CHECK(out(5, 5, 0) == 0.6F);
    CHECK(out(5, 5, 3) == 1.0F);
    CHECK(out(20, 5, 3) == Approx(0.4F));
    CHECK(out(20, 5, 2) == Approx(0.4F * 0.3F));
    CHECK(out(30, 5, 3) == 0.0F);
    const Image soft =
        test::finished(sprite(), test::recipeOf(R"({"step":"ground","settings":{"softness":3}})"));
    CHECK(soft(24, 5, 3) > 0.2F);
    CHECK(soft(24, 5, 3) < 0.4F);
    CHECK(soft(26, 5, 3) > 0.05F);
}
