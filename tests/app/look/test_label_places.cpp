#include "app/look/label_places.h"

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("a label goes to the first place that is free and lies in the room", "[app][look]") {
    LabelPlaces places(QRectF(0, 0, 100, 40));
    places.take(QRectF(10, 10, 9, 9));
    const QRectF onHandle(12, 8, 30, 11);
    const QRectF outside(-5, 20, 30, 11);
    const QRectF clear(20, 8, 30, 11);
    CHECK(places.place({onHandle, outside, clear}) == clear);
    CHECK(places.place({clear, QRectF(50, 8, 30, 11)}) == QRectF(50, 8, 30, 11));  // beside it
    CHECK(places.place({onHandle, outside}) == onHandle);  // all are taken: where it is wanted
}
