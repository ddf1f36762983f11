// What is seen through a picture's alpha, by mouse.
#include "core/image/image_file.h"
#include "support/desk.h"

using namespace noctis;
using test::Desk;

namespace {

/// The boat's frame, which covers its left half only.
PassSet halfCovered() {
    PassSet set = test::boatAndCrate();
    Pass& beauty = *set.find(std::string_view("beauty"));
    Image alpha(test::kWidth, test::kHeight, {"A"});
    for (int y = 0; y < test::kHeight; ++y)
        for (int x = 0; x < test::kWidth; ++x) {
            const bool covered = x < test::kWidth / 2;
            alpha.editPlane(0)[alpha.rowStride() * y + x] = covered ? 1.0F : 0.0F;
            for (int c = 0; c < 3; ++c)
                if (!covered)
                    beauty.image.editPlane(c)[beauty.image.rowStride() * y + x] = 0.0F;
        }
    beauty.image = beauty.image.select({0, 1, 2}, {"R", "G", "B"});
    beauty.image.append(alpha);
    return set;
}

}  // namespace

TEST_CASE(
    "a picture with alpha is looked at on a light ground and on checks, which changes none of it",
    "[app][ground]") {
    Desk desk(halfCovered());
    auto* ground = desk.window.picture().findChild<QPushButton*>("ground");
    REQUIRE(ground != nullptr);
    REQUIRE(ground->isVisible());
    CHECK(desk.shownAt(test::kCrateX).lightness() < 5);
    const QColor boat = desk.shownAt(test::kBoatX);
    const Recipe before = desk.recipe();
    desk.choose(ground, "Light");
    CHECK(desk.shownAt(test::kCrateX).lightness() > 120);
    CHECK(desk.shownAt(test::kBoatX) == boat);
    desk.choose(ground, "Checks");
    CHECK(desk.shownAt(test::kCrateX).lightness() > 30);
    CHECK(desk.shownAt(test::kCrateX).lightness() < 140);
    CHECK(desk.recipe() == before);
    CHECK(desk.at(test::kCrateX).r == 0.0F);
}

TEST_CASE("an opaque picture has no ground to look at until it is cut out", "[app][ground]") {
    Desk desk;
    auto* ground = desk.window.picture().findChild<QPushButton*>("ground");
    REQUIRE(ground != nullptr);
    CHECK_FALSE(ground->isVisible());
    desk.add("Matte");
    CHECK(ground->isVisible());
}
