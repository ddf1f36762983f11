#include "app/controls/settings_form.h"
#include "app/survey/add_pass_menu.h"
#include "app/survey/pass_list.h"
#include "app/survey/pass_row.h"
#include "app/window/note_bar.h"
#include "support/surveyed.h"

#include <QLabel>
#include <QLineEdit>
#include <QMenu>

using namespace noctis;
using test::Surveyed;
using test::waitFor;

TEST_CASE("a pass says what it leaves out or can't hold before it is rendered", "[app][survey]") {
    Surveyed o;
    const auto warnings = [&](const char* pass) {
        const auto* row = o.room.passes().findChild<PassRow*>(QLatin1String(pass));
        REQUIRE(row != nullptr);
        const auto* label = row->findChild<QLabel*>("warning");
        return label->isVisible() ? label->text() : QString();
    };
    o.session.change({}, {}, [](Project& p) { p.passes.push_back(passRequest(PassKind::Uv)); });
    REQUIRE(waitFor([&] { return warnings("uv").contains("texture coordinates"); }));
    CHECK(warnings("occlusion").isEmpty());
    o.session.change({}, {}, [](Project& p) { applyPassSetting(p.passes, "occlusion.on=ground"); });
    REQUIRE(
        waitFor([&] { return warnings("occlusion").contains("Leaves out 2 visible objects"); }));
    o.session.undo();
    REQUIRE(waitFor([&] { return warnings("occlusion").isEmpty(); }));
    CHECK(o.session.passes().passes.empty());
}

TEST_CASE("a closed row says where its pass stops, and whether it is cleaned", "[app][survey]") {
    Surveyed o;
    o.session.change({}, {}, [](Project& p) {
        p.passes.push_back(passRequest(PassKind::Beauty));
        applyPassSetting(p.passes, "beauty.samples=32");
    });
    const auto summary = [&] {
        return o.room.passes().findChild<PassRow*>("beauty")->findChild<QLabel*>("summary");
    };
    CHECK(summary()->toolTip() == "32 samples");
    o.session.change({}, {}, [](Project& p) {
        applyPassSetting(p.passes, "beauty.noise=0.008");
        applyPassSetting(p.passes, "beauty.denoise=1");
    });
    const QString thin(QChar(0x2009));
    CHECK(summary()->toolTip() == "32 samples · denoised · noise 0.8" + thin + "%");
    CHECK(summary()->text() == summary()->toolTip());  // it fits
}

TEST_CASE("a warning doesn't move the settings under the hand", "[app][survey]") {
    Surveyed o;
    auto* row = o.room.passes().findChild<PassRow*>("occlusion");
    REQUIRE(row != nullptr);
    QTest::mouseClick(row, Qt::LeftButton, {}, QPoint(60, 14));
    auto* form = row->findChild<SettingsForm*>();
    REQUIRE(form != nullptr);
    QTest::qWait(20);
    const QPoint before = form->mapTo(&o.room, QPoint(0, 0));
    o.session.change({}, {}, [](Project& p) { applyPassSetting(p.passes, "occlusion.on=ground"); });
    REQUIRE(waitFor([&] { return row->findChild<QLabel*>("warning")->isVisible(); }));
    QTest::qWait(20);
    CHECK(form->mapTo(&o.room, QPoint(0, 0)) == before);
}

TEST_CASE("all parts of beauty, and each light's shadow, are added at once", "[app][survey]") {
    Surveyed o;
    const auto trigger = [&](const QString& submenu, const QString& entry) {
        AddPassMenu menu(o.session);
        for (QMenu* each : menu.findChildren<QMenu*>())
            for (QAction* action : each->actions())
                if (each->title() == submenu && action->text() == entry)
                    return action->trigger();
        FAIL("there is no such entry");
    };
    const std::size_t before = o.project().passes.size();
    trigger("Part of beauty", "All parts");
    CHECK(o.project().passes.size() == before + 11);
    o.session.undo();
    CHECK(o.project().passes.size() == before);
    trigger("Part of beauty", "Emission");
    trigger("Part of beauty", "All parts");
    CHECK(o.project().passes.size() == before + 11);
    trigger("Shadow of a light", "environment");
    CHECK(o.project().passes.back().name() == "shadow.environment");
}

