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

namespace {

void drag(QWidget& on, const QPoint& from, const QPoint& to) {
    QTest::mousePress(&on, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 4; ++i)
        QTest::mouseMove(&on, from + (to - from) * i / 4);
    QTest::mouseRelease(&on, Qt::LeftButton, {}, to);
}

}  // namespace

TEST_CASE("a part to match is drawn in the picture, and Escape calls it off", "[app][backdrop]") {
    const test::Folder folder;
    PassSet sky;
    sky.put(test::passOf({PassKind::Beauty, {}}, 16, 9, [](int, int, int) { return 0.4F; }));
    writePasses(folder / "sky.exr", sky);
    Desk desk;
    desk.add("Backdrop");
    auto* line = desk.inCard<QWidget>("picture")->findChild<QLineEdit*>();
    REQUIRE(line != nullptr);
    QTest::mouseClick(line, Qt::LeftButton);
    line->insert(QString::fromStdString((folder / "sky.exr").string()));  // its letters are no keys
    QTest::keyClick(line, Qt::Key_Return);
    desk.settle();
    const auto exposure = [&] { return desk.recipe().steps.back().settings.number("exposure"); };
    const auto place = [&](int x, int y) {
        return desk.view().fromPicture(QPointF(x, y)).toPoint();
    };
    REQUIRE(exposure() == 0.0F);
    REQUIRE(desk.button("Match a part") != nullptr);
    QTest::mouseClick(desk.button("Match a part"), Qt::LeftButton);
    QTest::keyClick(&desk.view(), Qt::Key_Escape);
    drag(desk.view(), place(100, 20), place(150, 70));
    desk.settle();
    CHECK(exposure() == 0.0F);
    desk.view().fit();
    QTest::mouseClick(desk.button("Match a part"), Qt::LeftButton);
    drag(desk.view(), place(100, 20), place(150, 70));
    desk.settle();
    CHECK(exposure() == Approx(-1.0F).margin(0.02));
}
