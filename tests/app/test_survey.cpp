#include "app/instruments/plan.h"
#include "app/instruments/sounding.h"
#include "app/survey/add_pass_menu.h"
#include "app/survey/frames_panel.h"
#include "app/survey/lens_control.h"
#include "app/survey/measure_bar.h"
#include "app/survey/pass_list.h"
#include "app/survey/pass_row.h"
#include "app/survey/pins_panel.h"
#include "app/survey/survey_lanes.h"
#include "app/survey/survey_plan.h"
#include "app/survey/survey_room.h"
#include "app/survey/trace_view.h"
#include "app/survey/turnaround_panel.h"
#include "app/survey/view_overlay.h"
#include "app/survey/views_strip.h"
#include "app/window/main_window.h"
#include "app/window/note_bar.h"
#include "support/files.h"
#include "support/windows.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QSpinBox>
#include <QTest>
#include <QTimer>

#include <algorithm>
#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;
using test::waitFor;

// Survey in a real window, driven as a hand does.

namespace {

/// A ground with a wall 9 m and a post 5 m from the first view.
std::filesystem::path sceneFile(const Folder& folder, const std::string& extra = {}) {
    return folder.write(
        "yard.obj", "o ground\nv -20 0 20\nv 20 0 20\nv 20 0 -20\nv -20 0 -20\nf 1 2 3 4\n"
                    "o wall\nv -4 0 -5\nv 4 0 -5\nv 4 3 -5\nv -4 3 -5\nf 5 6 7 8\n"
                    "o post\nv -0.3 0 -1\nv 0.3 0 -1\nv 0.3 2.4 -1\nv -0.3 2.4 -1\nf 9 10 11 12\n" +
                        extra);
}

struct Surveyed {
    Folder folder;
    MainWindow window{folder / "data"};
    Session& session = window.session();
    SurveyRoom& room = window.survey();

    Surveyed() {
        window.resize(1280, 800);
        window.show();
        session.open({sceneFile(folder)});
        window.showRoom(MainWindow::kSurvey);
        room.show({PassKind::Depth, {}});  // quick to settle
        REQUIRE(waitFor([&] { return session.scene() != nullptr; }));
        session.change({}, {}, [](Project& p) {
            p.width = 160;
            p.height = 90;
            p.view = View{"test", lookingAt(V3f(0, 1.5F, 4), V3f(0, 1.5F, -5), 0.7F)};
            p.passes = {passRequest(PassKind::Depth), passRequest(PassKind::Occlusion)};
            applyPassSetting(p.passes, "occlusion.samples=2");
        });
        session.endGesture();
        settle();
    }
    void settle() {
        QTest::qWait(250);
        REQUIRE(waitFor([&] { return room.view().settled(); }));
        QTest::qWait(30);
    }
    [[nodiscard]] QPoint in(double x, double y) {
        const QRectF f = room.view().frame();
        return QPointF(f.left() + f.width() * x, f.top() + f.height() * y).toPoint();
    }
    void clickAt(double x, double y) {
        QTest::mouseClick(&room.view(), Qt::LeftButton, {}, in(x, y));
    }
    void press(const char* name) {
        auto* button = room.findChild<QPushButton*>(QLatin1String(name));
        REQUIRE(button != nullptr);
        QTest::mouseClick(button, Qt::LeftButton);
    }
    const Project& project() { return session.project(); }
    float passSetting(PassKind kind, const char* id) {
        for (const PassRequest& pass : project().passes)
            if (pass.kind == kind)
                return std::get<float>(pass.settings[parameterIndex(passParameters(kind), id)]);
        FAIL("no such pass");
        return 0.0F;
    }
};

/// Where the test camera sees a place: the wall stands 9 m, the post 5 m ahead.
constexpr double kPostX = 0.5;
constexpr double kMiddleY = 0.5;

}  // namespace

TEST_CASE("a click measures a thing, a second one the way between", "[app][survey]") {
    Surveyed o;
    o.clickAt(kPostX, kMiddleY);
    CHECK(o.room.measure().text().contains("post"));
    CHECK(o.room.measure().text().contains("5.00"));
    o.clickAt(0.7, kMiddleY);
    CHECK(o.room.measure().text().contains("wall"));
    CHECK(o.room.measure().text().contains("9.00"));
    CHECK(o.room.measure().text().contains("from the last place"));
    // The sky has no distance: the last measure stays.
    const QString before = o.room.measure().text();
    o.clickAt(0.5, 0.02);
    CHECK(o.room.measure().text() == before);
}

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

TEST_CASE("a drag orbits and measures nothing", "[app][survey]") {
    Surveyed o;
    const Camera before = o.session.view().camera;
    QTest::mousePress(&o.room.view(), Qt::LeftButton, {}, o.in(0.5, 0.5));
    for (int i = 1; i <= 6; ++i)
        QTest::mouseMove(&o.room.view(), o.in(0.5, 0.5) + QPoint(i * 8, 0));
    QTest::mouseRelease(&o.room.view(), Qt::LeftButton, {}, o.in(0.5, 0.5) + QPoint(48, 0));
    CHECK_FALSE(o.session.view().camera == before);
    CHECK_FALSE(o.room.measure().text().contains("post"));
}

