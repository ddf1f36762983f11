#include "app/instruments/depth_axis.h"
#include "app/instruments/plan.h"
#include "app/instruments/section.h"
#include "app/instruments/sounding.h"

#include <QSignalSpy>
#include <QTest>

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("distances and places on the axis lead to each other", "[app][instruments]") {
    for (const bool logarithmic : {true, false}) {
        const DepthAxis axis{1.0F, 400.0F, logarithmic, 100.0, 700.0};
        for (const float metres : {1.0F, 2.5F, 40.0F, 399.0F})
            CHECK(axis.metresAt(axis.at(metres)) == Approx(metres).epsilon(1e-3));
        CHECK(axis.at(1.0F) == Approx(100.0));
        CHECK(axis.at(400.0F) == Approx(700.0));
    }
    const DepthAxis axis{1.0F, 100.0F, true, 0.0, 100.0};
    CHECK(axis.at(10.0F) == Approx(50.0));
}

TEST_CASE("ticks are round, rise, lie on the axis and keep apart", "[app][instruments]") {
    for (const bool logarithmic : {true, false})
        for (const float farthest : {3.0F, 60.0F, 2500.0F}) {
            const DepthAxis axis{0.5F, farthest, logarithmic, 50.0, 650.0};
            const std::vector<float> ticks = axis.ticks(38.0);
            REQUIRE(ticks.size() >= 3);
            for (std::size_t i = 0; i < ticks.size(); ++i) {
                CHECK(axis.at(ticks[i]) >= 49.0);
                CHECK(axis.at(ticks[i]) <= 651.0);
                if (i > 0)
                    CHECK(axis.at(ticks[i]) - axis.at(ticks[i - 1]) >= 37.0);
            }
        }
}

TEST_CASE("a short range far from nothing has ticks, too", "[app][instruments]") {
    const DepthAxis axis{2.7F, 4.6F, true, 118.0, 630.0};
    const std::vector<float> ticks = axis.ticks(38.0);
    REQUIRE(ticks.size() >= 4);
    for (std::size_t i = 1; i < ticks.size(); ++i)
        CHECK(axis.at(ticks[i]) - axis.at(ticks[i - 1]) >= 37.0);
    for (const float tick : ticks)
        CHECK(std::abs(tick * 10.0F - std::round(tick * 10.0F)) < 1e-3F);
}

TEST_CASE("pointing at the Sounding shows the distance there, leaving it none",
          "[app][instruments]") {
    Sounding sounding;
    sounding.resize(700, 200);
    Pass depth;
    depth.kind = PassKind::Depth;
    depth.image = Image(32, 32, {"Z"});
    for (int i = 0; i < 32 * 32; ++i)
        depth.image.editPlane(0)[i] = 2.0F + static_cast<float>(i) * 0.05F;
    MeasuredFrame frame;
    frame.depth = depth;
    sounding.setFrame(frame);
    sounding.show();
    const QSignalSpy pointed(&sounding, &Sounding::distancePointed);
    QTest::mouseMove(&sounding, QPoint(400, 80));
    REQUIRE(pointed.count() > 0);
    CHECK(pointed.last()[0].toFloat() == Approx(sounding.axis().metresAt(400)).epsilon(1e-3));
    QEvent leave(QEvent::Leave);
    QApplication::sendEvent(&sounding, &leave);
    CHECK(pointed.last()[0].toFloat() == 0.0F);
}

TEST_CASE("a Sounding without depth and a Plan without a scene can be looked at",
          "[app][instruments]") {
    Sounding sounding;
    sounding.resize(500, 180);
    CHECK_FALSE(sounding.grab().isNull());
    Plan plan;
    plan.resize(330, 200);
    CHECK_FALSE(plan.grab().isNull());
}

