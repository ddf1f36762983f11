#include "core/image/tiles.h"
#include "core/passes/matte.h"
#include "core/settings/value_type.h"
#include "support/files.h"
#include "support/frames.h"

#include <bit>
#include <cmath>
#include <set>

#include <catch2/catch.hpp>

using namespace noctis;
using test::passOf;
using test::whereOf;

namespace {

constexpr int kWidth = 64;
constexpr int kHeight = 8;

/// Depth 1 m a pixel from 0.5 m on; nothing hit in the last column; places and directions to match.
PassSet frame() {
    PassSet set = test::greyFrame(kWidth, kHeight);
    const auto hit = [](int x) { return x < kWidth - 1; };
    set.put(passOf({PassKind::Depth, {}}, kWidth, kHeight, [&](int x, int, int) {
        return hit(x) ? static_cast<float>(x) + 0.5F : kNothingHit;
    }));
    set.put(passOf({PassKind::Position, {}}, kWidth, kHeight, [&](int x, int y, int c) {
        const float place[3] = {static_cast<float>(x), static_cast<float>(y), -3.0F};
        return hit(x) ? place[c] : 0.0F;
    }));
    set.put(passOf({PassKind::Normal, {}}, kWidth, kHeight, [&](int x, int, int c) {
        const float angle = static_cast<float>(x) / 60.0F * 3.14159265F;
        const float normal[3] = {std::sin(angle), std::cos(angle), 0.0F};
        return hit(x) ? normal[c] : 0.0F;
    }));
    set.put(passOf({PassKind::Occlusion, {}}, kWidth, kHeight, [&](int x, int, int) {
        return hit(x) ? static_cast<float>(x) / kWidth : 1.0F;
    }));
    return set;
}

float at(const char* where, int x, int y = 4) { return whereOf(frame(), where)(x, y, 0); }

}  // namespace

TEST_CASE("a band rises straight about its edges, and the edge itself is half covered",
          "[criteria]") {
    const char* band = R"({"by":"depth","from":10.5,"to":30.5,"soft":4})";
    CHECK(at(band, 10) == Approx(0.5F));
    CHECK(at(band, 8) == Approx(0.0F).margin(1e-6));
    CHECK(at(band, 9) == Approx(0.25F));
    CHECK(at(band, 12) == Approx(1.0F));
    CHECK(at(band, 30) == Approx(0.5F));
    CHECK(at(band, 33) == 0.0F);
    CHECK(at(band, kWidth - 1) == 0.0F);  // nothing hit is infinitely far
    CHECK(at(R"({"by":"depth","from":10.5})", kWidth - 1) == 1.0F);
    CHECK(at(R"({"by":"depth","from":10.5})", 10) == 1.0F);  // without soft the edge is in
    CHECK(at(R"({"by":"depth","from":10.5})", 9) == 0.0F);
    CHECK(at(R"({"by":"depth"})", 3) == 1.0F);
}

TEST_CASE("heights, axes, balls and boxes are of the scene, and nothing hit is in none",
          "[criteria]") {
    CHECK(at(R"({"by":"height","from":3.5,"soft":2})", 20, 4) == Approx(0.75F));
    CHECK(at(R"({"by":"height","to":100})", kWidth - 1) == 0.0F);
    CHECK(at(R"({"by":"axis","axis":"x","from":20,"to":40})", 20) == 1.0F);
    CHECK(at(R"({"by":"axis","axis":"x","from":20,"to":40})", 41) == 0.0F);
    CHECK(at(R"({"by":"axis","axis":"z","from":-4,"to":-2})", 7) == 1.0F);
    CHECK(at(R"({"by":"sphere","centre":[20,4,-3],"radius":5,"soft":4})", 25) == Approx(0.5F));
    CHECK(at(R"({"by":"sphere","centre":[20,4,-3],"radius":5,"soft":4})", 24) == Approx(0.75F));
    CHECK(at(R"({"by":"sphere","centre":[0,0,0],"radius":500})", kWidth - 1) == 0.0F);
    const char* ring = R"({"by":"around","point":[20,4,-3],"from":2,"to":5,"soft":2})";
    CHECK(at(ring, 24) == Approx(1.0F));
    CHECK(at(ring, 25) == Approx(0.5F));
    CHECK(at(ring, 22) == Approx(0.5F));
    CHECK(at(ring, 20) == 0.0F);
    CHECK(at(R"({"by":"around","point":[20,4,-3],"from":2})", kWidth - 1) == 0.0F);
    const char* box = R"({"by":"box","min":[10,0,-5],"max":[30,6,0],"soft":2})";
    CHECK(at(box, 10) == Approx(0.5F));
    CHECK(at(box, 20) == 1.0F);
    CHECK(at(box, 20, 6) == Approx(0.5F));
    CHECK(at(box, 9) == Approx(0.0F).margin(1e-6));
}