TEST_CASE("near, far, focus and mist are set from a measured place", "[app][survey]") {
    Surveyed o;
    o.clickAt(kPostX, kMiddleY);
    o.press("near-here");
    o.press("mist-here");
    o.clickAt(0.7, kMiddleY);
    o.press("far-here");
    o.press("focus-here");
    CHECK(o.project().ramp.nearest == Approx(5.0F).epsilon(1e-3));
    CHECK(o.project().ramp.farthest == Approx(9.0F).epsilon(1e-3));
    CHECK(o.passSetting(PassKind::Mist, "start") == Approx(5.0F).epsilon(1e-3));
    REQUIRE(o.project().recipe.steps.size() == 1);
    const Step& lens = o.project().recipe.steps[0];
    CHECK(lens.type == "depth_of_field");
    o.session.undo();
    CHECK(o.project().recipe.steps.empty());
    o.press("range-from-picture");
    CHECK(o.project().ramp.automatic());
}

TEST_CASE("pins stay, are listed with their distances, and go one by one", "[app][survey]") {
    Surveyed o;
    o.clickAt(kPostX, kMiddleY);
    o.press("pin");
    o.clickAt(0.7, kMiddleY);
    o.press("pin");
    REQUIRE(o.project().pins.size() == 2);
    CHECK(o.project().pins[0].name == "post");
    CHECK(o.project().pins[1].position.z == Approx(-5.0F).margin(1e-3));
    auto* panel = o.room.findChild<PinsPanel*>();
    REQUIRE(panel->isVisible());
    QStringList texts;
    for (auto* label : panel->findChildren<QLabel*>())
        texts << label->text();
    CHECK(texts.join(' ').contains("9.00"));
    QApplication::processEvents();
    for (auto* button : panel->findChildren<QPushButton*>())
        if (button->accessibleName().contains("post")) {
            QTest::mouseClick(button, Qt::LeftButton);
            break;
        }
    REQUIRE(o.project().pins.size() == 1);
    CHECK(o.project().pins[0].name == "wall");
}

TEST_CASE("pins are drawn where their place is seen", "[app][survey]") {
    const ViewPlace view{QRectF(10, 20, 320, 180), lookingAt(V3f(0, 0, 5), V3f(0, 0, 0), 0.7F)};
    const auto middle = view.at(V3f(0, 0, 0));
    REQUIRE(middle);
    CHECK(middle->x() == Approx(170.0).margin(0.6));
    CHECK(middle->y() == Approx(110.0).margin(0.6));
    CHECK_FALSE(view.at(V3f(0, 0, 9)));  // behind the camera
    const CameraRay ray = view.ray(QPointF(170, 110));
    CHECK(ray.direction.dot(V3f(0, 0, -1)) > 0.9999F);
}

TEST_CASE("the cut tints what is before near and beyond far, and nothing between",
          "[app][survey]") {
    Image depth = Image::row({1.0F, 5.0F, 50.0F, kNothingHit});
    const QImage cut = cutOverlay(depth, {2.0F, 20.0F});
    CHECK(qAlpha(cut.pixel(0, 0)) > 0);
    CHECK(qAlpha(cut.pixel(1, 0)) == 0);
    CHECK(qAlpha(cut.pixel(2, 0)) > 0);
    CHECK(qAlpha(cut.pixel(3, 0)) > 0);
    CHECK(qRed(cut.pixel(0, 0)) > qBlue(cut.pixel(0, 0)));  // brass near
    CHECK(qBlue(cut.pixel(2, 0)) > qRed(cut.pixel(2, 0)));  // indigo far
    Surveyed o;
    o.room.show({PassKind::Depth, {}});
    o.settle();
    o.session.change({}, {}, [](Project& p) { p.ramp = {6.0F, 8.0F}; });
    const QColor before = o.room.view().grab().toImage().pixelColor(o.in(kPostX, kMiddleY));
    o.press("cut");
    const QColor after = o.room.view().grab().toImage().pixelColor(o.in(kPostX, kMiddleY));
    CHECK(before != after);
}

