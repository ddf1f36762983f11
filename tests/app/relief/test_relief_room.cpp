#include "app/relief/relief_room.h"

#include "app/controls/switch_box.h"
#include "app/controls/value_bar.h"
#include "app/instruments/height_axis.h"
#include "app/instruments/section.h"
#include "app/relief/relief_export.h"
#include "app/relief/relief_panel.h"
#include "app/relief/relief_strip.h"
#include "app/relief/shaping_card.h"
#include "app/relief/solid_view.h"
#include "app/window/main_window.h"
#include "core/passes/pass_file.h"
#include "core/project/project_file.h"
#include "core/steps/registry.h"
#include "support/fields.h"
#include "support/files.h"
#include "support/windows.h"

#include <QClipboard>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTest>

#include <set>

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

// The room of height maps in a real window, driven by mouse and keys.

namespace {

/// Normals and a parallel depth of waves, as a view from above writes them.
std::filesystem::path stoneFile(const Folder& folder) {
    constexpr int kSide = 96;
    PassSet set;
    set.camera = Camera{};
    set.camera->orthographicHeight = kSide * Waves::kCell;
    set.camera->cameraToWorld = M44f(1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 1, 0, 1);
    const Waves waves;
    Pass depth;
    depth.name = "depth";
    depth.kind = PassKind::Depth;
    depth.image = filledBy(kSide, kSide, [&](int x, int y) {
                      return 1.0F - waves.at(static_cast<float>(x), static_cast<float>(y));
                  }).select({0}, {"Z"});
    set.put(std::move(depth));
    Pass normal;
    normal.name = "normal";
    normal.kind = PassKind::Normal;
    normal.space = "camera";
    normal.image = normalsBy(slopesBy(waves, kSide, kSide));
    set.put(std::move(normal));
    writePasses(folder / "stone.exr", set);
    return folder / "stone.exr";
}

struct Opened {
    Folder folder;
    Folder data;
    MainWindow window{data.path()};
    Opened() {
        REQUIRE(openAndRead(window, {stoneFile(folder)}));
        window.show();
        REQUIRE(waitFor([&] { return !window.session().passes().empty(); }));
        window.showRoom(room());
        room().addFromFile(folder / "stone.exr");
        settle();
    }
    ReliefRoom& room() { return window.relief(); }
    void settle() {
        QApplication::processEvents();
        REQUIRE(waitFor([&] { return room().settled(); }));
    }
    template <typename T> T* child(const char* name) {
        T* found = room().findChild<T*>(QLatin1String(name));
        REQUIRE(found != nullptr);
        return found;
    }
    void click(const char* name) { QTest::mouseClick(child<QPushButton>(name), Qt::LeftButton); }
};

void drag(QWidget& widget, const QPoint& from, const QPoint& to) {
    QTest::mousePress(&widget, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 8; ++i)
        QTest::mouseMove(&widget, from + (to - from) * i / 8);
    QTest::mouseRelease(&widget, Qt::LeftButton, {}, to);
}

}  // namespace

TEST_CASE("a file of passes becomes a height map in metres", "[relief-room]") {
    Opened opened;
    const WorkedRelief& worked = *opened.room().worked();
    CHECK(worked.report.range[0] == Approx(-0.01F).margin(2e-4));
    CHECK(worked.report.range[1] == Approx(0.01F).margin(2e-4));
    CHECK(opened.child<QPushButton>("number-scale")->text().contains("20.0"));
    opened.click("number-scale");
    CHECK(QApplication::clipboard()->text().toDouble() == Approx(0.02).margin(2e-4));
    CHECK_FALSE(opened.room().map().shown().isNull());
    CHECK_FALSE(opened.room().solid().shown().isNull());
    // Its print is in the strip.
    REQUIRE(opened.room().findChild<QWidget*>("relief relief_1") != nullptr);
}

TEST_CASE("the ends of the range are dragged on the height axis, in one undo", "[relief-room]") {
    Opened opened;
    HeightAxis& axis = opened.room().axis();
    const int x = 8;
    drag(axis, {x, static_cast<int>(axis.placeOf(0.01F))},
         {x, static_cast<int>(axis.placeOf(0.004F))});
    opened.settle();
    const HeightReport& report = opened.room().worked()->report;
    CHECK(report.range[1] == Approx(0.004F).margin(5e-4));
    CHECK(report.clipped > 0.1);
    CHECK(opened.child<QLabel>("relief-warnings")->text().contains("clipped"));
    opened.window.session().undo();
    opened.settle();
    CHECK(opened.room().worked()->report.range[1] == Approx(0.01F).margin(2e-4));
}