TEST_CASE("a facing cone is half as wide as its whole, about where surfaces face", "[criteria]") {
    const char* up = R"({"by":"facing","direction":[0,5,0],"angle":30,"soft":12})";
    CHECK(at(up, 0) == 1.0F);
    CHECK(at(up, 10) == Approx(0.5F).margin(1e-4));  // 3 degrees a pixel
    CHECK(at(up, 12) == Approx(0.0F).margin(1e-4));
    CHECK(at(up, kWidth - 1) == 0.0F);
    PassSet turned = frame();
    Pass& normal = *turned.find("normal");
    normal.space = "camera";
    turned.camera = lookingAt(V3f(0, 0, 0), V3f(1, 0, 0), 0.7F);
    // Camera x is the world's z here: what faces right of the camera faces along +Z.
    CHECK(whereOf(turned, R"({"by":"facing","direction":[0,0,1],"angle":10})")(30, 4, 0) == 1.0F);
}

TEST_CASE("a soft coverage mixes with what the background is", "[criteria]") {
    PassSet set = frame();
    set.put(passOf({PassKind::Coverage, {}}, kWidth, kHeight, [](int x, int, int) {
        return x == 20 ? 0.25F : (x < kWidth - 1 ? 1.0F : 0.0F);
    }));
    CHECK(whereOf(set, R"({"by":"depth","to":30})")(20, 4, 0) == Approx(0.25F));
    CHECK(whereOf(set, R"({"by":"depth","from":30})")(20, 4, 0) == Approx(0.75F));
    CHECK(whereOf(set, R"({"by":"height","from":-100})")(20, 4, 0) == Approx(0.25F));
    CHECK(whereOf(set, R"({"by":"ellipse","centre":[20,4],"radii":[9,9],"soft":0})")(20, 4, 0) ==
          1.0F);  // a shape in the picture knows no surfaces
}

TEST_CASE("mattes are soft by their own shares", "[criteria]") {
    PassSet set = frame();
    Pass pass;
    pass.name = "objects";
    pass.kind = PassKind::Objects;
    pass.manifest = matteManifest({"crate", "boat"});
    pass.image = Image(kWidth, kHeight, matteChannels("objects", 2));
    const auto lay = [&](int channel, float value) {
        float* plane = pass.image.editPlane(channel);
        std::fill(plane, plane + pass.image.rowStride() * kHeight, value);
    };
    lay(0, std::bit_cast<float>(matteId("crate")));
    lay(1, 0.6F);
    lay(2, std::bit_cast<float>(matteId("boat")));
    lay(3, 0.3F);
    set.put(pass);
    CHECK(whereOf(set, R"({"by":"objects","names":["crate"]})")(5, 5, 0) == 0.6F);
    CHECK(whereOf(set, R"({"by":"objects","names":["boat"]})")(5, 5, 0) == 0.3F);
    CHECK(whereOf(set, R"({"by":"objects","names":["boat","crate"]})")(5, 5, 0) == Approx(0.9F));
    CHECK(whereOf(set, R"({"by":"objects","names":["gull"]})")(5, 5, 0) == 0.0F);
}

TEST_CASE("colours, luminance and passes go by their values", "[criteria]") {
    PassSet set = frame();
    set.put(passOf({PassKind::Beauty, {}}, kWidth, kHeight, [](int x, int, int c) {
        return c == 1 ? 0.01F * static_cast<float>(x) : 0.0F;
    }));
    const float green = 0.7152F;
    CHECK(whereOf(set, R"({"by":"luminance","from":0.2146,"soft":0.1})")(30, 1, 0) ==
          Approx(0.5F + (0.3F * green - 0.2146F) / 0.1F).margin(1e-4));
    const char* colour = R"({"by":"colour","colour":[0,0.3,0],"within":0.05,"soft":0.04})";
    CHECK(whereOf(set, colour)(30, 1, 0) == 1.0F);
    CHECK(whereOf(set, colour)(35, 1, 0) == Approx(0.5F).margin(1e-4));
    CHECK(at(R"({"by":"occlusion","to":0.5,"soft":0.25})", 32) == Approx(0.5F));
    CHECK(at(R"({"by":"pass","pass":"occlusion","from":0.25,"to":0.5})", 20) == 1.0F);
    CHECK(at(R"({"by":"pass","pass":"normal","from":0.9})", 30) == 1.0F);
    set.put(passOf({PassKind::Colour, "ids"}, kWidth, kHeight,
                   [](int x, int, int c) { return c == 0 && x > 30 ? 1.0F : 0.0F; }));
    set.passes.back().name = "ids";
    CHECK(whereOf(set, R"({"by":"id_colour","pass":"ids","colour":[1,0,0]})")(31, 1, 0) == 1.0F);
    CHECK(whereOf(set, R"({"by":"id_colour","pass":"ids","colour":[1,0,0]})")(30, 1, 0) == 0.0F);
}