TEST_CASE("the depth ramp and the mist are dragged on Survey's Sounding", "[app][survey]") {
    Surveyed o;
    o.session.change({}, {}, [](Project& p) { p.passes.push_back(passRequest(PassKind::Mist)); });
    o.settle();
    Sounding& sounding = o.room.sounding();
    const auto drag = [&](std::size_t owner, std::size_t handle, int by) {
        const QPoint from = sounding.handlePlace(owner, handle).toPoint();
        QTest::mousePress(&sounding, Qt::LeftButton, {}, from);
        QTest::mouseMove(&sounding, from + QPoint(by / 2, 0));
        QTest::mouseMove(&sounding, from + QPoint(by, 0));
        QTest::mouseRelease(&sounding, Qt::LeftButton, {}, from + QPoint(by, 0));
        return sounding.axis().metresAt(from.x() + by);
    };
    const float near = drag(0, 0, 60);
    CHECK(o.project().ramp.nearest == Approx(near).epsilon(0.03));
    const float before = o.passSetting(PassKind::Mist, "start");
    const float start = drag(1, 0, 40);
    CHECK(o.passSetting(PassKind::Mist, "start") == Approx(start).epsilon(0.03));
    CHECK(start != before);
    o.session.change({}, {}, [](Project& p) {
        applyPassSetting(p.passes, "mist.start=5");
        applyPassSetting(p.passes, "mist.length=8");
    });
    const float half = drag(1, 2, -12);
    const MistSettings mist = mistSettings(o.project().passes.back().settings);
    CHECK(mist.falloff < 1.0F);  // thick early
    CHECK(mistAt(half, mist) == Approx(0.5F).margin(0.04));
    o.session.undo();
    CHECK(o.passSetting(PassKind::Mist, "falloff") == 1.0F);
    o.session.undo();
    o.session.undo();
    CHECK(o.passSetting(PassKind::Mist, "start") == before);
}

TEST_CASE("lanes of Survey never let near pass far, nor a mist end before it starts",
          "[app][survey]") {
    Project project = newProject();
    project.passes.push_back(passRequest(PassKind::Mist));
    const DepthRange automatic{1.0F, 100.0F};
    moveSurveyHandle(project, automatic, 0, 0, 500.0F);
    CHECK(project.ramp.nearest < project.ramp.farthest);
    moveSurveyHandle(project, automatic, 0, 1, 0.001F);
    CHECK(project.ramp.nearest < project.ramp.farthest);
    moveSurveyHandle(project, automatic, 1, 1, 0.0F);
    CHECK(mistSettings(project.passes.back().settings).length > 0.0F);
    CHECK(surveyLanes(project, automatic).size() == 2);
}

TEST_CASE("on the Plan the camera is moved and turned, and distances are dragged",
          "[app][survey][plan]") {
    Surveyed o;
    Plan& plan = o.room.plan();
    const auto drag = [&](const QPointF& from, const QPointF& way) {
        QTest::mousePress(&plan, Qt::LeftButton, {}, from.toPoint());
        QTest::mouseMove(&plan, (from + way / 2).toPoint());
        QTest::mouseMove(&plan, (from + way).toPoint());
        QTest::mouseRelease(&plan, Qt::LeftButton, {}, (from + way).toPoint());
    };
    const float far = o.room.view().automaticRange().farthest;
    drag(plan.distancePlace(0), QPointF(4, -10));  // near, a little away from the camera
    CHECK(o.project().ramp.nearest > 0.0F);
    CHECK(o.project().ramp.nearest < far);
    const V3f eye = o.session.view().camera.position();
    drag(plan.cameraPlace(), QPointF(20, 0));
    const V3f moved = o.session.view().camera.position();
    CHECK(moved.x > eye.x + 0.1F);
    CHECK(moved.y == Approx(eye.y).margin(1e-4));
    V3f before;
    o.session.view().camera.cameraToWorld.multDirMatrix(V3f(0, 0, -1), before);
    drag(plan.directionPlace(), QPointF(18, 0));
    V3f after;
    o.session.view().camera.cameraToWorld.multDirMatrix(V3f(0, 0, -1), after);
    CHECK(after.x > before.x + 0.02F);  // to the right
    CHECK(o.session.view().camera.position().equalWithAbsError(moved, 1e-4F));
    o.session.undo();
    V3f undone;
    o.session.view().camera.cameraToWorld.multDirMatrix(V3f(0, 0, -1), undone);
    CHECK(undone.equalWithAbsError(before, 1e-5F));
}

