#include "core/image/psnr.h"
#include "core/passes/pass_file.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/painted_yard.h"
#include "support/render.h"

#include <array>
#include <cmath>
#include <string>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr int kViewWidth = 240;
constexpr int kViewHeight = 135;

/// The wall's own picture, from straight before it.
Image portrait() {
    View straight;
    straight.name = "straight";
    straight.camera =
        lookingAt(V3f(0, test::kBoardLow + test::kBoardHigh / 2, 0),
                  V3f(0, test::kBoardLow + test::kBoardHigh / 2, test::kBoardAt), 0.7F);
    straight.camera.orthographicHeight = test::kBoardHigh;
    const PassSet set = test::rendered(test::paintedYard(false, true), straight, {"beauty"},
                                       {.width = static_cast<int>(6 * 2 * test::kBoardHalfWide),
                                        .height = static_cast<int>(6 * test::kBoardHigh),
                                        .settings = {"beauty.samples=16", "beauty.bounces=1"}});
    return test::imageOf(set, "beauty").select({0, 1, 2}, {"R", "G", "B"});
}

/// The part of a picture whose pixels are edges, or are far from them, beside that of another; dB.
double decibels(const Image& a, const Image& b, const Image& edges, bool atEdges) {
    Image one = a.select({0, 1, 2});
    Image other = b.select({0, 1, 2});
    int count = 0;
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < a.height(); ++y)
            for (int x = 0; x < a.width(); ++x)
                if ((edges(x, y, 0) > 0.0F) != atEdges)
                    one.editPlane(c)[one.rowStride() * y + x] = other(x, y, c);
                else
                    ++count;
    // What isn't looked at must not make it better.
    const double all = 3.0 * a.width() * a.height();
    return psnrOf(one, other) + 10.0 * std::log10(static_cast<double>(count) / all);
}

}  // namespace

TEST_CASE("a backdrop is as if the scene had been rendered before that board",
          "[steps][backdrop]") {
    const View view = test::looking({0.4F, 0.3F, 7.0F}, {0.0F, 0.2F, 0.0F}, 0.6F);
    const test::Rendering how{.width = kViewWidth,
                              .height = kViewHeight,
                              .settings = {"beauty.samples=128", "beauty.bounces=1"}};
    const Image truth = test::imageOf(
        test::rendered(test::paintedYard(true, true), view, {"beauty"}, how), "beauty");
    const PassSet things =
        test::rendered(test::paintedYard(true, false), view, {"beauty", "depth", "coverage"}, how);
    const test::Folder folder;
    PassSet board;
    Pass pass;
    pass.name = "beauty";
    pass.kind = PassKind::Beauty;
    pass.image = portrait();
    board.put(pass);
    writePasses(folder / "board.exr", board);
    std::string corners;
    for (const std::array<float, 2>& at :
         {std::array{-test::kBoardHalfWide, test::kBoardLow + test::kBoardHigh},
          std::array{test::kBoardHalfWide, test::kBoardLow + test::kBoardHigh},
          std::array{test::kBoardHalfWide, test::kBoardLow},
          std::array{-test::kBoardHalfWide, test::kBoardLow}}) {
        const V3f place =
            project(view.camera, {at[0], at[1], test::kBoardAt}, kViewWidth, kViewHeight);
        corners += (corners.empty() ? "[" : ",[") + std::to_string(place.x) + "," +
                   std::to_string(place.y) + "]";
    }
    const Image ours =
        test::finished(things, test::recipeOf(R"({"step":"backdrop","settings":{"picture":")" +
                                              (folder / "board.exr").string() + R"(","corners":[)" +
                                              corners + "]}}"));
    // A pixel that something covers in part, and those beside it.
    const Image& coverage = test::imageOf(things, "coverage");
    Image edges(kViewWidth, kViewHeight, {"Y"});
    for (int y = 1; y + 1 < kViewHeight; ++y)
        for (int x = 1; x + 1 < kViewWidth; ++x)
            for (int j = -1; j <= 1; ++j)
                for (int i = -1; i <= 1; ++i) {
                    const float covered = coverage(x + i, y + j, 0);
                    if (covered > 0.0F && covered < 1.0F)
                        edges.editPlane(0)[edges.rowStride() * y + x] = 1.0F;
                }
    const double away = decibels(ours, truth, edges, false);
    const double at = decibels(ours, truth, edges, true);
    CAPTURE(away, at);
    CHECK(away > 40.0);
    CHECK(at > 30.0);
}