TEST_CASE("shapes in the picture are in its full pixels, softly edged", "[criteria]") {
    PassSet set = test::greyFrame(200, 100);
    const Image ellipse =
        whereOf(set, R"({"by":"ellipse","centre":[100,50],"radii":[40,40],"soft":10})");
    CHECK(ellipse(100, 50, 0) == 1.0F);
    CHECK(ellipse(139, 49, 0) == Approx(0.5F).margin(0.06));  // its middle is at 139.5
    CHECK(ellipse(146, 50, 0) == 0.0F);
    const Image polygon =
        whereOf(set, R"({"by":"polygon","points":[[20,20],[120,20],[120,80],[20,80]],"soft":4})");
    CHECK(polygon(60, 50, 0) == 1.0F);
    CHECK(polygon(20, 50, 0) == Approx(0.625F));
    CHECK(polygon(10, 50, 0) == 0.0F);
    const Image rectangle =
        whereOf(set, R"({"by":"rectangle","min":[20,20],"max":[120,80],"soft":4})");
    CHECK(rectangle(20, 50, 0) == Approx(0.625F));
    const Image gradient = whereOf(set, R"({"by":"gradient","from":[50,0],"to":[150,0]})");
    CHECK(gradient(49, 3, 0) == 0.0F);
    CHECK(gradient(100, 90, 0) == Approx(0.505F));
    CHECK(gradient(150, 3, 0) == 1.0F);
    const Image strokes = whereOf(
        set, R"({"by":"strokes","strokes":[{"points":[[20,50],[180,50]],"radius":20,"softness":0.5},
                 {"points":[[100,50]],"radius":10,"softness":0,"takes_away":true}]})");
    CHECK(strokes(50, 55, 0) == 1.0F);
    CHECK(strokes(50, 75, 0) == 0.0F);
    CHECK(strokes(50, 64, 0) == Approx(0.5F).margin(0.08));
    CHECK(strokes(100, 50, 0) == Approx(0.0F).margin(1e-6));
}

TEST_CASE(
    "every criterion is declared whole, survives what is odd, and gives the same on any threads",
    "[criteria][registry]") {
    std::set<std::string> ids;
    for (const CriterionType& type : stepCatalogue().criteria()) {
        INFO(type.id);
        CHECK(ids.insert(type.id).second);
        CHECK(type.help.ends_with("."));
        CHECK((type.point != nullptr) != (type.area != nullptr));
        CHECK(type.summary != nullptr);
        for (const float odd : {0.0F, -3.0F, 1e30F, kNothingHit, std::nanf("")}) {
            for (const int size : {1, 37}) {
                PassSet set = test::greyFrame(size, size, odd);
                for (const PassKind kind :
                     {PassKind::Depth, PassKind::Distance, PassKind::Position, PassKind::Normal,
                      PassKind::Occlusion, PassKind::Coverage, PassKind::Objects,
                      PassKind::Materials, PassKind::Groups})
                    set.put(passOf({kind, {}}, size, size, [=](int, int, int) { return odd; }));
                Recipe recipe;
                recipe.steps.push_back(stepCatalogue().newStep("grade"));
                recipe.steps[0].where = stepCatalogue().newCriterion(type.id);
                if (type.id == "id_colour")
                    recipe.steps[0].where.settings.set("pass", std::string("beauty"));
                Evaluator evaluator(stepCatalogue());
                evaluator.setPasses(set);
                const Image mask = evaluator.where(recipe, "grade");
                REQUIRE(mask.width() == size);
                for (int x = 0; x < size; ++x) {
                    CHECK(mask(x, 0, 0) >= 0.0F);
                    CHECK(mask(x, 0, 0) <= 1.0F);
                }
                for (const int threads : {1, 2, 7}) {
                    const ThreadLimit limit(threads);
                    evaluator.setPasses(set);
                    CHECK(test::sameBits(evaluator.where(recipe, "grade"), mask));
                }
            }
        }
    }
}
