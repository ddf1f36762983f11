#include "app/controls/line_over.h"
#include "app/dispatch/dispatch_room.h"
#include "app/look/theme.h"
#include "app/survey/frames_panel.h"
#include "app/survey/lens_control.h"
#include "app/survey/turnaround_panel.h"
#include "app/survey/views_strip.h"
#include "app/window/note_bar.h"
#include "support/surveyed.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QMenu>
#include <QSpinBox>
#include <QTimer>

#include <cmath>

using namespace noctis;
using test::kMiddleY;
using test::kPostX;
using test::openAndRead;
using test::Surveyed;
using test::waitFor;

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
    o.room.turnaround().renderInto(o.folder / "out");
    CHECK(o.project().views.empty());  // the job has them, the project doesn't
    REQUIRE(o.waitForQueue());
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
    o.room.turnaround().renderInto(o.folder / "out");
    REQUIRE(waitFor([&] {
        const auto jobs = o.window.queue().jobs().jobs();
        return !jobs.empty() && jobs.front().stage == JobStage::Runs;
    }));
    CHECK(o.room.findChild<QPushButton*>("render")->isEnabled());  // work goes on meanwhile
    QTest::keyClick(&o.window, Qt::Key_F5);
    QPushButton* stop = nullptr;
    REQUIRE(waitFor([&] {
        stop = o.window.dispatch().findChild<QPushButton*>("stop job");
        return stop != nullptr && stop->isVisible();
    }));
    QTest::mouseClick(stop, Qt::LeftButton);
    REQUIRE(
        waitFor([&] { return o.window.queue().jobs().jobs().front().stage == JobStage::Stopped; }));
    CHECK_FALSE(std::filesystem::exists(o.folder / "out/everything.01.exr"));
}

TEST_CASE("views are put in order by dragging them, or from their menu", "[app][survey]") {
    Surveyed o;
    o.session.change({}, {}, [&](Project& p) {
        for (const char* name : {"one", "two", "three"})
            p.views.push_back({name, p.view->camera});
    });
    auto* strip = o.room.findChild<ViewsStrip*>();
    const auto order = [&] {
        QStringList names;
        for (const View& view : o.project().views)
            names << QString::fromStdString(view.name);
        return names.join(' ');
    };
    const auto card = [&](const char* name) {
        auto* found = strip->widget()->findChild<QAbstractButton*>(QLatin1String(name));
        REQUIRE(found != nullptr);
        return found;
    };
    const auto drag = [&](const char* from, const char* to, int beyond) {
        QTest::qWait(20);  // until the cards have their places
        auto* dragged = card(from);
        const QPoint middle = card(to)->mapToGlobal(card(to)->rect().center());
        const QPoint end = dragged->mapFromGlobal(middle) + QPoint(beyond, 0);
        QTest::mousePress(dragged, Qt::LeftButton, {}, QPoint(40, 20));
        QTest::mouseMove(dragged, (QPoint(40, 20) + end) / 2);
        QTest::mouseMove(dragged, end);
        QTest::mouseRelease(dragged, Qt::LeftButton, {}, end);
    };
    drag("three", "one", -10);
    CHECK(order() == "three one two");
    drag("three", "one", 10);
    CHECK(order() == "one three two");
    drag("one", "two", 10);
    CHECK(order() == "three two one");
    CHECK(o.session.view().name == "test");  // a drag is no click
    o.session.undo();
    CHECK(order() == "one three two");
    QTest::mouseClick(card("two"), Qt::LeftButton);
    CHECK(o.session.view().name == "two");

    const auto choose = [&](const char* name, const QString& entry) {
        QTimer::singleShot(100, [&] {
            if (auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget()))
                for (QAction* action : menu->actions())
                    if (action->text() == entry)
                        QTest::mouseClick(menu, Qt::LeftButton, {},
                                          menu->actionGeometry(action).center());
        });
        Q_EMIT card(name)->customContextMenuRequested(QPoint(10, 10));
    };
    choose("two", "Rename…");
    auto* line = strip->findChild<LineOver*>();
    REQUIRE(line != nullptr);
    QTest::keyClicks(line, "second");
    QTest::keyClick(line, Qt::Key_Return);
    CHECK(order() == "one three second");
    CHECK(o.session.view().name == "second");
    o.session.undo();
    choose("two", "Move left");
    CHECK(order() == "one two three");

    // A view is where the camera was when it was kept, until it is set anew.
    const Camera kept = o.session.view().camera;
    QTest::keyClick(&o.room.view(), Qt::Key_Left);
    const Camera moved = o.session.view().camera;
    CHECK_FALSE(moved == kept);
    QTest::mouseClick(card("two"), Qt::LeftButton);
    CHECK(o.session.view().camera == kept);
    o.session.undo();
    const auto picture = [&] { return card("three")->grab(QRect(8, 8, 70, 36)).toImage(); };
    REQUIRE(waitFor([&] { return picture().pixelColor(35, 18) != theme::kRaised; }));
    const QImage before = picture();
    choose("three", "Set to where the camera is now");
    CHECK(o.project().views[2].camera == moved);
    CHECK(o.project().views[1].camera == kept);
    CHECK(o.session.view() == o.project().views[2]);
    CHECK(waitFor([&] { return picture() != before; }));  // and shows it so
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