TEST_CASE("what is stale is rendered, the rest stays, and mist follows without a render",
          "[app][survey][state]") {
    Surveyed o;
    o.press("render");
    REQUIRE(waitFor([&] { return !o.room.renderer().running() && !o.session.passes().empty(); }));
    const auto stateOf = [&](std::size_t i) {
        return o.room.passes().statesOf(o.session.view())[i];
    };
    CHECK(stateOf(0).kind == PassState::Kind::Current);
    CHECK(stateOf(1).kind == PassState::Kind::Current);
    o.session.change({}, {}, [](Project& p) { p.passes.push_back(passRequest(PassKind::Mist)); });
    REQUIRE(waitFor([&] { return stateOf(2).kind == PassState::Kind::Current; }));
    const auto mist = [&] { return o.session.passes().find(PassKind::Mist); };
    REQUIRE(waitFor([&] { return mist() != nullptr; }));
    const Image before = mist()->image;
    o.session.change({}, {}, [](Project& p) { applyPassSetting(p.passes, "mist.begins=1"); });
    CHECK_FALSE(o.room.renderer().running());
    CHECK(waitFor([&] { return !test::sameBits(before, mist()->image); }));
    CHECK(stateOf(2).kind == PassState::Kind::Current);
    o.session.change({}, {}, [](Project& p) { applyPassSetting(p.passes, "occlusion.reach=0.5"); });
    CHECK(stateOf(0).kind == PassState::Kind::Current);
    CHECK(stateOf(1).why == "Reach changed");
    o.session.change({}, {}, [](Project& p) { p.view->camera.cameraToWorld[3][0] += 1.0F; });
    CHECK(stateOf(0).why == "camera moved");
}

TEST_CASE("keys typed into a row's controls neither close nor remove it", "[app][survey]") {
    Surveyed o;
    auto* row = o.room.findChild<PassRow*>("occlusion");
    REQUIRE(row != nullptr);
    row->setFocus();
    QTest::keyClick(row, Qt::Key_Return);
    QLineEdit* receivers = nullptr;
    for (auto* line : row->findChildren<QLineEdit*>())
        if (line->accessibleName() == "Receivers")
            receivers = line;
    REQUIRE(receivers != nullptr);
    receivers->setFocus();
    QTest::keyClicks(receivers, "wall");
    QTest::keyClick(receivers, Qt::Key_Return);
    QTest::keyClick(receivers, Qt::Key_Delete);
    REQUIRE(o.project().passes.size() == 2);
    const PassRequest& asked = o.project().passes[1];
    CHECK(std::get<std::string>(asked.settings.at("on")) == "wall");
    CHECK(receivers->isVisible());
}

TEST_CASE("a suggested reach follows the distances seen", "[app][survey]") {
    Surveyed o;
    auto* row = o.room.findChild<PassRow*>("occlusion");
    REQUIRE(row != nullptr);
    QTest::mouseClick(row, Qt::LeftButton, {}, QPoint(60, 12));
    QTest::qWait(30);
    o.press("suggest-reach");
    const float reach = o.passSetting(PassKind::Occlusion, "reach");
    CHECK(reach > 0.2F);
    CHECK(reach < 2.0F);
}

