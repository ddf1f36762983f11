#include "app/look/picture_paint.h"
#include "app/survey/measure_bar.h"
#include "app/survey/pass_list.h"
#include "app/survey/pass_row.h"
#include "app/window/note_bar.h"
#include "core/image/colour.h"
#include "core/image/image_file.h"
#include "core/tracer/render.h"
#include "support/surveyed.h"

#include <QApplication>

#include <cmath>

using namespace noctis;
using test::kMiddleY;
using test::Surveyed;
using test::waitFor;

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

TEST_CASE("without a scene the hand moves nothing, and leaves nothing to save", "[app][survey]") {
    const test::Folder folder;
    MainWindow window(folder.path());
    window.resize(1280, 800);
    window.show();
    window.showRoom(window.survey());
    TraceView& view = window.survey().view();
    const Project before = window.session().project();
    QTest::mousePress(&view, Qt::LeftButton, {}, {200, 200});
    QTest::mouseMove(&view, {260, 220});
    QTest::mouseRelease(&view, Qt::LeftButton, {}, {260, 220});
    QTest::keyClick(&view, Qt::Key_Left);
    CHECK(window.session().project() == before);
    CHECK_FALSE(window.session().unsaved());
}

TEST_CASE("a hand that never rests sees where it has been", "[app][survey]") {
    Surveyed o;
    TraceView& view = o.room.view();
    o.room.show({PassKind::Occlusion, {}});
    std::vector<Camera> seen{view.seenFrom().value()};
    QTest::mousePress(&view, Qt::LeftButton, {}, o.in(0.2, 0.5));
    for (int i = 1; i <= 2000 && seen.size() < 5; ++i) {
        QTest::mouseMove(&view, o.in(0.2, 0.5) + QPoint(10 + i % 400, 0));
        QApplication::processEvents();  // and no moment longer
        if (view.seenFrom().value() != seen.back())
            seen.push_back(view.seenFrom().value());
    }
    CHECK(seen.size() == 5);
    QTest::mouseRelease(&view, Qt::LeftButton, {}, o.in(0.2, 0.5));
    CHECK(waitFor([&] { return view.seenFrom().value() == o.session.view().camera; }));
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
    // The view goes on showing all of the frame.
    const auto moved = [&, before = o.session.view().camera] {
        return o.room.view().seenFrom() && *o.room.view().seenFrom() != before &&
               o.room.view().settled();
    };
    QTest::keyClick(&o.room.view(), Qt::Key_Right);
    REQUIRE(waitFor(moved));
    const QImage seen = o.room.view().image();
    CHECK(seen.pixelColor(2, seen.height() - 3).value() > 200);
    o.session.undo();
    o.room.passes().render(true);
    REQUIRE(waitFor([&] { return !o.room.renderer().running(); }));
    QTest::qWait(30);
    CHECK(test::sameBits(before, o.session.passes().find(PassKind::Depth)->image));
    REQUIRE(o.project().passes[1].kind == PassKind::Occlusion);
    const auto state = [&] { return o.room.passes().statesOf(o.session.view())[1]; };
    CHECK(state().kind == PassState::Kind::Current);
    // With other settings the part is made anew, and the rest is as it was.
    o.session.change({}, {}, [](Project& p) { applyPassSetting(p.passes, "occlusion.reach=1"); });
    o.room.passes().render(false);
    REQUIRE(waitFor([&] { return !o.room.renderer().running(); }));
    QTest::qWait(30);
    CHECK(state().kind == PassState::Kind::Current);
    o.press("crop");
    o.clickAt(0.5, 0.5);
    CHECK_FALSE(cropOf(o.project()));
    CHECK(state().why == "rendered in part");
    o.room.passes().render(false);
    REQUIRE(waitFor([&] { return state().kind == PassState::Kind::Current; }));
}

