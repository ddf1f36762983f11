#include "app/controls/line_over.h"
#include "core/image/safe_write.h"
#include "core/steps/registry.h"
#include "support/desk.h"

#include <QComboBox>

using namespace noctis;
using test::Desk;
using test::kBoatX;
using test::kCrateX;

namespace {

std::vector<std::string> titlesOf(const Recipe& recipe) {
    std::vector<std::string> titles;
    for (const Step& step : recipe.steps)
        titles.push_back(titleOf(step, stepCatalogue()));
    return titles;
}

using Titles = std::vector<std::string>;

}  // namespace

TEST_CASE("a step is duplicated, renamed and moved from its card, one undo each", "[app][recipe]") {
    Desk desk;
    desk.add("Fog");
    desk.type(desk.inCard<ValueBar>("start"), "3");
    desk.choose(desk.button("More"), "Duplicate");
    CHECK(titlesOf(desk.recipe()) == Titles{"Fog", "Fog 2"});
    CHECK(desk.recipe().steps[1].settings == desk.recipe().steps[0].settings);
    CHECK(desk.recipe().steps[1].id != desk.recipe().steps[0].id);

    desk.open(1);
    desk.choose(desk.button("More"), "Rename");
    auto* line = desk.card().findChild<LineOver*>();
    REQUIRE(line != nullptr);
    line->selectAll();
    QTest::keyClicks(line, "Bank over the water");
    QTest::keyClick(line, Qt::Key_Return);
    CHECK(titlesOf(desk.recipe()) == Titles{"Fog", "Bank over the water"});

    desk.choose(desk.button("More"), "Move up");
    CHECK(titlesOf(desk.recipe()) == Titles{"Bank over the water", "Fog"});
    // It is at the top already.
    desk.open(0);
    desk.choose(desk.button("More"), "Move up");
    CHECK(titlesOf(desk.recipe()) == Titles{"Bank over the water", "Fog"});
    desk.window.session().undo();
    CHECK(titlesOf(desk.recipe()) == Titles{"Fog", "Bank over the water"});
    desk.window.session().undo();
    CHECK(titlesOf(desk.recipe()) == Titles{"Fog", "Fog 2"});
    desk.window.session().undo();
    CHECK(titlesOf(desk.recipe()) == Titles{"Fog"});
}

TEST_CASE("a step moves among those of its phase, and never past another's", "[app][recipe]") {
    Desk desk;
    desk.add("Grade");
    desk.add("Fog");
    desk.add("Mist");
    CHECK(titlesOf(desk.recipe()) == Titles{"Grade", "Fog", "Mist"});
    QTest::keyClick(&desk.card(), Qt::Key_Up, Qt::AltModifier);
    CHECK(titlesOf(desk.recipe()) == Titles{"Grade", "Mist", "Fog"});
    desk.open(1);
    QTest::keyClick(&desk.card(), Qt::Key_Up, Qt::AltModifier);
    CHECK(titlesOf(desk.recipe()) == Titles{"Grade", "Mist", "Fog"});
    desk.open(0);
    QTest::keyClick(&desk.card(), Qt::Key_Down, Qt::AltModifier);
    CHECK(titlesOf(desk.recipe()) == Titles{"Grade", "Mist", "Fog"});
}

TEST_CASE("a step alone shows what it does to the picture, without the others", "[app][recipe]") {
    Desk desk;
    const QColor plain = desk.shownAt(kBoatX);
    desk.add("Grade");
    desk.type(desk.inCard<ValueBar>("exposure"), "2");
    const QColor graded = desk.shownAt(kBoatX);
    CHECK(graded.green() > plain.green() + 30);
    desk.add("Mist");
    desk.type(desk.inCard<ValueBar>("begins"), "30");
    QTest::mouseClick(desk.inCard<QPushButton>("solo"), Qt::LeftButton);
    desk.settle();
    CHECK(desk.shownAt(kBoatX) == plain);
    // It is a way to look, and no change of the recipe.
    CHECK(desk.recipe().steps.size() == 2);
    CHECK(desk.at(kBoatX).g == Approx(0.8F));
    QTest::mouseClick(desk.inCard<QPushButton>("solo"), Qt::LeftButton);
    desk.settle();
    CHECK(desk.shownAt(kBoatX) == graded);
    // What is alone and removed leaves the others to be seen.
    QTest::mouseClick(desk.inCard<QPushButton>("solo"), Qt::LeftButton);
    desk.choose(desk.button("More"), "Remove");
    CHECK(desk.shownAt(kBoatX) == graded);
}

