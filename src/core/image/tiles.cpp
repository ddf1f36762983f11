#include "core/image/tiles.h"

#include <algorithm>
#include <atomic>
#include <memory>

#include <oneapi/tbb/global_control.h>
#include <oneapi/tbb/parallel_for.h>

namespace noctis {

std::vector<Tile> tilesOf(int width, int height, int tileWidth, int tileHeight) {
    std::vector<Tile> tiles;
    for (int y = 0; y < height; y += tileHeight)
        for (int x = 0; x < width; x += tileWidth)
            tiles.push_back(
                {x, y, std::min(x + tileWidth, width), std::min(y + tileHeight, height)});
    return tiles;
}

void forEachTile(const std::vector<Tile>& tiles, const RunContext& run,
                 const std::function<void(const Tile&)>& work) {
    std::atomic<std::size_t> done = 0;
    SharedProgress progress(run);
    tbb::parallel_for(std::size_t{0}, tiles.size(), [&](std::size_t i) {
        if (run.stopped())
            return;
        work(tiles[i]);
        const std::size_t count = ++done;
        progress.reach(static_cast<float>(count) / static_cast<float>(tiles.size()));
    });
}

void forEachBand(int height, int bandHeight, const RunContext& run,
                 const std::function<void(int, int)>& work) {
    forEachTile(tilesOf(1, height, 1, bandHeight), run,
                [&](const Tile& band) { work(band.y0, band.y1); });
}

struct ThreadLimit::Control {
    tbb::global_control control;
};

ThreadLimit::ThreadLimit(int threads) {
    if (threads > 0)
        m_control = new Control{
            {tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(threads)}};
}

ThreadLimit::~ThreadLimit() { delete m_control; }

}  // namespace noctis
