#pragma once

#include "core/image/run_context.h"

#include <functional>
#include <vector>

namespace noctis {

/// A rectangle of pixels: x0 <= x < x1, y0 <= y < y1.
struct Tile {
    int x0 = 0;
    int y0 = 0;
    int x1 = 0;
    int y1 = 0;

    [[nodiscard]] int width() const noexcept { return x1 - x0; }
    [[nodiscard]] int height() const noexcept { return y1 - y0; }
    bool operator==(const Tile&) const = default;
};

/// The tiles that cover a picture, row by row; those at the right and bottom edge may be smaller.
std::vector<Tile> tilesOf(int width, int height, int tileWidth, int tileHeight);

/// Calls work for each tile on all cores. Which tile runs on which core is not fixed, so work must
/// not depend on it. Tiles not yet begun are left out once run.stop is requested.
/// Errors   what work throws reaches the caller.
void forEachTile(const std::vector<Tile>& tiles, const RunContext& run,
                 const std::function<void(const Tile&)>& work);

/// Rows of a band: enough to keep a core busy, few enough to share out.
inline constexpr int kBandHeight = 16;

/// Calls work(y0, y1) for bands of rows on all cores, under the same terms.
void forEachBand(int height, int bandHeight, const RunContext& run,
                 const std::function<void(int, int)>& work);

/// Limits how many cores the two above use while it lives. 0: all.
class ThreadLimit {
public:
    explicit ThreadLimit(int threads);
    ~ThreadLimit();
    ThreadLimit(const ThreadLimit&) = delete;
    ThreadLimit& operator=(const ThreadLimit&) = delete;

private:
    struct Control;
    Control* m_control = nullptr;
};

}  // namespace noctis