TEST_CASE("lights and locators are dragged on the Plan, put back and undone",
          "[app][survey][plan]") {
    Surveyed o;
    const auto scene = o.folder.write("lamp.gltf", R"({"asset":{"version":"2.0"},"scene":0,
        "extensionsUsed":["KHR_lights_punctual"],
        "extensions":{"KHR_lights_punctual":{"lights":[{"name":"lamp","type":"point"},
          {"name":"moon","type":"directional"}]}},
        "scenes":[{"nodes":[0,1,2,3]}],"nodes":[{"name":"leaf","mesh":0,"translation":[0,0,-4]},
          {"name":"lamp","translation":[1,2,-3],"extensions":{"KHR_lights_punctual":{"light":0}}},
          {"name":"mark","translation":[-1,0,-3]},
          {"name":"moon","extensions":{"KHR_lights_punctual":{"light":1}}}],
        "meshes":[{"name":"leaf","primitives":[{"attributes":{"POSITION":0}}]}],
        "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","min":[0,0,0],"max":[1,1,0]}],
        "bufferViews":[{"buffer":0,"byteLength":36}],
        "buffers":[{"byteLength":36,"uri":"data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA"}]})");
    o.session.open({scene});
    REQUIRE(waitFor([&] { return o.session.scene() && o.session.scene()->file == scene; }));
    o.session.change({}, {}, [](Project& p) {
        p.view = View{"test", lookingAt(V3f(0, 1, 4), V3f(0, 1, -5), 0.7F)};
        p.passes = {passRequest(PassKind::Beauty), passRequest(PassKind::Depth)};
        applyPassSetting(p.passes, "beauty.samples=1");
    });
    o.settle();
    SurveyPlan& plan = o.room.plan();
    REQUIRE(plan.marks().size() == 2);
    REQUIRE(plan.suns().size() == 1);  // the moon has no place
    const auto indexOf = [&](const char* name) {
        const auto& marks = plan.marks();
        return static_cast<std::size_t>(
            std::find_if(marks.begin(), marks.end(),
                         [&](const PlanMark& mark) { return mark.label == name; }) -
            marks.begin());
    };
    const auto drag = [&](const char* name, const QPoint& way) {
        const QPoint from = plan.markPlace(indexOf(name)).toPoint();
        QTest::mousePress(&plan, Qt::LeftButton, {}, from);
        QTest::mouseMove(&plan, from + way / 2);
        QTest::mouseMove(&plan, from + way);
        QTest::mouseRelease(&plan, Qt::LeftButton, {}, from + way);
    };
    drag("lamp", QPoint(24, 0));
    const V3f lamp = o.project().moved.lights.at("lamp");
    CHECK(lamp.x > 1.05F);  // to the right, at its height
    CHECK(lamp.y == 2.0F);
    CHECK(lamp.z == Approx(-3.0F).margin(0.05));
    CHECK(plan.marks()[indexOf("lamp")].position == lamp);
    o.press("plan-side");
    drag("mark", QPoint(0, -20));
    CHECK(o.project().moved.locators.at("mark").y > 0.05F);
    QTest::mouseDClick(&plan, Qt::LeftButton, {}, plan.markPlace(indexOf("mark")).toPoint());
    CHECK(o.project().moved.locators.empty());
    o.session.undo();  // the putting back
    o.session.undo();  // one drag is one undo
    o.session.undo();
    CHECK(o.project().moved == MovedPlaces{});

    // The moon shines along -Z, as the camera looks: it stands behind it, at the horizon.
    o.press("plan-side");
    CHECK(plan.suns()[0].towards.equalWithAbsError(V3f(0, 0, 1), 1e-4F));
    const QPoint from = plan.sunPlace(0).toPoint();
    CHECK(from.y() > plan.rect().center().y());
    QTest::mousePress(&plan, Qt::LeftButton, {}, from);
    QTest::mouseMove(&plan, from - QPoint(0, 20));
    QTest::mouseMove(&plan, from + QPoint(30, -40));
    QTest::mouseRelease(&plan, Qt::LeftButton, {}, from + QPoint(30, -40));
    const V3f moon = -o.project().moved.suns.at("moon");
    CHECK(moon.length() == Approx(1.0F));
    CHECK(moon.x > 0.1F);  // to the right,
    CHECK(moon.y > 0.3F);  // risen,
    CHECK(moon.z > 0.1F);  // and still behind
    CHECK(QLineF(plan.sunPlace(0), from + QPoint(30, -40)).length() < 1.5);
    QTest::mouseDClick(&plan, Qt::LeftButton, {}, plan.sunPlace(0).toPoint());
    CHECK(o.project().moved == MovedPlaces{});
}

TEST_CASE("the view shows what the focus leaves unsharp while it is dragged", "[app][survey]") {
    Surveyed o;
    o.clickAt(kPostX, kMiddleY);
    o.press("focus-here");
    o.settle();
    const auto shot = [&] { return o.room.view().grab().toImage(); };
    const QPoint wall = o.in(0.2, 0.5);
    const QColor plain = shot().pixelColor(wall);
    o.press("blur");
    const QColor tinted = shot().pixelColor(wall);
    CHECK(tinted.blue() - tinted.red() > plain.blue() - plain.red() + 10);  // behind: indigo
    o.press("blur");
    CHECK(shot().pixelColor(wall) == plain);
    const std::vector<SoundingLane> lanes =
        surveyLanes(o.project(), o.room.view().automaticRange());
    const QPoint from = o.room.sounding().handlePlace(lanes.back().owner, 0).toPoint();
    QTest::mousePress(&o.room.sounding(), Qt::LeftButton, {}, from);
    QTest::mouseMove(&o.room.sounding(), from - QPoint(8, 0));
    CHECK(shot().pixelColor(wall).blue() > plain.blue());
    QTest::mouseRelease(&o.room.sounding(), Qt::LeftButton, {}, from - QPoint(8, 0));
    o.settle();
    CHECK(shot().pixelColor(wall) == plain);
}

TEST_CASE("the Plan from the side tilts the camera", "[app][survey][plan]") {
    Surveyed o;
    o.press("plan-side");
    Plan& plan = o.room.plan();
    REQUIRE(plan.isFromSide());
    const QPoint from = plan.directionPlace().toPoint();
    QTest::mousePress(&plan, Qt::LeftButton, {}, from);
    QTest::mouseMove(&plan, from + QPoint(0, -12));
    QTest::mouseRelease(&plan, Qt::LeftButton, {}, from + QPoint(0, -12));
    V3f forward;
    o.session.view().camera.cameraToWorld.multDirMatrix(V3f(0, 0, -1), forward);
    CHECK(forward.y > 0.02F);
}

