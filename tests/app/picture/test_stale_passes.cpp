// What is stale is said in Picture, and rendered from there.
#include "app/cards/step_card.h"
#include "app/picture/picture_room.h"
#include "app/picture/recipe_panel.h"
#include "app/picture/stale_passes.h"
#include "app/survey/pass_list.h"
#include "support/surveyed.h"

#include <QLabel>

using namespace noctis;
using test::waitFor;

namespace {

struct Rendered : test::Surveyed {
    Rendered() {
        room.passes().render(false);
        finish();
        window.showRoom(window.picture());
        look();
    }
    void finish() {
        REQUIRE(waitFor([&] { return !room.renderer().running(); }));
        REQUIRE(waitFor([&] { return window.picture().settled(); }));
        QApplication::processEvents();
    }
    void look() { QApplication::processEvents(); }
    [[nodiscard]] StalePasses& stale() { return *window.findChild<StalePasses*>(); }
    [[nodiscard]] PassState::Kind stateOf(const char* name) {
        return session.passStates().at(name).kind;
    }
    [[nodiscard]] QString tipOf(const char* pass) {
        for (auto* print : window.picture().findChildren<QAbstractButton*>(QLatin1String(pass)))
            if (print->accessibleName().endsWith("pass"))
                return print->toolTip();
        return {};
    }
};

}  // namespace

TEST_CASE("a print says that its pass is stale and why, and is rendered on the spot",
          "[app][picture][stale]") {
    Rendered r;
    CHECK_FALSE(r.stale().isVisible());
    r.session.change("reach", {}, [](Project& p) { p.passes[1].settings.set("reach", 0.5F); });
    r.look();
    CHECK(r.stateOf("occlusion") == PassState::Kind::Stale);
    CHECK(r.stale().isVisible());
    CHECK(r.stale().findChild<QLabel*>()->text().contains("1 pass is stale"));
    CHECK(r.tipOf("occlusion").startsWith("Stale: "));
    CHECK_FALSE(r.tipOf("depth").startsWith("Stale: "));
    QTest::mouseClick(r.stale().findChild<QPushButton*>("render-stale"), Qt::LeftButton);
    CHECK(r.room.renderer().running());
    r.finish();
    CHECK(r.stateOf("occlusion") == PassState::Kind::Current);
    CHECK_FALSE(r.stale().isVisible());
    CHECK_FALSE(r.tipOf("occlusion").startsWith("Stale: "));
}

TEST_CASE("a pass that is no longer in the list is compared as it was made",
          "[app][picture][stale]") {
    Rendered r;
    r.session.change("less", {}, [](Project& p) { p.passes.pop_back(); });
    CHECK(r.stateOf("occlusion") == PassState::Kind::Current);
    r.session.change("size", {}, [](Project& p) { p.width = 192; });
    CHECK(r.stateOf("occlusion") == PassState::Kind::Stale);
    CHECK(r.stale().findChild<QLabel*>()->text().contains("2 passes are stale"));
}

TEST_CASE("a step whose pass is stale or missing says so, and has it rendered",
          "[app][picture][stale]") {
    Rendered r;
    RecipePanel& recipe = r.window.picture().recipe();
    recipe.addStep("occlusion");
    r.finish();
    auto* card = recipe.findChild<StepCard*>("occlusion");
    REQUIRE(card != nullptr);
    auto* remedy = card->findChild<QPushButton*>("remedy");
    REQUIRE(remedy != nullptr);
    CHECK_FALSE(remedy->isVisible());
    r.session.change("reach", {}, [](Project& p) { p.passes[1].settings.set("reach", 0.5F); });
    r.finish();
    CHECK(remedy->isVisible());
    QTest::mouseClick(remedy, Qt::LeftButton);
    r.finish();
    CHECK(r.stateOf("occlusion") == PassState::Kind::Current);
    CHECK_FALSE(remedy->isVisible());

    // One that was never asked for is added to what is rendered.
    recipe.addStep("rim");
    r.finish();
    card = recipe.findChild<StepCard*>("rim");
    REQUIRE(card != nullptr);
    remedy = card->findChild<QPushButton*>("remedy");
    r.session.change("recolour", {}, [](Project&) {});
    recipe.addStep("recolour");
    r.finish();
    const std::size_t before = r.project().passes.size();
    for (auto* each : recipe.findChildren<StepCard*>())
        if (auto* render = each->findChild<QPushButton*>("remedy"); render->isVisible())
            QTest::mouseClick(render, Qt::LeftButton);
    r.finish();
    CHECK(r.project().passes.size() >= before);
    for (auto* each : recipe.findChildren<StepCard*>())
        CHECK_FALSE(each->findChild<QPushButton*>("remedy")->isVisible());
}