TEST_CASE("the Plan draws the camera below and what is ahead of it above", "[app][instruments]") {
    Plan plan;
    plan.resize(330, 220);
    Camera camera = lookingAt(V3f(3, 2, 4), V3f(3, 2, -4), 0.7F);
    plan.setCamera(camera, 1.6F);
    plan.setDepth(Image(64, 40, {"Z"}, 10.0F));
    plan.setDistances(
        {{{"ramp", "near"}, "near", Qt::red, 4.0F}, {{"ramp", "far"}, "far", Qt::blue, 12.0F}});
    const QPointF near = plan.handlePlace("ramp", "near").value();
    const QPointF far = plan.handlePlace("ramp", "far").value();
    plan.show();
    CHECK(plan.directionPlace().y() < plan.cameraPlace().y());
    CHECK(plan.directionPlace().x() == Approx(plan.cameraPlace().x()).margin(0.5));
    CHECK(far.y() < near.y());
    CHECK(near.x() > plan.cameraPlace().x());
    plan.setFromSide(true);
    CHECK(plan.directionPlace().x() > plan.cameraPlace().x());
    CHECK(plan.directionPlace().y() == Approx(plan.cameraPlace().y()).margin(0.5));
}

TEST_CASE("dragging on the Plan gives metres of the scene, the wheel changes the scale",
          "[app][instruments]") {
    Plan plan;
    plan.resize(330, 220);
    plan.setCamera(lookingAt(V3f(0, 2, 0), V3f(0, 2, -8), 0.7F), 1.6F);
    plan.setDepth(Image(64, 40, {"Z"}, 10.0F));
    plan.setCameraFixed(false);
    plan.setDistances({{{"ramp", "far"}, "far", Qt::blue, 12.0F}});
    plan.show();
    const QSignalSpy moved(&plan, &Plan::cameraMoved);
    std::vector<HandleMove> distances;
    QObject::connect(&plan, &Instrument::handlesMoved, &plan,
                     [&](const std::vector<HandleMove>& moves) {
                         distances.insert(distances.end(), moves.begin(), moves.end());
                     });
    const QSignalSpy rested(&plan, &Instrument::handlesRested);
    const QPoint camera = plan.cameraPlace().toPoint();
    QTest::mousePress(&plan, Qt::LeftButton, {}, camera);
    QTest::mouseMove(&plan, camera + QPoint(0, -20));
    QTest::mouseRelease(&plan, Qt::LeftButton, {}, camera + QPoint(0, -20));
    REQUIRE(moved.count() == 1);
    const V3f way = moved[0][0].value<V3f>();
    CHECK(way.z < -0.5F);  // ahead
    CHECK(std::abs(way.x) < 0.2F);
    CHECK(rested.count() == 1);
    const auto place = [&] { return plan.handlePlace("ramp", "far").value(); };
    const QPoint far = place().toPoint();
    QTest::mousePress(&plan, Qt::LeftButton, {}, far);
    QTest::mouseMove(&plan, far + QPoint(-10, 30));
    QTest::mouseRelease(&plan, Qt::LeftButton, {}, far + QPoint(-10, 30));
    REQUIRE(distances.size() == 1);
    CHECK(distances[0].owner == "ramp");
    CHECK(distances[0].handle == "far");
    CHECK(std::get<float>(distances[0].to) < 12.0F);
    CHECK(std::get<float>(distances[0].to) > 0.0F);
    const QPointF before = place();
    QWheelEvent wheel(QPointF(100, 100), plan.mapToGlobal(QPointF(100, 100)), {}, QPoint(0, -240),
                      Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&plan, &wheel);
    CHECK(place().y() > before.y());  // farther out: nearer to the camera on the Plan
}

TEST_CASE("a section over level ground stays level, and says so", "[app][instruments]") {
    Section section;
    section.resize(860, 180);
    section.setHeights(std::vector<float>(200, 0.0F), 3800.0F);
    CHECK(section.reading().contains("level at"));
    CHECK(section.stretch() < 1000.0F);
    std::vector<float> hills(200, 0.0F);
    hills[100] = 400.0F;
    section.setHeights(hills, 3800.0F);
    CHECK(section.reading().contains("from"));
    CHECK(section.stretch() < 10.0F);
}
