#include "core/steps/standee.h"

#include "core/image/error.h"
#include "core/image/image_file.h"
#include "core/image/text_image.h"
#include "core/image/typeface.h"
#include "support/files.h"
#include "support/frames.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

namespace {

constexpr int kWidth = 160;
constexpr int kHeight = 120;

/// A wall at 50 m, and a post of 20 pixels at 5 m; a level camera 2 m up.
PassSet frame() {
    PassSet set = test::greyFrame(kWidth, kHeight, 0.25F);
    set.camera = lookingAt(V3f(0, 2, 0), V3f(0, 2, -1), 0.7F);
    set.put(test::passOf({PassKind::Depth, {}}, kWidth, kHeight,
                         [](int x, int, int) { return x >= 70 && x < 90 ? 5.0F : 50.0F; }));
    set.put(test::passOf({PassKind::Coverage, {}}, kWidth, kHeight,
                         [](int, int, int) { return 1.0F; }));
    return set;
}

/// A white square on the disk; its right half is clear.
std::filesystem::path square(const Folder& folder) {
    FilePart part;
    part.image = Image(64, 64, {"R", "G", "B", "A"});
    for (int c = 0; c < 4; ++c)
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 32; ++x)
                part.image.editPlane(c)[part.image.rowStride() * y + x] = 1.0F;
    part.type = SampleType::Byte;
    part.straightAlpha = true;
    writeImageFile(folder / "square.png", {part});
    return folder / "square.png";
}

/// Pixels a metre at that depth.
float perMetre(float depth) { return kHeight / (2.0F * std::tan(0.35F)) / depth; }

std::string standee(const std::string& settings) {
    return R"({"step":"standee","id":"s","settings":{)" + settings + "}}";
}

}  // namespace

TEST_CASE("a standee is as high as its metres, stands on its foot, and is hidden by what is nearer",
          "[steps][standee]") {
    const Folder folder;
    const std::string picture = square(folder).string();
    const float high = perMetre(20.0F) * 5.0F;
    const Image out = test::finished(
        frame(), test::recipeOf(standee(R"("picture":")" + picture +
                                        R"(","height":5,"distance":20,"at":[70,100],"soft":0)")));
    // Its left half, from the foot up, as far as the post.
    CHECK(out(60, 98, 0) == Approx(1.0F).margin(0.01));
    CHECK(out(60, 101, 0) == 0.25F);
    CHECK(out(60, static_cast<int>(100.0F - high) + 2, 0) == Approx(1.0F).margin(0.01));
    CHECK(out(60, static_cast<int>(100.0F - high) - 2, 0) == 0.25F);
    CHECK(out(static_cast<int>(70.0F - high / 2.0F) - 2, 90, 0) == 0.25F);
    CHECK(out(static_cast<int>(70.0F - high / 2.0F) + 2, 90, 0) == Approx(1.0F).margin(0.01));
    CHECK(out(75, 90, 0) == 0.25F);  // clear, and behind the post
    CHECK(out(95, 90, 0) == 0.25F);
}

TEST_CASE("later steps see a standee as part of the scene", "[steps][standee]") {
    const Folder folder;
    const std::string stands = standee(R"("picture":")" + square(folder).string() +
                                       R"(","height":5,"distance":20,"at":[50,100])");
    const std::string mist =
        R"({"step":"mist","settings":{"begins":0,"half":20,"full":45,"colour":[0,0,0]}})";
    const std::string fog =
        R"({"step":"fog","settings":{"density":0.05,"start":0,"colour":[0,0,0]}})";
    const Image misty = test::finished(frame(), test::recipeOf(stands + "," + mist));
    CHECK(misty(40, 90, 0) == Approx(0.5F).margin(0.01));  // half hidden at its own 20 m
    CHECK(misty(10, 20, 0) == 0.0F);                       // the wall is past its end
    const Image foggy = test::finished(frame(), test::recipeOf(stands + "," + fog));
    CHECK(foggy(40, 90, 0) > 0.3F);
    CHECK(foggy(10, 90, 0) < 0.05F);
    // Its Where limits what it writes, too.
    const Image limited = test::finished(
        frame(),
        test::recipeOf(
            standee(R"("picture":")" + square(folder).string() +
                    R"(","height":5,"distance":20,"at":[50,100])")
                .insert(1, R"("where":{"by":"rectangle","min":[0,0],"max":[40,120],"soft":0},)") +
            "," + mist));
    CHECK(limited(36, 90, 0) == Approx(0.5F).margin(0.01));
    CHECK(limited(44, 90, 0) == 0.0F);
}