TEST_CASE("a project begins without what was open, alone or shown of the one before",
          "[app][recipe]") {
    Desk desk;
    test::Folder folder;
    desk.add("Grade");
    desk.window.session().save(folder / "first.noctis");
    desk.type(desk.inCard<ValueBar>("exposure"), "2");
    desk.window.session().save(folder / "second.noctis");
    desk.add("Mist");
    QTest::mouseClick(desk.inCard<QPushButton>("solo"), Qt::LeftButton);
    const auto showDepth = [&] {
        auto* print = desk.window.picture().findChild<QAbstractButton*>("depth");
        REQUIRE(print != nullptr);
        QTest::mouseClick(print, Qt::LeftButton);
        desk.settle();
    };
    showDepth();
    REQUIRE(test::openAndRead(desk.window, {folder / "second.noctis"}));
    desk.settle();
    const QColor graded = desk.shownAt(kBoatX);
    desk.open(0);
    CHECK_FALSE(desk.inCard<QPushButton>("solo")->isChecked());
    QTest::mouseClick(desk.inCard<QPushButton>("solo"), Qt::LeftButton);
    showDepth();
    REQUIRE(test::openAndRead(desk.window, {folder / "first.noctis"}));
    desk.settle();
    CHECK(desk.shownAt(kBoatX).green() < graded.green() - 30);
    auto* card = desk.window.picture().recipe().findChild<StepCard*>(
        QString::fromStdString(desk.recipe().steps[0].id));
    CHECK((card->findChild<QPushButton*>("solo") == nullptr ||
           !card->findChild<QPushButton*>("solo")->isVisible()));
}

TEST_CASE("presets set all at once, defaults bring it back, and blends mix", "[app][recipe]") {
    Desk desk;
    desk.add("Distance tint");
    const Settings first = desk.recipe().steps[0].settings;
    desk.choose(desk.button("Presets"), "Dark in front");
    const auto colours = desk.recipe().steps[0].settings.get<Gradient>("colours");
    CHECK(colours.stops.front().colour.r < 0.2F);
    desk.choose(desk.button("Presets"), "Defaults");
    CHECK(desk.recipe().steps[0].settings.get<Gradient>("colours") ==
          first.get<Gradient>("colours"));
    desk.window.session().undo();
    CHECK(desk.recipe().steps[0].settings.get<Gradient>("colours") == colours);

    auto* blend = desk.card().findChild<QComboBox*>();
    REQUIRE(blend != nullptr);
    blend->setFocus();
    QTest::keyClicks(blend, "Lighten");
    desk.settle();
    CHECK(desk.recipe().steps[0].blend == Blend::Lighten);
    CHECK(desk.at(kBoatX).g == Approx(0.2F));  // what was darkened is as it was
}

TEST_CASE("a Where is shared by a name, and another step works in the same place", "[app][where]") {
    Desk desk;
    desk.add("Grade");
    desk.type(desk.inCard<ValueBar>("exposure"), "1");
    desk.limitToObjects("crate");
    desk.choose(desk.inCard<QPushButton>("where-more"), "Share");
    auto* line = desk.card().findChild<LineOver*>();
    REQUIRE(line != nullptr);
    QTest::keyClicks(line, "cargo");
    QTest::keyClick(line, Qt::Key_Return);
    REQUIRE(desk.recipe().wheres.count("cargo") == 1);
    desk.add("Recolour");
    desk.choose(desk.inCard<QPushButton>("add-criterion"), "Same as cargo");
    CHECK(desk.recipe().steps[0].where == desk.recipe().steps[1].where);
    CHECK(desk.at(kCrateX).g != Approx(0.4F));
    CHECK(desk.at(kBoatX).g == 0.2F);
}

TEST_CASE("looks beside the frame's files are in the menu, and one undo leaves them",
          "[app][recipe]") {
    Desk desk;
    desk.add("Grade");
    const std::filesystem::path folder =
        desk.window.session().project().passFiles.front().parent_path() / "looks";
    std::filesystem::create_directories(folder);
    writeTextFile(folder / "Evening.json", R"({"format": "noctis-recipe", "version": 2, "steps": [
        {"step": "fog", "id": "fog", "settings": {"start": 2}},
        {"step": "mist", "id": "mist"}]})");
    writeTextFile(folder / "Torn.json", R"({"format": "noctis-recipe", "version)");
    writeTextFile(folder / "readme.txt", "no look");
    auto* looks = desk.window.findChild<QPushButton*>("looks");
    REQUIRE(looks != nullptr);
    desk.choose(looks, "Evening");
    CHECK(titlesOf(desk.recipe()) == Titles{"Grade", "Evening", "Fog", "Mist"});
    desk.window.session().undo();
    CHECK(titlesOf(desk.recipe()) == Titles{"Grade"});
    desk.choose(looks, "Evening", "Instead of this recipe");
    CHECK(titlesOf(desk.recipe()) == Titles{"Fog", "Mist"});
    desk.choose(looks, "Torn", "Instead of this recipe");  // says why, and loses nothing
    CHECK(titlesOf(desk.recipe()) == Titles{"Fog", "Mist"});
    desk.window.session().undo();
    CHECK(titlesOf(desk.recipe()) == Titles{"Grade"});
}