TEST_CASE("a scene that changed on disk is noticed, read anew, and views stay", "[app][survey]") {
    Surveyed o;
    o.press("render");
    REQUIRE(waitFor([&] { return !o.room.renderer().running() && !o.session.passes().empty(); }));
    const View view = o.session.view();
    test::yardFile(o.folder, "o more\nv 0 0 1\nv 1 0 1\nv 1 1 1\nf 13 14 15\n");
    auto* notes = o.window.findChild<NoteBar*>();
    REQUIRE(waitFor([&] { return notes->text().contains("has changed"); }));
    const auto old = o.session.scene();
    for (auto* button : notes->findChildren<QPushButton*>())
        if (button->text().contains("again"))
            QTest::mouseClick(button, Qt::LeftButton);
    REQUIRE(waitFor([&] { return o.session.scene() && o.session.scene() != old; }));
    CHECK(o.session.scene()->scene.objects.size() == 4);
    CHECK(o.session.view() == view);
    CHECK(o.room.passes().statesOf(o.session.view())[0].why == "more added");
}

TEST_CASE("what is stale is rendered of all views, one after the other", "[app][survey][state]") {
    Surveyed o;
    const View first = o.session.view();
    const View left{"left", lookingAt(V3f(-3, 1.5F, 4), V3f(0, 1.5F, -5), 0.7F)};
    const View right{"right", lookingAt(V3f(3, 1.5F, 4), V3f(0, 1.5F, -5), 0.7F)};
    const View twin{"twin", left.camera};  // shows what the left one does
    o.session.change({}, {}, [&](Project& p) { p.views = {first, left, twin, right}; });
    const auto currentOf = [&](const View& view) {
        const auto states = o.room.passes().statesOf(view);
        return std::count_if(states.begin(), states.end(), [](const PassState& state) {
            return state.kind == PassState::Kind::Current;
        });
    };
    o.press("render");
    REQUIRE(waitFor([&] { return currentOf(first) == 2; }));
    CHECK(currentOf(left) == 0);
    CHECK(currentOf(twin) == 0);
    const Image before = o.session.passes().find(PassKind::Depth)->image;
    o.press("render-views");
    auto* state = o.room.findChild<QLabel*>("render-state");
    REQUIRE(waitFor([&] { return currentOf(left) == 2 && currentOf(right) == 2; }));
    REQUIRE(waitFor([&] { return !o.room.renderer().running(); }));
    CHECK(state->text() == "Everything is up to date");
    CHECK(currentOf(twin) == 2);
    CHECK(o.session.passesOf(twin) == o.session.passesOf(left));
    // The first view was current, stays open, and is as it was.
    CHECK(o.session.passes().view == "test");
    CHECK(test::sameBits(before, o.session.passes().find(PassKind::Depth)->image));
    CHECK_FALSE(test::sameBits(before, o.session.passesOf(left)->find(PassKind::Depth)->image));

    // A job of several shows which one it renders; stopped, it doesn't begin another.
    o.session.change({}, {},
                     [](Project& p) { applyPassSetting(p.passes, "occlusion.samples=60000"); });
    CHECK(currentOf(left) == 1);
    o.press("render-views");
    // These four, and the scene's own.
    REQUIRE(waitFor([&] { return state->text().startsWith("1 of 5: "); }));
    o.press("stop");
    CHECK_FALSE(o.room.renderer().running());
    QTest::qWait(50);
    CHECK_FALSE(o.room.renderer().running());
    CHECK(state->text() == "1 to render");
}

TEST_CASE("the view gives its cores to a render, and goes on after it", "[app][survey]") {
    Surveyed o;
    o.room.show({PassKind::Beauty, {}});
    REQUIRE(waitFor([&] { return !o.room.view().settled(); }));
    o.session.change({}, {},
                     [](Project& p) { applyPassSetting(p.passes, "occlusion.samples=60000"); });
    REQUIRE(waitFor([&] { return !o.room.view().settled(); }));
    o.press("render");
    CHECK(o.room.renderer().running());
    CHECK(o.room.view().settled());
    o.press("stop");
    REQUIRE(waitFor([&] { return !o.room.view().settled(); }));
}