TEST_CASE("a turnaround is kept as views that go around the thing", "[app][survey]") {
    Surveyed o;
    o.room.turnaround().present("post");
    for (auto* spin : o.room.turnaround().findChildren<QSpinBox*>())
        if (spin->accessibleName() == "Views")
            spin->setValue(4);
    o.press("keep-views");
    REQUIRE(o.project().views.size() == 4);
    const V3f centre(0, 1.2F, -1);
    float away = 0.0F;
    V3f sum(0.0F);
    for (const View& view : o.project().views) {
        const V3f from = view.camera.position() - centre;
        if (away == 0.0F)
            away = from.length();
        CHECK(from.length() == Approx(away).epsilon(1e-3));
        sum += V3f(from.x, 0.0F, from.z);
        const V3f middle = project(view.camera, centre, 160, 90);
        CHECK(middle.x == Approx(80.0F).margin(0.1));
        CHECK(middle.y == Approx(45.0F).margin(0.1));
    }
    CHECK(sum.length() < 1e-3F * away);
    CHECK(o.session.view().name == "post 1/4");
}

TEST_CASE("a turnaround is rendered into a folder as one job", "[app][survey]") {
    Surveyed o;
    o.room.turnaround().present("post");
    for (auto* spin : o.room.turnaround().findChildren<QSpinBox*>())
        if (spin->accessibleName() == "Views")
            spin->setValue(3);
    std::filesystem::create_directories(o.folder / "out");
    o.room.turnaround().renderInto(o.folder / "out");
    REQUIRE(waitFor([&] { return !o.room.renderer().running(); }));
    QTest::qWait(30);
    for (const char* name : {"post.01.exr", "post.02.exr", "post.03.exr"}) {
        const PassSet set = readPasses({o.folder / "out" / name});
        CHECK(set.find(PassKind::Depth) != nullptr);
        CHECK(set.find(PassKind::Occlusion) != nullptr);
    }
}