TEST_CASE("the view shows a pass that is picked in the list, with its own settings",
          "[app][survey]") {
    Surveyed o;
    QTest::mouseClick(o.room.findChild<PassRow*>("depth"), Qt::LeftButton, {}, QPoint(60, 12));
    CHECK(o.room.view().settled());  // it is what is shown already
    QTest::mouseClick(o.room.findChild<PassRow*>("occlusion"), Qt::LeftButton, {}, QPoint(60, 12));
    CHECK_FALSE(o.room.view().settled());
    o.settle();
    CHECK(o.room.view().shown() == PassName{PassKind::Occlusion, ""});
    const QImage all = o.room.view().image();
    o.session.change({}, {}, [](Project& p) { applyPassSetting(p.passes, "occlusion.on=post"); });
    o.settle();
    CHECK(o.room.view().image() != all);
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

TEST_CASE("what changes while a render is at work is traced when it ends", "[app][survey]") {
    Surveyed o;
    o.session.change({}, {}, [](Project& p) {
        p.width = 1600;
        p.height = 900;
        applyPassSetting(p.passes, "occlusion.samples=4096");
    });
    o.settle();
    o.room.passes().render(true);
    const float nearest = o.room.view().automaticRange().nearest;
    View aside = o.session.view();
    aside.camera = lookingAt(V3f(0, 1.5F, 40), V3f(0, 1.5F, -5), 0.7F);
    o.session.change({}, {}, [&](Project& p) { p.view = aside; });
    QTest::qWait(400);
    CHECK(o.room.view().automaticRange().nearest == nearest);  // the render has the cores
    o.press("stop");
    o.settle();
    CHECK(o.room.view().automaticRange().nearest > 4.0F * nearest);
}

namespace {

/// How much pixels of the ground differ from those beside them, of 255.
double roughnessOf(const QImage& image) {
    double sum = 0.0;
    int count = 0;
    for (int y = image.height() * 7 / 10; y < image.height(); ++y)
        for (int x = 1; x < image.width(); ++x, ++count)
            sum += std::abs(qGray(image.pixel(x, y)) - qGray(image.pixel(x - 1, y)));
    return sum / count;
}

}  // namespace

TEST_CASE("the view at rest is clean even of a pass that stays noisy", "[app][survey]") {
    Surveyed o;
    o.session.change({}, {}, [](Project& p) {
        p.passes = {passRequest(PassKind::Beauty)};
        applyPassSetting(p.passes, "beauty.samples=1");
    });
    o.room.show({PassKind::Beauty, {}});
    o.settle();
    const QImage shown = o.room.view().image();
    RenderRequest request = o.session.renderRequest(o.session.view());
    request.width = shown.width();
    request.height = shown.height();
    request.passes = o.project().passes;
    const auto scene = o.session.scene();
    const PassSet raw = renderPasses(scene->scene, *scene->accelerator, request);
    const QImage noisy =
        toQImage(viewed(raw.passes[0].image, o.project().viewTransform, o.project().exposure));
    REQUIRE(noisy.size() == shown.size());
    CAPTURE(roughnessOf(shown), roughnessOf(noisy));
    CHECK(roughnessOf(shown) < 0.4 * roughnessOf(noisy));
}

TEST_CASE("a panorama that is gone is named once, and the note goes when it is there",
          "[app][survey]") {
    Surveyed o;
    // One sample: at the usual number the first picture takes a minute on a slow machine.
    o.session.change({}, {}, [](Project& p) {
        p.passes = {passRequest(PassKind::Beauty)};
        applyPassSetting(p.passes, "beauty.samples=1");
    });
    o.room.show({PassKind::Beauty, {}});
    o.settle();
    const auto use = [&](const std::string& file) {
        o.session.change({}, {}, [&](Project& p) {
            p.passes = {passRequest(PassKind::Beauty)};
            applyPassSetting(p.passes, "beauty.samples=1");
            applyPassSetting(p.passes, "beauty.panorama=" + file);
        });
        o.session.endGesture();
    };
    use("/nowhere/gone dusk.hdr");
    REQUIRE(waitFor([&] { return o.window.notes().isVisible(); }));
    CHECK(o.window.notes().text().contains("gone dusk.hdr"));
    FilePart sky;
    sky.image = Image(8, 4, {"R", "G", "B"}, 0.5F);
    writeImageFile(o.folder / "dusk.exr", {sky});
    use((o.folder / "dusk.exr").string());
    CHECK(waitFor([&] { return !o.window.notes().isVisible(); }));
}