TEST_CASE("a section is drawn over the map and shows metres and slope", "[relief-room]") {
    Opened opened;
    MapView& map = opened.room().map();
    drag(map, map.fromMap({10, 48}).toPoint(), map.fromMap({60, 48}).toPoint());
    CHECK(opened.room().section().reading().contains("50.0"));
    const QRectF plot = opened.room().section().plot();
    QTest::mouseMove(&opened.room().section(), plot.center().toPoint());
    CHECK(opened.room().section().reading().contains("here"));
    // Its end is taken and moved.
    drag(map, map.fromMap({60, 48}).toPoint(), map.fromMap({30, 48}).toPoint());
    CHECK(opened.room().section().reading().contains("20.0"));
}

TEST_CASE("the lamp on its disc lights the map from elsewhere", "[relief-room]") {
    Opened opened;
    MapView& map = opened.room().map();
    map.grab();
    const QImage before = map.shown();
    const QPoint at = map.lampDisc().center().toPoint() + QPoint(20, 10);
    drag(map, at, at + QPoint(2, 2));
    map.grab();
    CHECK(map.towardsLight().x > 0.0F);
    CHECK(map.towardsLight().y < 0.0F);
    CHECK(before != map.shown());
}

TEST_CASE("every way to show the map shows another picture", "[relief-room]") {
    Opened opened;
    opened.child<QPushButton>("contours")->setChecked(false);
    std::vector<QImage> seen;
    for (const char* look :
         {"look-grey", "look-ramp", "look-relief", "look-slope", "look-normals"}) {
        opened.click(look);
        opened.room().map().grab();
        for (const QImage& other : seen)
            CHECK(other != opened.room().map().shown());
        seen.push_back(opened.room().map().shown());
    }
    opened.click("contours");
    opened.room().map().grab();
    CHECK(seen.back() != opened.room().map().shown());
    const qreal zoom = opened.room().map().zoom();
    opened.click("tile");
    CHECK(opened.room().map().zoom() < zoom * 0.5);
}

TEST_CASE("an operation is added, set by its bar, switched off and undone", "[relief-room]") {
    Opened opened;
    opened.room().panel().addShaping("exaggerate");
    opened.settle();
    CHECK(opened.room().worked()->spread.range() == Approx(0.04F).margin(1e-3));
    auto* card = opened.child<ShapingCard>("exaggerate");
    auto* bar = card->findChild<ValueBar*>();
    REQUIRE(bar != nullptr);
    const QRect track = bar->track();
    drag(*bar, track.center(), track.center() + QPoint(20, 0));
    opened.settle();
    CHECK(opened.room().worked()->spread.range() > 0.041F);
    QTest::mouseClick(card->findChild<SwitchBox*>(), Qt::LeftButton);
    opened.settle();
    CHECK(opened.room().worked()->spread.range() == Approx(0.02F).margin(1e-3));
    opened.window.session().undo();
    opened.window.session().undo();
    opened.window.session().undo();
    opened.settle();
    CHECK(opened.room().panel().findChild<ShapingCard*>("exaggerate") == nullptr);
}

TEST_CASE("what is wrong has its remedy beside it", "[relief-room]") {
    Opened opened;
    opened.window.session().change({}, {}, [](Project& p) {
        Shaping keep;
        keep.type = "keep";
        keep.id = "keep";
        keep.settings = Settings{{"part", std::string("inside")}, {"heights", Span{0.0F, 1.0F}}};
        p.reliefs[0].shapings = {keep};
    });
    opened.settle();
    CHECK(opened.room().worked()->report.holes > 0.3);
    opened.click("remedy Fill the holes");
    opened.settle();
    CHECK(opened.room().worked()->report.holes == 0.0);
}