TEST_CASE("a turnaround is offered of what is ahead, and can be stopped", "[app][survey]") {
    Surveyed o;
    o.press("turnaround-offer");
    CHECK(o.room.turnaround().views().front().name == "post 1/8");  // in the middle of the frame
    o.clickAt(0.7, kMiddleY);
    o.press("turnaround-offer");
    CHECK(o.room.turnaround().views().front().name == "wall 1/8");  // clicked last
    auto* object = o.room.turnaround().findChild<QComboBox*>();
    object->setCurrentIndex(0);
    CHECK(o.room.turnaround().views().front().name == "everything 1/8");

    o.session.change({}, {}, [](Project& p) {
        p.width = 1600;
        p.height = 900;
        applyPassSetting(p.passes, "occlusion.samples=4096");
    });
    std::filesystem::create_directories(o.folder / "out");
    o.room.turnaround().renderInto(o.folder / "out");
    auto* stop = o.room.findChild<QPushButton*>("stop");
    REQUIRE(waitFor([&] { return stop->isVisible(); }, 2000));
    CHECK_FALSE(o.room.findChild<QPushButton*>("render")->isEnabled());
    QTest::mouseClick(stop, Qt::LeftButton);
    REQUIRE(waitFor([&] { return !o.room.renderer().running(); }));
    CHECK_FALSE(stop->isVisible());
    CHECK(std::filesystem::is_empty(o.folder / "out"));
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

TEST_CASE("what is shown and not rendered is offered, and mist is dragged at once",
          "[app][survey]") {
    Surveyed o;
    auto* offer = o.room.findChild<QPushButton*>("render-too");
    CHECK_FALSE(offer->isVisible());
    o.room.show({PassKind::Normal, {}});
    REQUIRE(offer->isVisible());
    CHECK(offer->text() == "Render normal, too");
    o.press("render-too");
    CHECK(o.project().passes.back().kind == PassKind::Normal);
    CHECK_FALSE(offer->isVisible());

    o.room.show({PassKind::Mist, {}});
    o.settle();
    auto& sounding = o.room.sounding();
    const QPoint start = sounding.handlePlace(1, 0).toPoint();
    QTest::mousePress(&sounding, Qt::LeftButton, {}, start);
    QTest::mouseMove(&sounding, start + QPoint(20, 0));
    QTest::mouseRelease(&sounding, Qt::LeftButton, {}, start + QPoint(20, 0));
    CHECK(o.project().passes.back().kind == PassKind::Mist);
    CHECK(o.passSetting(PassKind::Mist, "start") > MistSettings{}.start);
}

TEST_CASE("a view from above looks straight down on the thing clicked last", "[app][survey]") {
    Surveyed o;
    o.clickAt(kPostX, kMiddleY);
    o.room.findChild<ViewsStrip*>()->lookFromAbove();
    const View view = o.session.view();
    CHECK(view.name == "post from above");
    CHECK(view.camera.orthographic());
    V3f forward;
    view.camera.cameraToWorld.multDirMatrix(V3f(0, 0, -1), forward);
    CHECK(forward.y < -0.999F);
}

TEST_CASE("the lens is set in millimetres and can look parallel", "[app][survey]") {
    Surveyed o;
    QDoubleSpinBox* lens = nullptr;
    for (auto* box : o.room.findChildren<QDoubleSpinBox*>())
        if (box->accessibleName() == "Lens")
            lens = box;
    REQUIRE(lens != nullptr);
    lens->setFocus();
    lens->selectAll();
    QTest::keyClicks(lens, "50");
    QTest::keyClick(lens, Qt::Key_Return);
    const double truth = 2.0 * std::atan(36.0 * 90 / 160 / (2.0 * 50.0));
    CHECK(o.session.view().camera.yfovRadians == Approx(truth).epsilon(1e-4));
    o.press("parallel");
    // The post, 5 m ahead, keeps its size.
    CHECK(o.session.view().camera.orthographicHeight ==
          Approx(2.0 * 5.0 * std::tan(0.5 * truth)).epsilon(1e-3));
    o.press("parallel");
    CHECK_FALSE(o.session.view().camera.orthographic());
    CHECK(o.session.view().camera.yfovRadians == Approx(truth).epsilon(1e-4));
}

TEST_CASE("the lens can be told by its angle, and the sensor changed", "[app][survey]") {
    Surveyed o;
    auto* lens = o.room.findChild<LensControl*>()->findChild<QDoubleSpinBox*>();
    const auto chosen = [&](const QString& entry) {
        // The menu waits for a choice: it is taken while it is open.
        QTimer::singleShot(50, &o.window, [entry] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            if (menu == nullptr)
                return;
            for (QAction* action : menu->actions())
                if (action->text() == entry)
                    action->trigger();
            menu->close();
        });
        o.press("lens-menu");
    };
    const auto type = [&](const char* number) {
        lens->setFocus();
        lens->selectAll();
        QTest::keyClicks(lens, number);
        QTest::keyClick(lens, Qt::Key_Return);
    };
    chosen("By angle, from side to side");
    CHECK(o.project().lens.by == LensReading::By::AngleAcross);
    type("90");
    const float aspect = 160.0F / 90.0F;
    CHECK(xfovOf(o.session.view().camera, aspect) == Approx(0.5 * M_PI).epsilon(1e-4));
    chosen("By angle, from top to bottom");
    type("30");
    CHECK(o.session.view().camera.yfovRadians == Approx(M_PI / 6.0).epsilon(1e-4));
    chosen("By focal length");
    type("24");
    const float wide = o.session.view().camera.yfovRadians;
    chosen("17.3 mm, four thirds");
    CHECK(o.project().lens.sensorMillimetres == 17.3F);
    CHECK(lens->value() == 24.0);  // the focal length stays, and sees less
    CHECK(std::tan(0.5F * o.session.view().camera.yfovRadians) ==
          Approx(std::tan(0.5F * wide) * 17.3F / 36.0F).epsilon(1e-3));
    o.session.undo();
    CHECK(o.session.view().camera.yfovRadians == wide);
    CHECK(o.project().lens.sensorMillimetres == 36.0F);
}

TEST_CASE("what is stale is rendered, the rest stays, and mist follows without a render",
          "[app][survey][state]") {
    Surveyed o;
    o.press("render");
    REQUIRE(waitFor([&] { return !o.room.renderer().running() && !o.session.passes().empty(); }));
    const auto stateOf = [&](std::size_t i) {
        return o.room.passes().stateOf(o.project().passes[i]);
    };
    CHECK(stateOf(0).kind == PassState::Kind::Current);
    CHECK(stateOf(1).kind == PassState::Kind::Current);
    o.session.change({}, {}, [](Project& p) { p.passes.push_back(passRequest(PassKind::Mist)); });
    CHECK(stateOf(2).kind == PassState::Kind::Current);
    const Pass* mist = o.session.passes().find(PassKind::Mist);
    REQUIRE(mist != nullptr);
    const Image before = mist->image;
    o.session.change({}, {}, [](Project& p) { applyPassSetting(p.passes, "mist.start=1"); });
    CHECK_FALSE(o.room.renderer().running());
    CHECK(stateOf(2).kind == PassState::Kind::Current);
    CHECK_FALSE(test::sameBits(before, o.session.passes().find(PassKind::Mist)->image));
    o.session.change({}, {}, [](Project& p) { applyPassSetting(p.passes, "occlusion.reach=0.5"); });
    CHECK(stateOf(0).kind == PassState::Kind::Current);
    CHECK(stateOf(1).why == "Reach changed");
    o.session.change({}, {}, [](Project& p) { p.view->camera.cameraToWorld[3][0] += 1.0F; });
    CHECK(stateOf(0).why == "camera moved");
}

