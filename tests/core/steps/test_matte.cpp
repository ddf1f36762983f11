#include "core/steps/matte.h"

#include "support/files.h"
#include "support/frames.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;
using test::sameBits;

namespace {

constexpr int kSide = 64;
constexpr float kRadius = 20.0F;

float awayFromMiddle(int x, int y) {
    return std::hypot(static_cast<float>(x) - 31.5F, static_cast<float>(y) - 31.5F);
}

/// How much of a pixel a disc covers, to first order.
float discAt(int x, int y, float radius = kRadius) {
    return std::clamp(radius + 0.5F - awayFromMiddle(x, y), 0.0F, 1.0F);
}

/// A red disc before a green wall: composed, and opaque.
PassSet composed() {
    PassSet set;
    set.camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.7F);
    set.put(test::passOf({PassKind::Beauty, {}}, kSide, kSide, [](int x, int y, int c) {
        const float a = discAt(x, y);
        return c == 0 ? 0.8F * a : c == 1 ? 0.6F * (1.0F - a) : 0.0F;
    }));
    set.put(test::passOf({PassKind::Coverage, {}}, kSide, kSide,
                         [](int x, int y, int) { return discAt(x, y); }));
    set.put(test::passOf({PassKind::Depth, {}}, kSide, kSide,
                         [](int x, int y, int) { return discAt(x, y) > 0.5F ? 4.0F : INFINITY; }));
    return set;
}

/// The disc alone, over nothing.
PassSet cutOut() {
    PassSet set = composed();
    Image& picture = set.passes[0].image;
    Image alpha(kSide, kSide, {"A"});
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            picture.editPlane(1)[picture.rowStride() * y + x] = 0.0F;
            alpha.editPlane(0)[alpha.rowStride() * y + x] = discAt(x, y);
        }
    picture.append(alpha);
    return set;
}

Image matted(const PassSet& set, const std::string& settings) {
    return test::finished(set, test::recipeOf(R"({"step":"matte","settings":{)" + settings + "}}"));
}

double coveredArea(const Image& picture) {
    double area = 0.0;
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x)
            area += static_cast<double>(picture(x, y, 3));
    return area;
}

}  // namespace

TEST_CASE("a matte changes nothing at first", "[steps][matte]") {
    for (const PassSet& set : {composed(), cutOut()})
        CHECK(sameBits(matted(set, ""), set.passes[0].image));
}

TEST_CASE("a matte is grown and shrunk by its pixels", "[steps][matte]") {
    for (const float grow : {-6.0F, -2.0F, 3.0F, 8.0F}) {
        INFO(grow);
        const Image out = matted(cutOut(), "\"grow\":" + std::to_string(grow));
        const double radius = std::sqrt(coveredArea(out) / M_PI);
        CHECK(radius == Approx(kRadius + 0.0F + grow).margin(0.7));
        // Colour stays associated; what was clear has the colour of the edge.
        for (int x = 32; x < kSide; ++x) {
            CHECK(out(x, 32, 0) == Approx(0.8F * out(x, 32, 3)).margin(0.02));
            CHECK(out(x, 32, 1) == Approx(0.0F).margin(1e-4));
        }
    }
}

TEST_CASE("levels and softness shape the edge and nothing else", "[steps][matte]") {
    const Image soft = matted(cutOut(), R"("soften":3)");
    CHECK(coveredArea(soft) == Approx(coveredArea(matted(cutOut(), ""))).epsilon(0.02));
    CHECK(soft(31, 31, 3) == Approx(1.0F).margin(1e-3));
    CHECK(soft(31 + 20, 31, 3) == Approx(0.5F).margin(0.1));
    const Image hard = matted(cutOut(), R"("soften":3,"black":0.45,"white":0.55)");
    for (int x = 32; x < kSide; ++x) {
        const float a = soft(x, 31, 3);
        const float wanted = std::clamp((a - 0.45F) / 0.1F, 0.0F, 1.0F);
        CHECK(hard(x, 31, 3) == Approx(wanted).margin(1e-4));
    }
    CHECK(matted(cutOut(), R"("soften":3,"gamma":2)")(31 + 20, 31, 3) > soft(31 + 20, 31, 3));
    // Black at white is a threshold.
    CHECK(std::isfinite(matted(cutOut(), R"("soften":3,"black":0.5,"white":0.5)")(50, 31, 3)));
}

TEST_CASE("an opaque picture is cut out by its coverage, and its fringe takes the inside's colour",
          "[steps][matte]") {
    const Image own = matted(composed(), R"("source":"coverage")");
    const Image clean = matted(composed(), R"("source":"coverage","fringe":1)");
    const PassSet truth = cutOut();
    REQUIRE(own.channels() == 4);
    float ownGreen = 0.0F;
    float worst = 0.0F;
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            CHECK(own(x, y, 3) == discAt(x, y));
            ownGreen = std::max(ownGreen, own(x, y, 1));
            for (int c = 0; c < 4; ++c)
                worst = std::max(worst, std::abs(clean(x, y, c) - truth.passes[0].image(x, y, c)));
        }
    CHECK(ownGreen > 0.1F);  // the wall shows at the edge
    CHECK(worst < 1e-4F);
    // Without a coverage pass, wherever something is hit.
    PassSet bare = composed();
    std::erase_if(bare.passes, [](const Pass& pass) { return pass.kind == PassKind::Coverage; });
    CHECK(matted(bare, R"("source":"coverage")")(2, 2, 3) == 0.0F);
    CHECK(matted(bare, R"("source":"coverage")")(31, 31, 3) == 1.0F);
}

TEST_CASE("light without a surface stays, and a matte of nothing has no inside", "[steps][matte]") {
    PassSet set = cutOut();
    Image& picture = set.passes[0].image;
    picture.editPlane(2)[picture.rowStride() * 3 + 3] = 5.0F;  // a glow where nothing covers
    CHECK(matted(set, R"("grow":2)")(3, 3, 2) == 5.0F);
    PassSet clear = cutOut();
    for (int c = 0; c < 4; ++c)
        std::fill_n(clear.passes[0].image.editPlane(c), clear.passes[0].image.rowStride() * kSide,
                    0.0F);
    const Image out = matted(clear, R"("grow":5,"fringe":1)");
    CHECK(coveredArea(out) == 0.0);
    CHECK(out(10, 10, 0) == 0.0F);
}

TEST_CASE("a matte at a part of its amount is as much of it, from an opaque picture too",
          "[steps][matte]") {
    const PassSet set = composed();
    const Image half = test::finished(
        set, test::recipeOf(R"({"step":"matte","amount":0.5,"settings":{"source":"coverage"}})"));
    CHECK(half(2, 2, 3) == Approx(0.5F));
    CHECK(half(2, 2, 1) == Approx(0.3F));
    CHECK(half(31, 31, 3) == Approx(1.0F));
}