TEST_CASE("heights and solids are written from the room", "[relief-room]") {
    Opened opened;
    opened.click("write-heights");
    auto* path = opened.child<QLineEdit>("export-path");
    for (const char* name : {"a map.tif", "a map.png", "a map.exr"}) {
        path->setText(QString::fromStdString((opened.folder / name).string()));
        opened.click("write-now");
        REQUIRE(waitFor(
            [&] { return std::filesystem::exists((opened.folder / name).string() + ".json"); }));
        const PassSet set = readPasses({opened.folder / name});
        REQUIRE(set.find(PassKind::Height) != nullptr);
        CHECK(spreadOf(set.find(PassKind::Height)->image).highest == Approx(0.01F).margin(2e-4));
        REQUIRE(waitFor([&] { return opened.child<QPushButton>("write-now")->isEnabled(); }));
    }
    auto* what = opened.child<QComboBox>("export-what");
    what->setCurrentIndex(what->count() - 1);
    CHECK(path->text().endsWith(".glb"));
    opened.click("write-now");
    REQUIRE(waitFor([&] { return std::filesystem::exists(opened.folder / "a map.glb"); }));
    // A map is never written over what it is made from.
    what->setCurrentIndex(0);
    path->setText(QString::fromStdString((opened.folder / "stone.exr").string()));
    const auto size = std::filesystem::file_size(opened.folder / "stone.exr");
    REQUIRE(waitFor([&] { return opened.child<QPushButton>("write-now")->isEnabled(); }));
    opened.click("write-now");
    REQUIRE(waitFor([&] { return opened.child<QPushButton>("write-now")->isEnabled(); }));
    CHECK(std::filesystem::file_size(opened.folder / "stone.exr") == size);
}

TEST_CASE("reliefs are saved with the project and come back", "[relief-room]") {
    Opened opened;
    opened.room().panel().addShaping("level");
    opened.settle();
    REQUIRE(opened.window.session().save(opened.folder / "p.noctis"));
    const Project again = openProject(opened.folder / "p.noctis", stepCatalogue());
    CHECK(again.reliefs == opened.window.session().project().reliefs);
    CHECK(again.warnings.empty());
}

TEST_CASE("an operation's shape is drawn on the map and dragged there", "[relief-room]") {
    Opened opened;
    opened.room().panel().addShaping("exaggerate");
    opened.settle();
    opened.window.session().change({}, {}, [](Project& p) {
        p.reliefs[0].shapings[0].where = stepCatalogue().newCriterion("ellipse");
    });
    opened.settle();
    const auto where = [&]() -> const Where& {
        return opened.window.session().project().reliefs[0].shapings[0].where;
    };
    const auto centre = [&] { return where().settings.get<V2f>("centre"); };
    // What maps have no view of is not offered.
    CHECK_FALSE(opened.child<QPushButton>("where-overlay")->isVisible());
    opened.click("draw-0");
    MapView& map = opened.room().map();
    const auto at = [&](double x, double y) { return map.fromMap({x, y}).toPoint(); };
    drag(map, at(20, 30), at(60, 70));
    opened.settle();
    CHECK(centre().x == Approx(40.0F).margin(1.0));
    CHECK(centre().y == Approx(50.0F).margin(1.0));
    CHECK(where().settings.get<V2f>("radii").x == Approx(20.0F).margin(1.0));
    // Only there is it higher now.
    const Image& heights = opened.room().worked()->map->full().heights;
    CHECK(heights(48, 58, 0) > 1.5F * Waves{}.at(48, 58));
    CHECK(heights(90, 5, 0) == Approx(Waves{}.at(90, 5)).margin(2e-4));
    opened.click("draw-0");  // no more
    drag(map, at(centre().x, centre().y), at(50, 40));
    opened.settle();
    CHECK(centre().x == Approx(50.0F).margin(1.5));
    CHECK(centre().y == Approx(40.0F).margin(1.5));
    opened.window.session().undo();
    CHECK(centre().x == Approx(40.0F).margin(1.0));
}