TEST_CASE("a crop is drawn, renders only its part, and a click takes it away", "[app][survey]") {
    Surveyed o;
    o.press("render");
    REQUIRE(waitFor([&] { return !o.room.renderer().running() && !o.session.passes().empty(); }));
    const Image before = o.session.passes().find(PassKind::Depth)->image;
    o.press("crop");
    QTest::mousePress(&o.room.view(), Qt::LeftButton, {}, o.in(0.25, 0.25));
    QTest::mouseMove(&o.room.view(), o.in(0.5, 0.5));
    QTest::mouseMove(&o.room.view(), o.in(0.75, 0.75));
    QTest::mouseRelease(&o.room.view(), Qt::LeftButton, {}, o.in(0.75, 0.75));
    REQUIRE(cropOf(o.project()));
    CHECK(cropOf(o.project())->x0 == Approx(40).margin(2));
    CHECK(cropOf(o.project())->y1 == Approx(68).margin(2));
    o.room.passes().render(true);
    REQUIRE(waitFor([&] { return !o.room.renderer().running(); }));
    QTest::qWait(30);
    CHECK(test::sameBits(before, o.session.passes().find(PassKind::Depth)->image));
    o.press("crop");
    o.clickAt(0.5, 0.5);
    CHECK_FALSE(cropOf(o.project()));
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
    sceneFile(o.folder, "o more\nv 0 0 1\nv 1 0 1\nv 1 1 1\nf 13 14 15\n");
    auto* notes = o.window.findChild<NoteBar*>();
    REQUIRE(waitFor([&] { return notes->text().contains("has changed"); }, 8000));
    const auto old = o.session.scene();
    for (auto* button : notes->findChildren<QPushButton*>())
        if (button->text().contains("anew"))
            QTest::mouseClick(button, Qt::LeftButton);
    REQUIRE(waitFor([&] { return o.session.scene() && o.session.scene() != old; }));
    CHECK(o.session.scene()->scene.objects.size() == 4);
    CHECK(o.session.view() == view);
    CHECK(o.room.passes().stateOf(o.project().passes[0]).why == "more added");
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
    CHECK(o.room.passes().stateOf(o.project().passes[2]).kind == PassState::Kind::Missing);
    row->setFocus();
    QTest::keyClick(row, Qt::Key_Delete);
    QApplication::processEvents();
    CHECK(o.project().passes.size() == 3);
    CHECK(o.project().passes.back().name() == "light.sky");
    CHECK(o.room.findChild<PassRow*>("light.sky") != nullptr);
}

TEST_CASE("the view shows a pass that is picked in the list, with its own settings",
          "[app][survey]") {
    Surveyed o;
    auto* row = o.room.findChild<PassRow*>("occlusion");
    QTest::mouseClick(row, Qt::LeftButton, {}, QPoint(60, 12));
    o.settle();
    CHECK(o.room.view().shown() == PassName{PassKind::Occlusion, ""});
    const QImage all = o.room.view().image();
    o.session.change({}, {}, [](Project& p) { applyPassSetting(p.passes, "occlusion.on=post"); });
    o.settle();
    CHECK(o.room.view().image() != all);
}

TEST_CASE("frames of a scene that moves are set for each view and rendered into a folder",
          "[app][survey]") {
    Surveyed o;
    auto* offer = o.room.findChild<QPushButton*>("frames-offer");
    REQUIRE(offer != nullptr);
    CHECK_FALSE(offer->isVisible());  // nothing moves in the yard
    const float numbers[] = {0, 0, 0, 1, 0, 0, 0, 1, 0, /* times */ 0, 1, /* places */ 0,
                             0, 0, 4, 0, 0};
    o.folder.write("m.bin", {reinterpret_cast<const char*>(numbers), sizeof numbers});
    const auto scene = o.folder.write("m.gltf", R"({"asset":{"version":"2.0"},"scene":0,
        "scenes":[{"nodes":[0]}],"nodes":[{"name":"leaf","mesh":0}],
        "meshes":[{"name":"leaf","primitives":[{"attributes":{"POSITION":0}}]}],
        "animations":[{"samplers":[{"input":1,"output":2}],
          "channels":[{"sampler":0,"target":{"node":0,"path":"translation"}}]}],
        "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","min":[0,0,0],"max":[1,1,0]},
          {"bufferView":1,"componentType":5126,"count":2,"type":"SCALAR","min":[0],"max":[1]},
          {"bufferView":2,"componentType":5126,"count":2,"type":"VEC3"}],
        "bufferViews":[{"buffer":0,"byteLength":36},{"buffer":0,"byteOffset":36,"byteLength":8},
          {"buffer":0,"byteOffset":44,"byteLength":24}],
        "buffers":[{"byteLength":68,"uri":"m.bin"}]})");
    o.session.open({scene});
    REQUIRE(waitFor([&] { return o.session.scene() && o.session.scene()->file == scene; }));
    o.session.change({}, {}, [](Project& p) {
        p.width = 32;
        p.height = 18;
        p.passes = {passRequest(PassKind::Depth), passRequest(PassKind::Vectors)};
    });
    REQUIRE(offer->isVisible());
    QTest::mouseClick(offer, Qt::LeftButton);
    std::map<QString, QSpinBox*> boxes;
    for (auto* box : o.room.frames().findChildren<QSpinBox*>())
        boxes[box->accessibleName()] = box;
    CHECK(boxes["First frame"]->value() == 1);
    CHECK(boxes["Last frame"]->value() == 25);
    auto* speed = o.room.frames().findChild<QDoubleSpinBox*>();
    speed->setValue(50.0);
    CHECK(boxes["Last frame"]->value() == 51);  // the same second
    CHECK(o.session.renderRequest(o.session.view()).framesPerSecond == 50.0);
    o.session.undo();
    CHECK(speed->value() == 24.0);
    boxes["First frame"]->setValue(4);
    boxes["Last frame"]->setValue(5);
    CHECK(o.project().frameRanges.at(o.session.view().name) == FrameRange{4, 5});
    std::filesystem::create_directories(o.folder / "frames");
    o.room.frames().renderInto(o.folder / "frames");
    REQUIRE(waitFor([&] { return !o.room.renderer().running(); }));
    QTest::qWait(30);
    const std::string name = o.session.view().name;
    CHECK(std::filesystem::exists(o.folder / "frames" / (name + ".0004.exr")));
    CHECK(std::filesystem::exists(o.folder / "frames" / (name + ".0005.exr")));

    auto* files = o.room.frames().findChild<QComboBox*>();
    REQUIRE(files != nullptr);
    QTest::keyClick(files, Qt::Key_Down);
    o.room.frames().renderInto(o.folder / "frames");
    REQUIRE(waitFor([&] { return !o.room.renderer().running(); }));
    for (const char* pass : {"depth", "vectors"})
        CHECK(std::filesystem::exists(o.folder / "frames" / pass / (name + ".0004.exr")));
    o.session.undo();
    o.session.undo();
    CHECK(o.project().frameRanges.empty());
}