TEST_CASE("a pass that leaves visible things out says so in its row", "[app][survey]") {
    Surveyed o;
    o.session.change({}, {}, [](Project& p) { applyPassSetting(p.passes, "depth.only=post"); });
    o.press("render");
    REQUIRE(waitFor([&] { return !o.room.renderer().running() && !o.session.passes().empty(); }));
    QTest::qWait(30);
    auto* row = o.room.findChild<PassRow*>("depth");
    REQUIRE(row != nullptr);
    bool said = false;
    for (auto* label : row->findChildren<QLabel*>())
        said =
            said || (label->isVisible() && label->text().contains("Leaves out 2 visible objects"));
    CHECK(said);
}

TEST_CASE("passes of one light are added, told apart and removed by their names", "[app][survey]") {
    Surveyed o;
    o.session.change({}, {}, [](Project& p) {
        p.passes.push_back(passRequest(PassKind::Shadow, "environment"));
        p.passes.push_back(passRequest(PassKind::Light, "sky"));
    });
    QApplication::processEvents();
    auto* row = o.room.findChild<PassRow*>("shadow.environment");
    REQUIRE(row != nullptr);
    CHECK(row->accessibleName().contains("Shadow of environment"));
    CHECK(o.room.passes().statesOf(o.session.view())[2].kind == PassState::Kind::Missing);
    row->setFocus();
    QTest::keyClick(row, Qt::Key_Delete);
    QApplication::processEvents();
    CHECK(o.project().passes.size() == 3);
    CHECK(o.project().passes.back().name() == "light.sky");
    CHECK(o.room.findChild<PassRow*>("light.sky") != nullptr);
}

TEST_CASE("passes are rendered straight into a file, and what would fill the memory only there",
          "[app][survey]") {
    Surveyed o;
    auto* offer = o.room.passes().findChild<QPushButton*>("into-a-file");
    REQUIRE(offer != nullptr);
    CHECK(offer->isEnabled());
    o.room.passes().renderInto(o.folder / "all.exr");
    REQUIRE(o.waitForQueue());
    const PassSet set = readPasses({o.folder / "all.exr"});
    CHECK(set.width == 160);
    CHECK(set.find(PassKind::Occlusion) != nullptr);
    CHECK(o.session.passes().empty());  // none is kept
    CHECK(waitFor([&] { return o.window.notes().text().contains("is done"); }));

    o.session.change({}, {}, [](Project& p) {
        p.width = p.height = 16384;
        p.passes.push_back(passRequest(PassKind::Objects));
    });
    o.room.passes().render(true);
    CHECK_FALSE(o.room.renderer().running());
    CHECK(o.window.notes().text().contains("GB of memory"));
}

TEST_CASE("each view's passes have their own state, and are not rendered twice",
          "[app][survey][state]") {
    Surveyed o;
    o.session.change({}, {}, [](Project& p) { p.passes = {passRequest(PassKind::Depth)}; });
    const View first = o.session.view();
    const View second{"other", lookingAt(V3f(2, 1.5F, 4), V3f(0, 1.5F, -5), 0.7F)};
    const auto look = [&](const View& view) {
        o.session.change({}, {}, [&](Project& p) { p.view = view; });
    };
    const auto state = [&] { return o.room.passes().statesOf(o.session.view())[0].kind; };
    const auto render = [&] {
        o.press("render");
        REQUIRE(waitFor(
            [&] { return !o.room.renderer().running() && state() == PassState::Kind::Current; }));
    };
    render();
    look(second);
    CHECK(state() == PassState::Kind::Missing);  // not stale: it never had any
    render();
    look(first);
    CHECK(state() == PassState::Kind::Current);
    CHECK_FALSE(o.room.findChild<QPushButton*>("render")->isEnabled());
    View moved = first;
    moved.camera = second.camera;
    moved.camera.cameraToWorld[3][1] += 1.0F;
    look(moved);
    CHECK(o.room.passes().statesOf(o.session.view())[0].why == "camera moved");
    look(second);
    CHECK(state() == PassState::Kind::Current);
}
