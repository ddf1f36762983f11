#include "core/passes/difference.h"

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

PassSet frame(int width, float far, std::initializer_list<PassKind> kinds) {
    PassSet set;
    for (const PassKind kind : kinds) {
        Pass pass;
        pass.kind = kind;
        pass.name = passKindInfo(kind).id;
        pass.image = Image(width, 4, passKindInfo(kind).channels, 1.0F);
        pass.image.editPlane(0)[0] = far;
        set.put(std::move(pass));
    }
    return set;
}

}  // namespace

TEST_CASE("what a new render has otherwise is said", "[passes]") {
    const PassSet before = frame(8, 50.0F, {PassKind::Beauty, PassKind::Depth});
    CHECK(differencesOf(before, before).empty());
    const auto differ =
        differencesOf(before, frame(16, 90.0F, {PassKind::Depth, PassKind::Normal}));
    std::string all;
    for (const std::string& each : differ)
        all += each + "\n";
    INFO(all);
    CHECK(all.find("16 x 4") != std::string::npos);
    CHECK(all.find("Gone: beauty") != std::string::npos);
    CHECK(all.find("New: normal") != std::string::npos);
    CHECK(all.find("depth runs from 1 to 90 m; it ran from 1 to 50 m") != std::string::npos);
}