TEST_CASE("the frame is zoomed about the pointer and moved, while the camera and the range stay",
          "[app][survey]") {
    Surveyed o;
    TraceView& view = o.room.view();
    const View camera = o.session.view();
    const float far = view.automaticRange().farthest;
    const QRectF fitted = view.frame();
    const QPoint at = o.in(0.7, 0.5);
    QWheelEvent closer(at, view.mapToGlobal(at), {}, QPoint(0, 480), {}, Qt::ControlModifier,
                       Qt::NoScrollPhase, false);
    QApplication::sendEvent(&view, &closer);
    o.settle();
    CHECK(view.frame().width() == Approx(fitted.width() * std::pow(1.25, 4)).epsilon(1e-3));
    // What was under the pointer still is, and it is measured there.
    CHECK(QPointF(o.in(0.7, 0.5)).x() == Approx(at.x()).margin(1.0));
    o.clickAt(0.7, kMiddleY);
    CHECK(o.room.measure().text().contains("9.00"));
    CHECK(view.automaticRange().farthest == far);
    // All that is seen of it is traced: on the ramp, nothing of the ground or the wall is black.
    const QImage shown = view.grab().toImage();
    for (const QPoint& p :
         {QPoint(2, view.height() - 3), QPoint(view.width() - 3, view.height() - 3),
          QPoint(2, view.height() - 60), at})
        CHECK(shown.pixelColor(p).red() > 60);

    QTest::mousePress(&view, Qt::LeftButton, Qt::ControlModifier, at);
    QMouseEvent drag(QEvent::MouseMove, QPointF(at) + QPointF(-40, 0),
                     view.mapToGlobal(QPointF(at) + QPointF(-40, 0)), Qt::NoButton, Qt::LeftButton,
                     Qt::ControlModifier);
    QApplication::sendEvent(&view, &drag);
    QTest::mouseRelease(&view, Qt::LeftButton, Qt::ControlModifier, at - QPoint(40, 0));
    CHECK(QPointF(o.in(0.7, 0.5)).x() == Approx(at.x() - 40).margin(1.0));
    CHECK(o.session.view() == camera);

    QTest::keyClick(&o.window, Qt::Key_1, Qt::ControlModifier);
    CHECK(view.zoom() == Approx(1.0));
    QTest::keyClick(&o.window, Qt::Key_0, Qt::ControlModifier);
    CHECK(view.frame() == fitted);
}

TEST_CASE("passes are rendered straight into a file, and what would fill the memory only there",
          "[app][survey]") {
    Surveyed o;
    auto* offer = o.room.passes().findChild<QPushButton*>("into-a-file");
    REQUIRE(offer != nullptr);
    CHECK(offer->isEnabled());
    o.room.passes().renderInto(o.folder / "all.exr");
    REQUIRE(waitFor([&] { return !o.room.renderer().running(); }));
    QTest::qWait(30);
    const PassSet set = readPasses({o.folder / "all.exr"});
    CHECK(set.width == 160);
    CHECK(set.find(PassKind::Occlusion) != nullptr);
    CHECK(o.session.passes().empty());  // none is kept
    CHECK(o.window.notes().text().contains("Wrote the file"));

    o.session.change({}, {}, [](Project& p) {
        p.width = p.height = 16384;
        p.passes.push_back(passRequest(PassKind::Objects));
    });
    o.room.passes().render(true);
    CHECK_FALSE(o.room.renderer().running());
    CHECK(o.window.notes().text().contains("GB of memory"));
}
