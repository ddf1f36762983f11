#include "app/instruments/plan.h"
#include "app/survey/survey_lanes.h"
#include "app/survey/survey_plan.h"
#include "support/surveyed.h"

#include <algorithm>

using namespace noctis;
using test::openAndRead;
using test::Surveyed;
using test::waitFor;

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
    drag(plan.handlePlace(kRampOwner, "near").value(),
         QPointF(4, -10));  // near, a little away from the camera
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
    REQUIRE(openAndRead(o.session, {scene}));
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
    const auto placeOf = [&](const std::string& name) {
        const char* owner = name == "moon"   ? kSunsOwner
                            : name == "lamp" ? kLightsOwner
                                             : kLocatorsOwner;
        return plan.handlePlace(owner, name).value().toPoint();
    };
    const auto drag = [&](const char* name, const QPoint& way) {
        const QPoint from = placeOf(name);
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
    CHECK(std::ranges::any_of(plan.marks(),
                              [&](const PlanMark& mark) { return mark.position == lamp; }));
    o.press("plan-side");
    drag("mark", QPoint(0, -20));
    CHECK(o.project().moved.locators.at("mark").y > 0.05F);
    QTest::mouseDClick(&plan, Qt::LeftButton, {}, placeOf("mark"));
    CHECK(o.project().moved.locators.empty());
    o.session.undo();  // the putting back
    o.session.undo();  // one drag is one undo
    o.session.undo();
    CHECK(o.project().moved == MovedPlaces{});

    // The moon shines along -Z, as the camera looks: it stands behind it, at the horizon.
    o.press("plan-side");
    CHECK(plan.suns()[0].towards.equalWithAbsError(V3f(0, 0, 1), 1e-4F));
    const QPoint from = placeOf("moon");
    CHECK(from.y() > plan.rect().center().y());
    const double radius = from.y() - plan.domeCentre().y();
    const QPoint way(static_cast<int>(0.4 * radius), static_cast<int>(-0.5 * radius));
    QTest::mousePress(&plan, Qt::LeftButton, {}, from);
    QTest::mouseMove(&plan, from + QPoint(0, way.y()));
    QTest::mouseMove(&plan, from + way);
    QTest::mouseRelease(&plan, Qt::LeftButton, {}, from + way);
    const V3f moon = -o.project().moved.suns.at("moon");
    CHECK(moon.length() == Approx(1.0F));
    CHECK(moon.x > 0.1F);  // to the right,
    CHECK(moon.y > 0.3F);  // risen,
    CHECK(moon.z > 0.1F);  // and still behind
    CHECK(QLineF(placeOf("moon"), from + way).length() < 1.5);
    QTest::mouseDClick(&plan, Qt::LeftButton, {}, placeOf("moon"));
    CHECK(o.project().moved == MovedPlaces{});
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
