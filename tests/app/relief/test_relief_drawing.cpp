#include "app/relief/relief_room.h"

#include "app/relief/relief_panel.h"
#include "app/window/main_window.h"
#include "core/passes/pass_file.h"
#include "core/project/project_file.h"
#include "core/steps/registry.h"
#include "support/fields.h"
#include "support/files.h"
#include "support/stone.h"
#include "support/windows.h"

#include <QPushButton>
#include <QTest>

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

TEST_CASE("an operation's shape is drawn on the map and dragged there", "[relief-room]") {
    OpenedRelief opened;
    opened.room().panel().addOperation("exaggerate");
    opened.settle();
    opened.window.session().change({}, {}, [](Project& p) {
        p.reliefs[0].operations[0].where = stepCatalogue().newCriterion("ellipse");
    });
    opened.settle();
    const auto where = [&]() -> const Where& {
        return opened.window.session().project().reliefs[0].operations[0].where;
    };
    const auto centre = [&] { return where().settings.get<V2f>("centre"); };
    // What maps have no view of is not offered.
    CHECK_FALSE(opened.child<QPushButton>("where-overlay")->isVisible());
    opened.click("draw-0");
    MapView& map = opened.room().map();
    const auto at = [&](double x, double y) { return map.fromMap({x, y}).toPoint(); };
    dragOver(map, at(20, 30), at(60, 70));
    opened.settle();
    CHECK(centre().x == Approx(40.0F).margin(1.0));
    CHECK(centre().y == Approx(50.0F).margin(1.0));
    CHECK(where().settings.get<V2f>("radii").x == Approx(20.0F).margin(1.0));
    // Only there is it higher now.
    const Image& heights = opened.room().worked()->map->full().heights;
    CHECK(heights(48, 58, 0) > 1.5F * Waves{}.at(48, 58));
    CHECK(heights(90, 5, 0) == Approx(Waves{}.at(90, 5)).margin(2e-4));
    opened.click("draw-0");  // no more
    dragOver(map, at(centre().x, centre().y), at(50, 40));
    opened.settle();
    CHECK(centre().x == Approx(50.0F).margin(1.5));
    CHECK(centre().y == Approx(40.0F).margin(1.5));
    opened.window.session().undo();
    CHECK(centre().x == Approx(40.0F).margin(1.0));
}

TEST_CASE("a criterion is picked by a click on the map", "[relief-room]") {
    OpenedRelief opened;
    opened.room().panel().addOperation("exaggerate");
    opened.settle();
    opened.window.session().change({}, {}, [](Project& p) {
        p.reliefs[0].operations[0].where = stepCatalogue().newCriterion("facing");
    });
    opened.settle();
    opened.click("draw-0");
    MapView& map = opened.room().map();
    QTest::mouseClick(&map, Qt::LeftButton, {}, map.fromMap({2, 2}).toPoint());
    opened.settle();
    const auto direction =
        opened.window.session().project().reliefs[0].operations[0].where.settings.get<V3f>(
            "direction");
    // The stone lies flat, and there it rises towards the right: it faces up, and a little to the left.
    CHECK(direction.y > 0.5F);
    CHECK(direction.x < -0.2F);
}

TEST_CASE("what is drawn over holes of a laid map begins where the map shows something",
          "[relief-room]") {
    // Level ground in perspective: the map is a wedge, with nothing beside it.
    const Folder folder;
    const Folder data;
    PassSet set;
    set.camera = lookingAt(V3f(0.0F, 2.0F, 6.0F), V3f(0.0F, 0.0F, 0.0F), 0.6F);
    Pass depth;
    depth.name = "depth";
    depth.kind = PassKind::Depth;
    depth.image = filledBy(96, 64, [&](int x, int y) {
                      const CameraRay ray = cameraRay(*set.camera, static_cast<float>(x) + 0.5F,
                                                      static_cast<float>(y) + 0.5F, 96, 64);
                      const float t = -ray.origin.y / ray.direction.y;
                      return t > 0.0F && t < 30.0F ? t * ray.planarPerDistance : kNothingHit;
                  }).select({0}, {"Z"});
    set.put(std::move(depth));
    writePasses(folder / "ground.exr", set);
    MainWindow window(data.path());
    window.show();
    REQUIRE(openAndRead(window, {folder / "ground.exr"}));
    REQUIRE(waitFor([&] { return !window.session().passes().empty(); }));
    ReliefRoom& room = window.relief();
    window.showRoom(room);
    room.addFromFile(folder / "ground.exr");
    const auto settle = [&] {
        QApplication::processEvents();
        REQUIRE(waitFor([&] { return room.settled(); }));
    };
    window.session().change(
        {}, {}, [](Project& p) { p.reliefs[0].settings.set("plane", std::string("ground")); });
    settle();
    room.panel().addOperation("exaggerate");
    settle();
    window.session().change({}, {}, [](Project& p) {
        p.reliefs[0].operations[0].where = stepCatalogue().newCriterion("ellipse");
    });
    settle();
    QTest::mouseClick(room.findChild<QPushButton*>("draw-0"), Qt::LeftButton);
    MapView& map = room.map();
    const HeightField& field = room.worked()->map->full();
    const auto width = static_cast<double>(field.width());
    const auto height = static_cast<double>(field.height());
    REQUIRE(std::isnan(field.places(1, field.height() - 2, 0)));  // beside the wedge's near end
    dragOver(map, map.fromMap({1.0, height - 2.0}).toPoint(),
             map.fromMap({width / 2.0, height / 2.0}).toPoint());
    settle();
    const Settings& drawn = window.session().project().reliefs[0].operations[0].where.settings;
    for (const char* id : {"centre", "radii"}) {
        CHECK(std::isfinite(drawn.get<V2f>(id).x));
        CHECK(std::isfinite(drawn.get<V2f>(id).y));
    }
    CHECK(drawn.get<V2f>("radii").x > 1.0F);
    // Entirely over holes nothing is drawn.
    const Settings before = drawn;
    dragOver(map, map.fromMap({1.0, height - 2.0}).toPoint(),
             map.fromMap({3.0, height - 2.0}).toPoint());
    settle();
    CHECK(window.session().project().reliefs[0].operations[0].where.settings == before);
}

TEST_CASE("three places are clicked on the map", "[relief-room]") {
    OpenedRelief opened;
    opened.room().panel().addOperation("level");
    opened.window.session().change({}, {}, [](Project& p) {
        p.reliefs[0].operations[0].settings.set("by", std::string("points"));
    });
    opened.settle();
    opened.click("click-places");
    MapView& map = opened.room().map();
    for (const QPointF& cell : {QPointF(20, 20), QPointF(70, 24), QPointF(40, 80)})
        QTest::mouseClick(&map, Qt::LeftButton, {}, map.fromMap(cell).toPoint());
    opened.settle();
    const PlaceList places =
        opened.window.session().project().reliefs[0].operations[0].settings.get<PlaceList>(
            "points");
    REQUIRE(places.size() == 3);
    CHECK(places[1].x == Approx(70.0F).margin(1.0));
    CHECK(places[2].y == Approx(80.0F).margin(1.0));
    // The plane through them is taken off.
    const Image& heights = opened.room().worked()->map->full().heights;
    CHECK(heights(20, 20, 0) == Approx(0.0F).margin(1e-3));
    CHECK(heights(40, 80, 0) == Approx(0.0F).margin(1e-3));
    CHECK_FALSE(opened.child<QPushButton>("click-places")->isChecked());
}