TEST_CASE("a criterion is picked by a click on the map", "[relief-room]") {
    Opened opened;
    opened.room().panel().addShaping("exaggerate");
    opened.settle();
    opened.window.session().change({}, {}, [](Project& p) {
        p.reliefs[0].shapings[0].where = stepCatalogue().newCriterion("facing");
    });
    opened.settle();
    opened.click("draw-0");
    MapView& map = opened.room().map();
    QTest::mouseClick(&map, Qt::LeftButton, {}, map.fromMap({2, 2}).toPoint());
    opened.settle();
    const auto direction =
        opened.window.session().project().reliefs[0].shapings[0].where.settings.get<V3f>(
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
    room.panel().addShaping("exaggerate");
    settle();
    window.session().change({}, {}, [](Project& p) {
        p.reliefs[0].shapings[0].where = stepCatalogue().newCriterion("ellipse");
    });
    settle();
    QTest::mouseClick(room.findChild<QPushButton*>("draw-0"), Qt::LeftButton);
    MapView& map = room.map();
    const HeightField& field = room.worked()->map->full();
    const auto width = static_cast<double>(field.width());
    const auto height = static_cast<double>(field.height());
    REQUIRE(std::isnan(field.places(1, field.height() - 2, 0)));  // beside the wedge's near end
    drag(map, map.fromMap({1.0, height - 2.0}).toPoint(),
         map.fromMap({width / 2.0, height / 2.0}).toPoint());
    settle();
    const Settings& drawn = window.session().project().reliefs[0].shapings[0].where.settings;
    for (const char* id : {"centre", "radii"}) {
        CHECK(std::isfinite(drawn.get<V2f>(id).x));
        CHECK(std::isfinite(drawn.get<V2f>(id).y));
    }
    CHECK(drawn.get<V2f>("radii").x > 1.0F);
    // Entirely over holes nothing is drawn.
    const Settings before = drawn;
    drag(map, map.fromMap({1.0, height - 2.0}).toPoint(),
         map.fromMap({3.0, height - 2.0}).toPoint());
    settle();
    CHECK(window.session().project().reliefs[0].shapings[0].where.settings == before);
}

TEST_CASE("three places are clicked on the map", "[relief-room]") {
    Opened opened;
    opened.room().panel().addShaping("level");
    opened.window.session().change({}, {}, [](Project& p) {
        p.reliefs[0].shapings[0].settings.set("by", std::string("points"));
    });
    opened.settle();
    opened.click("click-places");
    MapView& map = opened.room().map();
    for (const QPointF& cell : {QPointF(20, 20), QPointF(70, 24), QPointF(40, 80)})
        QTest::mouseClick(&map, Qt::LeftButton, {}, map.fromMap(cell).toPoint());
    opened.settle();
    const PlaceList places =
        opened.window.session().project().reliefs[0].shapings[0].settings.get<PlaceList>("points");
    REQUIRE(places.size() == 3);
    CHECK(places[1].x == Approx(70.0F).margin(1.0));
    CHECK(places[2].y == Approx(80.0F).margin(1.0));
    // The plane through them is taken off.
    const Image& heights = opened.room().worked()->map->full().heights;
    CHECK(heights(20, 20, 0) == Approx(0.0F).margin(1e-3));
    CHECK(heights(40, 80, 0) == Approx(0.0F).margin(1e-3));
    CHECK_FALSE(opened.child<QPushButton>("click-places")->isChecked());
}

TEST_CASE("a grey map that is upside down is turned over at a click", "[relief-room]") {
    Opened opened;
    // The stone's heights, dark where they are high.
    FilePart part;
    part.image = filledBy(96, 96, [](int x, int y) {
        return 0.5F - 40.0F * Waves{}.at(static_cast<float>(x), static_cast<float>(y));
    });
    part.type = SampleType::Short;
    writeImageFile(opened.folder / "bump.png", {part});
    opened.room().addFromFile(opened.folder / "bump.png");
    opened.settle();
    CHECK(opened.child<QLabel>("relief-warnings")->text().contains("upside down"));
    opened.click("remedy Turn it over");
    opened.settle();
    CHECK_FALSE(opened.child<QLabel>("relief-warnings")->text().contains("upside down"));
    const Image& heights = opened.room().worked()->map->full().heights;
    CHECK(heights(10, 0, 0) > heights(30, 0, 0));  // as the waves are
}

TEST_CASE("the same from normals only, and a map that can't be made says why", "[relief-room]") {
    Opened opened;
    opened.window.session().change({}, {}, [](Project& p) {
        p.reliefs[0].source = "normal";
        p.reliefs[0].settings = newRelief("normal").settings;
    });
    opened.settle();
    CHECK(opened.room().worked()->spread.range() == Approx(0.02F).epsilon(0.01));
    opened.window.session().change(
        {}, {}, [&](Project& p) { p.reliefs[0].from.files = {opened.folder / "gone.exr"}; });
    QApplication::processEvents();
    REQUIRE(waitFor([&] {
        for (const QLabel* label : opened.room().panel().findChildren<QLabel*>())
            if (label->text().contains("gone.exr"))
                return true;
        return false;
    }));
}

TEST_CASE("two maps are compared", "[relief-room]") {
    Opened opened;
    opened.room().addFromFile(opened.folder / "stone.exr");
    opened.settle();
    CHECK(opened.window.session().project().reliefs.size() == 2);
    opened.room().map().grab();
    const QImage before = opened.room().map().shown();
    opened.room().choose("relief_1");
    opened.room().panel().addShaping("exaggerate");  // twice as high, about the level
    opened.settle();
    MapView& map = opened.room().map();
    map.grab();
    const QImage alone = map.shown();
    const std::string stone = opened.window.session().project().reliefs.back().id;
    opened.room().compareWith(stone, MapView::Compare::Difference);
    map.grab();
    CHECK_FALSE(map.shown().isNull());
    CHECK(map.shown() != alone);
    CHECK(map.difference().highest == Approx(0.01F).margin(3e-4));
    CHECK(map.difference().lowest == Approx(-0.01F).margin(3e-4));
    opened.room().compareWith({}, MapView::Compare::None);
    map.grab();
    CHECK(map.shown() == alone);
}

TEST_CASE("the solid turns by mouse and keys", "[relief-room]") {
    Opened opened;
    SolidView& solid = opened.room().solid();
    solid.grab();
    const QImage before = solid.shown();
    drag(solid, solid.rect().center(), solid.rect().center() + QPoint(60, 10));
    solid.grab();
    CHECK(before != solid.shown());
    const QImage turned = solid.shown();
    QTest::keyClick(&solid, Qt::Key_Left);
    solid.grab();
    CHECK(turned != solid.shown());
}

TEST_CASE("everything is mapped from above by one command, and one undo takes it back",
          "[relief-room]") {
    Folder folder;
    Folder data;
    MainWindow window(data.path());
    window.show();
    REQUIRE(openAndRead(
        window,
        {folder.write("box.obj",
                      "o ground\nv -2 0 2\nv 2 0 2\nv 2 0 -2\nv -2 0 -2\nf 1 2 3 4\n"
                      "o lid\nv -1 0.5 1\nv 1 0.5 1\nv 1 0.5 -1\nv -1 0.5 -1\nf 5 6 7 8\n")}));
    REQUIRE(waitFor([&] { return window.session().scene() != nullptr; }));
    ReliefRoom& room = window.relief();
    window.showRoom(room);
    const std::size_t views = window.session().project().views.size();
    const auto mapFromAbove = [&] {
        for (const RoomCommand& command : room.commands())
            if (command.text.contains("from above"))
                command.run();
    };
    mapFromAbove();
    QApplication::processEvents();
    REQUIRE(waitFor([&] { return room.settled(); }));
    mapFromAbove();
    CHECK(window.session().project().reliefs.back().name == "From above 2");
    window.session().undo();
    REQUIRE(waitFor([&] { return room.settled(); }));
    CHECK(room.worked()->report.range[0] == Approx(0.0F).margin(1e-5));
    CHECK(room.worked()->report.range[1] == Approx(0.5F).margin(1e-5));
    window.session().undo();
    CHECK(window.session().project().reliefs.empty());
    CHECK(window.session().project().views.size() == views);
}

TEST_CASE("the map follows a hand that never rests", "[relief-room]") {
    Opened opened;
    opened.room().panel().addShaping("exaggerate");
    opened.settle();
    ReliefWorker worker;
    worker.setSurroundings(opened.window.session().passes(), nullptr, {});
    int shown = 0;
    QObject::connect(&worker, &ReliefWorker::worked, &worker, [&] { ++shown; });
    Relief relief = opened.window.session().project().reliefs[0];
    worker.request({relief, {}, false});
    REQUIRE(waitFor([&] { return shown == 1; }));
    for (int i = 0; i < 200; ++i) {  // a movement every two milliseconds
        relief.shapings[0].settings.set("factor", 1.0F + 0.01F * static_cast<float>(i));
        worker.request({relief, relief.shapings[0].id, true});
        QTest::qWait(2);
    }
    CHECK(shown > 10);
}

TEST_CASE("maps that were not chosen yet have prints, too", "[relief-room]") {
    Opened opened;
    opened.window.session().change({}, {}, [](Project& p) {
        Relief other = p.reliefs[0];
        other.id = "other";
        p.reliefs.push_back(other);
    });
    opened.settle();
    REQUIRE(waitFor([&] { return opened.room().allPrinted(); }));
    auto* print = opened.room().findChild<QWidget*>("relief other");
    REQUIRE(print != nullptr);
    const QImage shown = print->grab().toImage();
    std::set<QRgb> colours;
    for (int x = 10; x < shown.width() - 10; ++x)
        colours.insert(shown.pixel(x, 30));
    CHECK(colours.size() > 8);  // waves, not the hatching of an empty one
    CHECK(opened.room().chosen() == "relief_1");
    // The one that was worked last for its print is shown when it is chosen.
    QTest::mouseClick(print, Qt::LeftButton);
    opened.settle();
    CHECK(opened.room().chosen() == "other");
    CHECK(opened.room().worked()->request.relief.id == "other");
}
