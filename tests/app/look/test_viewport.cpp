#include "app/look/viewport.h"

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

Viewport fitted() {
    Viewport viewport({.margin = 10.0, .leastZoom = 0.05, .mostZoom = 8.0});
    viewport.setPicture({400, 200});
    viewport.setRoom({0, 0, 220, 320});
    return viewport;
}

}  // namespace

TEST_CASE("a picture is fitted into the middle, within its margin", "[app][viewport]") {
    const Viewport viewport = fitted();
    CHECK(viewport.zoom() == Approx(0.5));
    CHECK(viewport.frame() == QRectF(10, 110, 200, 100));
    CHECK(viewport.toPicture({10, 110}) == QPointF(0, 0));
    CHECK(viewport.fromPicture({400, 200}) == QPointF(210, 210));
}

TEST_CASE("zooming keeps the place under the pointer, within the limits", "[app][viewport]") {
    Viewport viewport = fitted();
    const QPointF about(60, 130);
    const QPointF kept = viewport.toPicture(about);
    for (const double zoom : {2.0, 100.0, 0.0001}) {
        viewport.setZoom(zoom, about);
        CHECK(viewport.toPicture(about).x() == Approx(kept.x()));
        CHECK(viewport.toPicture(about).y() == Approx(kept.y()));
        CHECK(viewport.zoom() <= 8.0);
        CHECK(viewport.zoom() >= 0.05);
    }
    CHECK_FALSE(viewport.fitted());
}

TEST_CASE("moving follows the hand, and another room keeps the middle", "[app][viewport]") {
    Viewport viewport = fitted();
    const QPointF at = viewport.fromPicture({100, 100});
    viewport.moveBy({7, -5});
    CHECK(viewport.fromPicture({100, 100}) == at + QPointF(7, -5));
    const QPointF middle = viewport.toPicture({110, 160});
    viewport.setRoom({0, 0, 640, 480});
    CHECK(viewport.toPicture({320, 240}) == middle);
    viewport.fit();
    CHECK(viewport.frame().center() == QPointF(320, 240));
}

TEST_CASE("several pictures fit side by side, and another picture is fitted anew",
          "[app][viewport]") {
    Viewport viewport = fitted();
    viewport.fit(2.0);
    CHECK(viewport.zoom() == Approx(0.25));
    viewport.setZoom(3.0, {0, 0});
    viewport.setPicture({400, 200});
    CHECK(viewport.zoom() == Approx(3.0));  // the same size: it stays
    viewport.setPicture({40, 20});
    CHECK(viewport.fitted());
}

TEST_CASE("nothing to show is no harm", "[app][viewport]") {
    Viewport viewport({});
    viewport.setRoom({0, 0, 0, 0});
    viewport.fit();
    CHECK(viewport.frame().isEmpty());
    CHECK(viewport.zoom() > 0.0);
}
