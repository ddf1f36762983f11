#include "app/relief/relief_room.h"

#include "app/cards/step_card.h"
#include "app/controls/switch_box.h"
#include "app/controls/value_bar.h"
#include "app/instruments/height_axis.h"
#include "app/instruments/section.h"
#include "app/relief/relief_export.h"
#include "app/relief/relief_panel.h"
#include "app/relief/solid_view.h"
#include "app/window/main_window.h"
#include "core/passes/pass_file.h"
#include "core/project/project_file.h"
#include "core/steps/registry.h"
#include "support/fields.h"
#include "support/files.h"
#include "support/stone.h"
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

TEST_CASE("a file of passes becomes a height map in metres", "[relief-room]") {
    OpenedRelief opened;
    const WorkedRelief& worked = *opened.room().worked();
    CHECK(worked.report.range[0] == Approx(-0.01F).margin(2e-4));
    CHECK(worked.report.range[1] == Approx(0.01F).margin(2e-4));
    CHECK(opened.child<QPushButton>("number-black_to_white")->text().contains("20.0"));
    opened.click("number-black_to_white");
    CHECK(QApplication::clipboard()->text().toDouble() == Approx(0.02).margin(2e-4));
    CHECK_FALSE(opened.room().map().shown().isNull());
    CHECK_FALSE(opened.room().solid().shown().isNull());
    // Its print is in the strip.
    REQUIRE(opened.room().findChild<QWidget*>("relief relief_1") != nullptr);
}

