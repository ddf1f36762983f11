// Groups of steps, as a hand makes and works them.
#include "app/cards/amount_bar.h"
#include "core/image/safe_write.h"
#include "core/recipe/groups.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"
#include "support/desk.h"

using namespace noctis;
using test::Desk;
using test::kBoatX;

namespace {

std::string membersOf(const Recipe& recipe) {
    std::string text;
    for (const Step& step : recipe.steps)
        text += (text.empty() ? "" : " ") + (step.group.empty() ? "" : step.group + "/") + step.id;
    return text;
}

QPushButton* grouping(Desk& desk) {
    for (auto* button : desk.panel().findChildren<QPushButton*>())
        if (button->text() == "Group" && button->isVisible())
            return button;
    return nullptr;
}

void drag(AmountBar* bar, double to) {
    REQUIRE(bar != nullptr);
    QTest::mousePress(bar, Qt::LeftButton, {}, QPoint(bar->width() - 2, 7));
    QTest::mouseMove(bar, QPoint(static_cast<int>(to * bar->width()), 7));
    QTest::mouseRelease(bar, Qt::LeftButton, {}, QPoint(static_cast<int>(to * bar->width()), 7));
}

}  // namespace

TEST_CASE("the steps of a phase are put into a group, mixed, folded, moved out and dissolved",
          "[app][recipe][group]") {
    Desk desk;
    const QColor plain = desk.shownAt(kBoatX);
    desk.add("Grade");
    desk.type(desk.inCard<ValueBar>("exposure"), "1");
    CHECK(grouping(desk) == nullptr);  // there is nothing to put together yet
    desk.add("Grade");
    desk.type(desk.inCard<ValueBar>("exposure"), "1");
    const QColor whole = desk.shownAt(kBoatX);
    CHECK(whole.green() > plain.green() + 60);

    QPushButton* group = grouping(desk);
    REQUIRE(group != nullptr);
    QTest::mouseClick(group, Qt::LeftButton);
    desk.settle();
    CHECK(membersOf(desk.recipe()) == "group group/grade group/grade 2");
    CHECK(desk.shownAt(kBoatX) == whole);
    auto* card = desk.panel().findChild<StepCard*>("group");
    REQUIRE(card != nullptr);
    CHECK(card->title() == "Group");
    auto* member = desk.panel().findChild<StepCard*>("grade 2");
    REQUIRE(member != nullptr);
    CHECK(member->mapTo(&desk.window, QPoint()).x() > card->mapTo(&desk.window, QPoint()).x());

    drag(card->findChild<AmountBar*>(), 0.3);
    desk.settle();
    CHECK(desk.recipe().steps[0].amount == Approx(0.3F).margin(0.02));
    const QColor mixed = desk.shownAt(kBoatX);
    CHECK(mixed.green() > plain.green() + 10);
    CHECK(mixed.green() < whole.green() - 20);

    auto* fold = card->findChild<QPushButton*>("fold");
    REQUIRE(fold != nullptr);
    QTest::mouseClick(fold, Qt::LeftButton);
    CHECK_FALSE(member->isVisible());
    QTest::mouseClick(fold, Qt::LeftButton);
    CHECK(member->isVisible());
    CHECK(membersOf(desk.recipe()) == "group group/grade group/grade 2");

    member->setFocus();
    QTest::keyClick(member, Qt::Key_Down, Qt::AltModifier);
    desk.settle();
    CHECK(membersOf(desk.recipe()) == "group group/grade grade 2");
    desk.open(0);
    desk.choose(desk.button("More"), "Dissolve the group");
    CHECK(membersOf(desk.recipe()) == "grade grade 2");
    desk.window.session().undo();
    desk.window.session().undo();
    CHECK(membersOf(desk.recipe()) == "group group/grade group/grade 2");
    desk.open(0);
    desk.choose(desk.button("More"), "Remove with its steps");
    CHECK(desk.recipe().steps.empty());
    desk.window.session().undo();
    CHECK(desk.recipe().steps.size() == 3);
}

TEST_CASE("a group is limited by a Where, and switched off with its steps",
          "[app][recipe][group]") {
    Desk desk;
    const QColor plain = desk.shownAt(kBoatX);
    const QColor crate = desk.shownAt(test::kCrateX);
    desk.add("Grade");
    desk.type(desk.inCard<ValueBar>("exposure"), "2");
    desk.choose(desk.button("More"), "Put into a group");
    CHECK(membersOf(desk.recipe()) == "group group/grade");
    desk.open(0);
    desk.limitToObjects("boat");
    CHECK(desk.shownAt(kBoatX).green() > plain.green() + 30);
    CHECK(desk.shownAt(test::kCrateX) == crate);
    desk.window.session().change("off", {}, [](Project& p) { p.recipe.steps[0].on = false; });
    desk.settle();
    CHECK(desk.shownAt(kBoatX) == plain);
}

TEST_CASE("a look is added as a group and the whole recipe is mixed with its input",
          "[app][recipe][group]") {
    Desk desk;
    const QColor plain = desk.shownAt(kBoatX);
    const test::Folder folder;
    const std::filesystem::path look = folder / "brighter.json";
    Recipe brighter;
    brighter.steps = {stepCatalogue().newStep("grade")};
    brighter.steps[0].settings.set("exposure", 2.0F);
    writeTextFile(look, recipeToText(brighter, stepCatalogue()));
    desk.add("Mist");
    desk.panel().openLook(QString::fromStdString(look.string()), RecipePanel::LookTaken::Added);
    desk.settle();
    CHECK(membersOf(desk.recipe()) == "mist group group/grade");
    CHECK(desk.recipe().steps[1].name == "brighter");
    auto* whole = desk.panel().findChild<AmountBar*>("recipe-amount");
    drag(whole, 0.0);
    desk.settle();
    CHECK(desk.recipe().amount == Approx(0.0F).margin(0.02));
    CHECK(std::abs(desk.shownAt(kBoatX).green() - plain.green()) <= 3);
    desk.panel().openLook(QString::fromStdString(look.string()), RecipePanel::LookTaken::Instead);
    CHECK(membersOf(desk.recipe()) == "grade");
    CHECK(desk.recipe().amount == 1.0F);
}

TEST_CASE("the overlay of a Where goes with it", "[app][recipe][where]") {
    Desk desk;
    desk.add("Grade");
    desk.limitToObjects("boat");
    QPushButton* overlay = desk.button("Overlay");
    REQUIRE(overlay != nullptr);
    if (!overlay->isChecked())  // it is shown while names are picked
        QTest::mouseClick(overlay, Qt::LeftButton);
    desk.settle();
    CHECK(desk.panel().whereShown() == WhereShown::Overlay);
    while (!desk.recipe().steps[0].where.everywhere())
        desk.window.session().undo();
    desk.settle();
    CHECK(desk.panel().whereShown() == WhereShown::No);
}