TEST_CASE("a standee fades into what it meets", "[steps][standee]") {
    const Folder folder;
    PassSet set = frame();
    set.put(test::passOf({PassKind::Depth, {}}, kWidth, kHeight,
                         [](int x, int, int) { return 19.5F + 0.01F * static_cast<float>(x); }));
    const Image out = test::finished(
        set, test::recipeOf(standee(R"("picture":")" + square(folder).string() +
                                    R"(","height":12,"distance":20,"at":[110,110],"soft":0.4)")));
    // 20 m is met at column 50; at column 70 the ground is 0.2 m behind it: half of it shows.
    CHECK(out(49, 80, 0) == 0.25F);
    CHECK(out(70, 80, 0) == Approx(0.625F).margin(0.02));
    CHECK(out(100, 80, 0) == Approx(1.0F).margin(0.01));
}

TEST_CASE("a standee at a place of the scene stands there, upright or turned", "[steps][standee]") {
    const Folder folder;
    const std::string picture = R"("picture":")" + square(folder).string() + R"(",)";
    const PassSet set = frame();
    const V3f foot = project(*set.camera, V3f(-3, 0, -20), kWidth, kHeight);
    for (const char* facing : {"camera", "upright"}) {
        const Image out = test::finished(
            set, test::recipeOf(standee(picture + R"("height":2,"position":[-3,0,-20],"facing":")" +
                                        facing + R"(")")));
        CHECK(out(static_cast<int>(foot.x) - 4, static_cast<int>(foot.y) - 2, 0) > 0.9F);
        CHECK(out(static_cast<int>(foot.x) + 4, static_cast<int>(foot.y) - 2, 0) == 0.25F);
        CHECK(out(static_cast<int>(foot.x) - 4, static_cast<int>(foot.y) + 2, 0) == 0.25F);
    }
    // Turned away by a right angle it is a line.
    const Image edge = test::finished(
        set, test::recipeOf(standee(
                 picture + R"("height":2,"position":[0,0,-20],"facing":"fixed","turn":90)")));
    CHECK(edge(60, static_cast<int>(foot.y) - 2, 0) == 0.25F);
}

TEST_CASE("a text is set, in a font of choice, and a missing one is reported", "[steps][standee]") {
    const Image out = test::finished(
        frame(), test::recipeOf(standee(
                     R"("text":"HH","height":6,"distance":20,"at":[40,100],"colour":[1,0,0])")));
    int inked = 0;
    int top = kHeight;
    int bottom = 0;
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x)
            if (out(x, y, 0) > 0.6F) {
                ++inked;
                top = std::min(top, y);
                bottom = std::max(bottom, y);
            }
    CHECK(inked > 300);
    CHECK(static_cast<float>(bottom + 1 - top) == Approx(6.0F * perMetre(20.0F)).margin(1.5));
    CHECK(bottom == Approx(99).margin(1));
    for (const char* missing : {R"("font":"/nowhere/f.otf")", R"("picture":"/nowhere/p.png")"}) {
        const Recipe recipe = test::recipeOf(standee(missing));
        CHECK_THROWS_WITH(test::finished(frame(), recipe),
                          Catch::Contains("Standee") && Catch::Contains("nowhere"));
        EvaluateOptions options;
        std::string reported;
        options.problem = [&](const std::string& id, const std::string&) { reported = id; };
        CHECK(test::sameBits(test::finished(frame(), recipe, options), frame().passes[0].image));
        CHECK(reported == "s");
    }
    CHECK(test::sameBits(test::finished(frame(), test::recipeOf(standee(R"("text":"  ")"))),
                         frame().passes[0].image));
}

TEST_CASE("a picture that changes on the disk is read anew", "[steps][standee]") {
    const Folder folder;
    const auto file = square(folder);
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(frame());
    const Recipe recipe = test::recipeOf(
        standee(R"("picture":")" + file.string() + R"(","height":5,"distance":20,"at":[50,100])"));
    const Image first = evaluator.evaluate(recipe);
    (void)evaluator.takeStepCount();
    (void)evaluator.evaluate(recipe);
    CHECK(evaluator.takeStepCount() == 0);
    FilePart part;
    part.image = Image(20, 20, {"R", "G", "B", "A"}, 0.5F);
    part.type = SampleType::Short;
    part.straightAlpha = true;
    writeImageFile(file, {part});
    CHECK_FALSE(test::sameBits(evaluator.evaluate(recipe), first));
}

TEST_CASE("a text and a picture of it are drawn alike, solid and empty parts at once or not",
          "[steps][standee]") {
    // Of a picture no part is taken for solid: every pixel of it is sampled.
    const Folder folder;
    const Image text = textImage("Quay", Typeface({}), 128);
    FilePart part;
    part.image = Image(text.width(), text.height(), {"R", "G", "B", "A"});
    for (int c = 0; c < 4; ++c)
        for (int y = 0; y < text.height(); ++y)
            for (int x = 0; x < text.width(); ++x)
                part.image.editPlane(c)[part.image.rowStride() * y + x] = text(x, y, 0);
    part.type = SampleType::Float;
    writeImageFile(folder / "quay.exr", {part});
    const std::string picture = (folder / "quay.exr").string();
    for (const std::string& facing :
         {std::string(R"("facing":"camera")"), std::string(R"("facing":"fixed","turn":40)")}) {
        // 80 to 100 pixels high, behind the post and before the wall, with a soft foot.
        const std::string place =
            R"("height":6.0,"distance":10,"at":[80,110],"soft":0.4,)" + facing;
        const Image ofText =
            test::finished(frame(), test::recipeOf(standee(R"("text":"Quay",)" + place)));
        const Image ofPicture = test::finished(
            frame(), test::recipeOf(standee(R"("picture":")" + picture + R"(",)" + place)));
        float apart = 0.0F;
        int lit = 0;
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                apart = std::max(apart, std::abs(ofText(x, y, 0) - ofPicture(x, y, 0)));
                lit += ofText(x, y, 0) > 0.9F ? 1 : 0;
            }
        INFO(facing);
        CHECK(lit > 500);
        CHECK(apart < 0.01F);
    }
}