TEST_CASE("the ends of the range are dragged on the height axis, in one undo", "[relief-room]") {
    OpenedRelief opened;
    HeightAxis& axis = opened.room().axis();
    const int x = 8;
    dragOver(axis, {x, static_cast<int>(axis.placeOf(0.01F))},
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

TEST_CASE("the map reads the height and the place under the pointer", "[relief-room]") {
    OpenedRelief opened;
    MapView& map = opened.room().map();
    const HeightField& field = opened.room().worked()->map->full();
    const QPoint at = map.fromMap({10.5, 48.5}).toPoint();
    QTest::mouseMove(&map, at);
    CHECK(map.reading().startsWith("10, 48"));
    const QPointF cells = map.toMap(at);
    const float height = heightAt(field.heights, static_cast<float>(cells.x()) - 0.5F,
                                  static_cast<float>(cells.y()) - 0.5F);
    CHECK(std::abs(height - field.heights(10, 48, 0)) < 1e-3F);
    CHECK(map.reading().contains(QString::fromStdString(lengthText(static_cast<double>(height)))));
    QTest::mouseMove(&map, QPoint(2, 2));
    CHECK(map.reading().isEmpty());
}

TEST_CASE("a section is drawn over the map and shows metres and slope", "[relief-room]") {
    OpenedRelief opened;
    MapView& map = opened.room().map();
    dragOver(map, map.fromMap({10, 48}).toPoint(), map.fromMap({60, 48}).toPoint());
    CHECK(opened.room().section().reading().contains("50.0"));
    const QRectF plot = opened.room().section().plot();
    QTest::mouseMove(&opened.room().section(), plot.center().toPoint());
    CHECK(opened.room().section().reading().contains("here"));
    // Its end is taken and moved.
    dragOver(map, map.fromMap({60, 48}).toPoint(), map.fromMap({30, 48}).toPoint());
    CHECK(opened.room().section().reading().contains("20.0"));
}

TEST_CASE("the lamp on its disc lights the map from elsewhere", "[relief-room]") {
    OpenedRelief opened;
    MapView& map = opened.room().map();
    map.grab();
    const QImage before = map.shown();
    const QPoint at = map.lampDisc().center().toPoint() + QPoint(20, 10);
    dragOver(map, at, at + QPoint(2, 2));
    map.grab();
    CHECK(map.towardsLight().x > 0.0F);
    CHECK(map.towardsLight().y < 0.0F);
    CHECK(before != map.shown());
}

TEST_CASE("every way to show the map shows another picture", "[relief-room]") {
    OpenedRelief opened;
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
    OpenedRelief opened;
    opened.room().panel().addOperation("exaggerate");
    opened.settle();
    CHECK(opened.room().worked()->statistics.range() == Approx(0.04F).margin(1e-3));
    auto* card = opened.child<StepCard>("exaggerate");
    auto* bar = card->findChild<ValueBar*>();
    REQUIRE(bar != nullptr);
    const QRect track = bar->track();
    dragOver(*bar, track.center(), track.center() + QPoint(20, 0));
    opened.settle();
    CHECK(opened.room().worked()->statistics.range() > 0.041F);
    QTest::mouseClick(card->findChild<SwitchBox*>(), Qt::LeftButton);
    opened.settle();
    CHECK(opened.room().worked()->statistics.range() == Approx(0.02F).margin(1e-3));
    opened.window.session().undo();
    opened.window.session().undo();
    opened.window.session().undo();
    opened.settle();
    CHECK(opened.room().panel().findChild<StepCard*>("exaggerate") == nullptr);
}

TEST_CASE("what is wrong has its remedy beside it", "[relief-room]") {
    OpenedRelief opened;
    opened.window.session().change({}, {}, [](Project& p) {
        Step keep;
        keep.type = "keep";
        keep.id = "keep";
        keep.settings = Settings{{"part", std::string("inside")}, {"heights", Span{0.0F, 1.0F}}};
        p.reliefs[0].operations = {keep};
    });
    opened.settle();
    CHECK(opened.room().worked()->report.holes > 0.3);
    opened.click("remedy Fill the holes");
    opened.settle();
    CHECK(opened.room().worked()->report.holes == 0.0);
}

TEST_CASE("heights and solids are written from the room", "[relief-room]") {
    OpenedRelief opened;
    opened.click("write-heights");
    auto* path = opened.child<QLineEdit>("export-path");
    for (const char* name : {"a map.tif", "a map.png", "a map.exr"}) {
        path->setText(QString::fromStdString((opened.folder / name).string()));
        opened.click("write-now");
        // The map comes last: its sidecar is there.
        REQUIRE(waitFor([&] { return std::filesystem::exists(opened.folder / name); }));
        CHECK(std::filesystem::exists((opened.folder / name).string() + ".json"));
        const PassSet set = readPasses({opened.folder / name});
        REQUIRE(set.find(PassKind::Height) != nullptr);
        CHECK(heightStatisticsOf(set.find(PassKind::Height)->image).highest ==
              Approx(0.01F).margin(2e-4));
        REQUIRE(opened.written());
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
    REQUIRE(opened.written());
    opened.click("write-now");
    REQUIRE(waitFor(
        [&] { return opened.window.queue().jobs().jobs().front().stage == JobStage::Failed; }));
    CHECK(std::filesystem::file_size(opened.folder / "stone.exr") == size);
}

TEST_CASE("reliefs are saved with the project and come back", "[relief-room]") {
    OpenedRelief opened;
    opened.room().panel().addOperation("level");
    opened.settle();
    REQUIRE(opened.window.session().save(opened.folder / "p.noctis"));
    const Project again = openProject(opened.folder / "p.noctis", stepCatalogue());
    CHECK(again.reliefs == opened.window.session().project().reliefs);
    CHECK(again.warnings.empty());
}

TEST_CASE("a grey map that is upside down is turned over at a click", "[relief-room]") {
    OpenedRelief opened;
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
    opened.click("remedy Invert heights");
    opened.settle();
    CHECK_FALSE(opened.child<QLabel>("relief-warnings")->text().contains("upside down"));
    const Image& heights = opened.room().worked()->map->full().heights;
    CHECK(heights(10, 0, 0) > heights(30, 0, 0));  // as the waves are
}

TEST_CASE("the same from normals only, and a map that can't be made says why", "[relief-room]") {
    OpenedRelief opened;
    opened.window.session().change({}, {}, [](Project& p) {
        p.reliefs[0].source = "normal";
        p.reliefs[0].settings = newRelief("normal").settings;
    });
    opened.settle();
    CHECK(opened.room().worked()->statistics.range() == Approx(0.02F).epsilon(0.01));
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
    OpenedRelief opened;
    opened.room().addFromFile(opened.folder / "stone.exr");
    opened.settle();
    CHECK(opened.window.session().project().reliefs.size() == 2);
    opened.room().map().grab();
    const QImage before = opened.room().map().shown();
    opened.room().choose("relief_1");
    opened.room().panel().addOperation("exaggerate");  // twice as high, about the level
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

TEST_CASE("the tools over the map wrap in a narrow window, and none is cut", "[relief-room]") {
    OpenedRelief opened;
    for (const QSize& size : {QSize(1280, 800), QSize(1024, 640), QSize(1900, 1000)}) {
        opened.window.resize(size);
        QApplication::processEvents();
        QTest::qWait(20);
        for (const char* name :
             {"look-grey", "look-normals", "contours", "tile", "compare", "with-picture"}) {
            auto* tool = opened.child<QPushButton>(name);
            CAPTURE(name, size.width());
            CHECK(tool->visibleRegion().boundingRect().size() == tool->size());
            CHECK(tool->width() >= tool->sizeHint().width());
        }
    }
}

TEST_CASE("the solid turns by mouse and keys", "[relief-room]") {
    OpenedRelief opened;
    SolidView& solid = opened.room().solid();
    solid.grab();
    const QImage before = solid.shown();
    dragOver(solid, solid.rect().center(), solid.rect().center() + QPoint(60, 10));
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
    OpenedRelief opened;
    opened.room().panel().addOperation("exaggerate");
    opened.settle();
    ReliefWorker worker;
    worker.setSurroundings(opened.window.session().passes(), nullptr, {});
    int shown = 0;
    QObject::connect(&worker, &ReliefWorker::worked, &worker, [&] { ++shown; });
    Relief relief = opened.window.session().project().reliefs[0];
    worker.request({relief, {}, false});
    REQUIRE(waitFor([&] { return shown == 1; }));
    for (int i = 0; i < 200; ++i) {  // a movement every two milliseconds
        relief.operations[0].settings.set("factor", 1.0F + 0.01F * static_cast<float>(i));
        worker.request({relief, relief.operations[0].id, true});
        QTest::qWait(2);
    }
    CHECK(shown > 10);
}

TEST_CASE("maps that were not chosen yet have prints, too", "[relief-room]") {
    OpenedRelief opened;
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