TEST_CASE("the lens can be set by its angle, and the sensor changed", "[app][survey]") {
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
    REQUIRE(openAndRead(o.session, {scene}));
    REQUIRE(waitFor([&] { return o.session.scene() && o.session.scene()->file == scene; }));
    o.session.change({}, {}, [](Project& p) {
        p.width = 32;
        p.height = 18;
        p.passes = {passRequest(PassKind::Depth), passRequest(PassKind::Vectors)};
    });
    REQUIRE(offer->isVisible());
    o.press("turnaround-offer");
    CHECK(o.room.turnaround().isVisible());
    QTest::mouseClick(offer, Qt::LeftButton);
    CHECK_FALSE(o.room.turnaround().isVisible());  // one strip at a time
    CHECK(o.room.frames().isVisible());
    o.window.resize(1024, 640);
    CHECK(test::cutOff(o.room.frames()).join("\n").toStdString() == "");
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
    o.room.frames().renderInto(o.folder / "frames");
    REQUIRE(o.waitForQueue());
    const std::string name = o.session.view().name;
    CHECK(std::filesystem::exists(o.folder / "frames" / (name + ".0004.exr")));
    CHECK(std::filesystem::exists(o.folder / "frames" / (name + ".0005.exr")));

    auto* files = o.room.frames().findChild<QComboBox*>();
    REQUIRE(files != nullptr);
    QTest::keyClick(files, Qt::Key_Down);
    o.room.frames().renderInto(o.folder / "frames");
    REQUIRE(o.waitForQueue());
    for (const char* pass : {"depth", "vectors"})
        CHECK(std::filesystem::exists(o.folder / "frames" / pass / (name + ".0004.exr")));
    o.session.undo();
    o.session.undo();
    CHECK(o.project().frameRanges.empty());
}

TEST_CASE("the picture has half the window, and more with the instruments lowered",
          "[app][survey]") {
    Surveyed o;
    const auto shareOf = [&] {
        QApplication::processEvents();
        const QSizeF frame = o.room.view().frame().size();
        return frame.width() * frame.height() / (o.window.width() * o.window.height());
    };
    CHECK(shareOf() >= 0.5);
    const QRectF before = o.room.view().frame();
    o.window.resize(1024, 640);
    CHECK(shareOf() > 0.33);
    const double raised = shareOf();
    o.press("lower");
    CHECK(shareOf() > raised);
    CHECK_FALSE(o.room.sounding().visibleRegion().boundingRect().height() > 40);
    o.press("lower");
    o.window.resize(1280, 800);
    QApplication::processEvents();
    CHECK(o.room.view().frame() == before);
}

TEST_CASE("tools wrap into two lines in a narrow window, and none is cut", "[app][survey]") {
    Surveyed o;
    for (const QSize& size : {QSize(1280, 800), QSize(1024, 640), QSize(1900, 1000)}) {
        o.window.resize(size);
        QApplication::processEvents();
        QTest::qWait(20);
        for (const char* name : {"show-beauty", "show-materials", "crop", "sizes", "parallel"}) {
            auto* tool = o.room.findChild<QPushButton*>(QLatin1String(name));
            REQUIRE(tool != nullptr);
            CAPTURE(name, size.width());
            CHECK(tool->visibleRegion().boundingRect().size() == tool->size());
            CHECK(tool->width() >= tool->sizeHint().width());
        }
    }
}
