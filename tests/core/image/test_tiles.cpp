#include "core/image/tiles.h"

#include <atomic>
#include <stdexcept>
#include <stop_token>

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("tiles cover every pixel once, row by row", "[image][tiles]") {
    for (const auto& [width, height] : {std::pair(64, 64), std::pair(65, 33), std::pair(1, 1)}) {
        const std::vector<Tile> tiles = tilesOf(width, height, 32, 16);
        std::vector<int> hits(static_cast<std::size_t>(width * height), 0);
        for (const Tile& tile : tiles) {
            CHECK(tile.width() >= 1);
            CHECK(tile.width() <= 32);
            CHECK(tile.height() <= 16);
            for (int y = tile.y0; y < tile.y1; ++y)
                for (int x = tile.x0; x < tile.x1; ++x)
                    ++hits[static_cast<std::size_t>(y * width + x)];
        }
        CHECK(std::all_of(hits.begin(), hits.end(), [](int n) { return n == 1; }));
        CHECK(tiles.front() == Tile{0, 0, std::min(width, 32), std::min(height, 16)});
    }
}

TEST_CASE("work is done once for each tile and band, on any number of threads", "[image][tiles]") {
    for (const int threads : {1, 2, 7}) {
        const ThreadLimit limit(threads);
        std::atomic<int> pixels = 0;
        forEachTile(tilesOf(200, 100, 32, 32), {},
                    [&](const Tile& tile) { pixels += tile.width() * tile.height(); });
        CHECK(pixels == 200 * 100);
        std::atomic<int> rows = 0;
        forEachBand(101, 8, {}, [&](int y0, int y1) { rows += y1 - y0; });
        CHECK(rows == 101);
    }
}

TEST_CASE("a stop leaves out what was not begun", "[image][tiles]") {
    std::stop_source source;
    std::atomic<int> done = 0;
    const ThreadLimit limit(1);
    forEachTile(tilesOf(320, 320, 32, 32), {.stop = source.get_token(), .progress = {}},
                [&](const Tile&) {
                    if (++done == 5)
                        source.request_stop();
                });
    CHECK(done >= 5);
    CHECK(done < 100);
    int rows = 0;
    forEachBand(64, 8, {.stop = source.get_token(), .progress = {}},
                [&](int y0, int y1) { rows += y1 - y0; });
    CHECK(rows == 0);
}

TEST_CASE("progress is reported by one thread at a time, and only grows", "[image][tiles]") {
    const ThreadLimit limit(8);
    for (int round = 0; round < 20; ++round) {
        std::vector<float> reports;  // which no lock guards
        std::atomic<int> inside = 0;
        int most = 0;
        forEachTile(tilesOf(320, 320, 8, 8),
                    {.stop = {},
                     .progress =
                         [&](float done) {
                             most = std::max(most, ++inside);
                             reports.push_back(done);
                             --inside;
                         }},
                    [](const Tile&) {});
        CHECK(most == 1);
        REQUIRE_FALSE(reports.empty());
        CHECK(std::is_sorted(reports.begin(), reports.end()));
        CHECK(reports.back() == 1.0F);
    }
}

TEST_CASE("what a tile throws reaches the caller", "[image][tiles]") {
    CHECK_THROWS_WITH(forEachTile(tilesOf(64, 64, 8, 8), {},
                                  [](const Tile& tile) {
                                      if (tile.x0 == 32)
                                          throw std::runtime_error("no room");
                                  }),
                      "no room");
}
