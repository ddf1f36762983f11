#include "app/hand/handle_marks.h"

#include "app/look/theme.h"

#include <QImage>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr int kSide = 200;

/// A picture of 100 x 100 at twice its size.
Viewport twice() {
    Viewport viewport({.margin = 0.0, .leastZoom = 0.1, .mostZoom = 8.0});
    viewport.setPicture({100, 100});
    viewport.setRoom({0, 0, kSide, kSide});
    return viewport;
}

HandleMarks three() {
    HandleMarks marks;
    marks.set({{"fog", "start", "start", {20, 50}},
               {"fog", "end", "end", {24, 50}},
               {"standee", "foot", "foot", {80, 50}}});
    return marks;
}

QImage painted(const HandleMarks& marks, const Viewport& viewport) {
    QImage image(kSide, kSide, QImage::Format_RGB32);
    image.fill(Qt::black);
    QPainter painter(&image);
    painter.setFont(theme::font(12));
    marks.paint(painter, viewport);
    return image;
}

/// Pixels of a part that are not as they were.
int drawn(const QImage& image, const QRect& part) {
    int count = 0;
    for (int y = part.top(); y <= part.bottom(); ++y)
        for (int x = part.left(); x <= part.right(); ++x)
            count += image.pixel(x, y) == qRgb(0, 0, 0) ? 0 : 1;
    return count;
}

}  // namespace

TEST_CASE("the nearest handle within reach is taken, at any zoom", "[app][handles]") {
    HandleMarks marks = three();
    Viewport viewport = twice();
    // Between two that lie close together, the nearer one; both are within reach.
    REQUIRE(marks.grab({43, 100}, viewport));
    CHECK(marks.grabbed()->id == "start");
    REQUIRE(marks.grab({46, 100}, viewport));
    CHECK(marks.grabbed()->id == "end");
    CHECK(marks.grab({160, 111}, viewport));
    CHECK_FALSE(marks.grab({160, 113}, viewport));
    CHECK(marks.grabbed() == nullptr);
    // Reach is of the screen, not of the picture: zoomed in, the same distance in it is too far.
    viewport.setZoom(8.0, viewport.fromPicture({80, 50}));
    CHECK_FALSE(marks.grab(viewport.fromPicture({80, 52}), viewport));
    CHECK(marks.grab(viewport.fromPicture({80, 51}), viewport));
}

TEST_CASE("a handle stays held until it is released, and goes with its handle", "[app][handles]") {
    HandleMarks marks = three();
    const Viewport viewport = twice();
    CHECK_FALSE(marks.release());
    REQUIRE(marks.grab({160, 100}, viewport));
    // The same handles at other places keep it held, as while it is dragged.
    CHECK(marks.set({{"fog", "start", "start", {20, 50}},
                     {"fog", "end", "end", {24, 50}},
                     {"standee", "foot", "foot", {90, 60}}}));
    REQUIRE(marks.grabbed() != nullptr);
    CHECK(marks.grabbed()->at == QPointF(90, 60));
    CHECK(marks.release());
    CHECK(marks.grabbed() == nullptr);
    REQUIRE(marks.grab({180, 120}, viewport));
    marks.set({{"fog", "start", "start", {20, 50}}});
    CHECK(marks.grabbed() == nullptr);
    CHECK_FALSE(marks.empty());
    marks.set({});
    CHECK(marks.empty());
    CHECK_FALSE(marks.hover({40, 100}, viewport));
}

TEST_CASE("setting what is there already changes nothing", "[app][handles]") {
    HandleMarks marks = three();
    CHECK_FALSE(marks.set({{"fog", "start", "start", {20, 50}},
                           {"fog", "end", "end", {24, 50}},
                           {"standee", "foot", "foot", {80, 50}}}));
    CHECK(marks.set({{"fog", "start", "begins", {20, 50}},
                     {"fog", "end", "end", {24, 50}},
                     {"standee", "foot", "foot", {80, 50}}}));
}

TEST_CASE("each handle is drawn, and the one under the pointer says its name", "[app][handles]") {
    HandleMarks marks = three();
    const Viewport viewport = twice();
    const QRect foot(150, 90, 20, 20);
    const QRect name(173, 90, 26, 20);
    const QImage plain = painted(marks, viewport);
    CHECK(drawn(plain, foot) > 60);
    CHECK(drawn(plain, name) == 0);
    CHECK(drawn(plain, {90, 90, 40, 20}) == 0);
    REQUIRE(marks.hover({158, 102}, viewport));
    const QImage hot = painted(marks, viewport);
    CHECK(drawn(hot, name) > 100);
    CHECK(hot.pixelColor(160, 100) == theme::kAccent);
    marks.leave();
    CHECK(painted(marks, viewport) == plain);
}
