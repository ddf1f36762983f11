#include "app/instruments/sounding.h"
#include "app/survey/survey_lanes.h"

#include "app/survey/view_overlay.h"
#include "core/steps/registry.h"
#include "support/surveyed.h"

using namespace noctis;
using test::kMiddleY;
using test::kPostX;
using test::Surveyed;

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
    const auto drag = [&](const std::string& owner, const std::string& handle, int by) {
        const QPoint from = sounding.handlePlace(owner, handle).value().toPoint();
        QTest::mousePress(&sounding, Qt::LeftButton, {}, from);
        QTest::mouseMove(&sounding, from + QPoint(by / 2, 0));
        QTest::mouseMove(&sounding, from + QPoint(by, 0));
        QTest::mouseRelease(&sounding, Qt::LeftButton, {}, from + QPoint(by, 0));
        return sounding.axis().metresAt(from.x() + by);
    };
    const float near = drag(kRampOwner, "near", 60);
    CHECK(o.project().ramp.nearest == Approx(near).epsilon(0.03));
    const float before = o.passSetting(PassKind::Mist, "begins");
    const float start = drag(kMistOwner, "begins", 40);
    CHECK(o.passSetting(PassKind::Mist, "begins") == Approx(start).epsilon(0.03));
    CHECK(start != before);
    o.session.change({}, {}, [](Project& p) {
        applyPassSetting(p.passes, "mist.begins=5");
        applyPassSetting(p.passes, "mist.half=9");
        applyPassSetting(p.passes, "mist.full=13");
    });
    const float half = drag(kMistOwner, "half", -12);
    const MistSettings mist = mistSettings(o.project().passes.back().settings);
    CHECK(mist.half < 9.0F);  // thick early
    CHECK(mistAt(half, mist) == Approx(0.5F).margin(0.04));
    o.session.undo();
    CHECK(o.passSetting(PassKind::Mist, "half") == 9.0F);
    o.session.undo();
    o.session.undo();
    CHECK(o.passSetting(PassKind::Mist, "begins") == before);
}

TEST_CASE("lanes of Survey never let near pass far, nor a mist end before it starts",
          "[app][survey]") {
    Project project = newProject();
    project.passes.push_back(passRequest(PassKind::Mist));
    const DepthRange automatic{1.0F, 100.0F};
    moveSurveyHandle(project, automatic, kRampOwner, "near", 500.0F);
    CHECK(project.ramp.nearest < project.ramp.farthest);
    moveSurveyHandle(project, automatic, kRampOwner, "far", 0.001F);
    CHECK(project.ramp.nearest < project.ramp.farthest);
    moveSurveyHandle(project, automatic, kMistOwner, "full", 0.0F);
    const MistSettings mist = mistSettings(project.passes.back().settings);
    CHECK(mist.begins < mist.full);
    CHECK(mist.half <= mist.full);
    CHECK(surveyLanes(project, automatic, {}).size() == 2);
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
    const std::vector<HandleGroup> lanes =
        surveyLanes(o.project(), o.room.view().automaticRange(), {});
    const QPoint from =
        o.room.sounding().handlePlace(lanes.back().owner, "focus").value().toPoint();
    QTest::mousePress(&o.room.sounding(), Qt::LeftButton, {}, from);
    QTest::mouseMove(&o.room.sounding(), from - QPoint(8, 0));
    CHECK(shot().pixelColor(wall).blue() > plain.blue());
    QTest::mouseRelease(&o.room.sounding(), Qt::LeftButton, {}, from - QPoint(8, 0));
    o.settle();
    CHECK(shot().pixelColor(wall) == plain);
}

TEST_CASE("what is shown and not rendered is offered, and mist is dragged at once",
          "[app][survey]") {
    Surveyed o;
    auto* offer = o.room.findChild<QPushButton*>("render-too");
    CHECK_FALSE(offer->isVisible());
    o.room.show({PassKind::Normal, {}});
    REQUIRE(offer->isVisible());
    CHECK(offer->text() == "Also render normal");
    o.press("render-too");
    CHECK(o.project().passes.back().kind == PassKind::Normal);
    CHECK_FALSE(offer->isVisible());

    o.room.show({PassKind::Mist, {}});
    o.settle();
    auto& sounding = o.room.sounding();
    const QPoint start = sounding.handlePlace(kMistOwner, "begins").value().toPoint();
    QTest::mousePress(&sounding, Qt::LeftButton, {}, start);
    QTest::mouseMove(&sounding, start + QPoint(20, 0));
    QTest::mouseRelease(&sounding, Qt::LeftButton, {}, start + QPoint(20, 0));
    CHECK(o.project().passes.back().kind == PassKind::Mist);
    CHECK(o.passSetting(PassKind::Mist, "begins") > MistSettings{}.begins);
}

TEST_CASE("only a focus is a focus, and it blurs as the view's own lens does", "[app][survey]") {
    Project project = newProject();
    const DepthRange automatic{1.0F, 100.0F};
    for (const char* type : {"standee", "fog", "depth_of_field"})
        project.recipe.steps.push_back(stepCatalogue().newStep(type, project.recipe));
    project.recipe.steps.front().settings.set("distance", 8.0F);
    const auto focusOf = [&](float yfovRadians) {
        Camera camera;
        camera.yfovRadians = yfovRadians;
        std::vector<HandleGroup> found;
        for (HandleGroup& lane :
             surveyLanes(project, automatic, shownFrame(project, camera, automatic))) {
            CHECK(lane.frame.nearest == 1.0F);
            CHECK(lane.frame.farthest == 100.0F);
            if (lane.isFocus())
                found.push_back(std::move(lane));
        }
        REQUIRE(found.size() == 1);
        CHECK(found.front().owner == "depth_of_field");
        return found.front().strength()(40.0F);
    };
    // A longer lens blurs more.
    CHECK(focusOf(0.2F) > 2.0F * focusOf(0.9F));
    for (const HandleGroup& lane : surveyLanes(project, automatic, {}))
        CHECK(lane.owner != "standee");
}
