#include "app/survey/view_overlay.h"

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("tags keep clear of each other and stay in the picture", "[app][survey]") {
    const QRectF picture(100, 50, 400, 200);
    Tags tags(picture);
    std::vector<QRectF> placed;
    for (int i = 0; i < 5; ++i)
        placed.push_back(tags.place(QPointF(300, 150), 80));
    CHECK(placed[0].bottom() == 150.0);  // where it is wanted, as long as that is free
    placed.push_back(tags.place(QPointF(495, 55), 80));
    placed.push_back(tags.place(QPointF(495, 55), 80));
    for (std::size_t i = 0; i < placed.size(); ++i) {
        CHECK(picture.contains(placed[i]));
        for (std::size_t j = 0; j < i; ++j)
            CHECK_FALSE(placed[i].intersects(placed[j]));
    }
    CHECK(tags.place(QPointF(150, 150), 80).bottom() == 150.0);  // others are out of its way
}
