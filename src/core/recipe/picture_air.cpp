#include "core/recipe/picture_air.h"

#include "core/passes/picture_pass.h"
#include "core/passes/statistics.h"
#include "core/recipe/surroundings.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

/// Pixels the colour is taken from; more make no better median.
constexpr std::ptrdiff_t kMostLookedAt = 40000;

/// The middle of each channel beyond a distance: a moon or lamp there does not count for more than its size.
std::optional<LinearRgb> colourBeyond(const Image& colour, const Image& distance, float metres) {
    std::array<std::vector<float>, 3> found;
    const std::ptrdiff_t pixels =
        static_cast<std::ptrdiff_t>(colour.width()) * static_cast<std::ptrdiff_t>(colour.height());
    const std::ptrdiff_t step = std::max<std::ptrdiff_t>(1, pixels / kMostLookedAt);
    for (std::ptrdiff_t i = 0; i < pixels; i += step) {
        const int x = static_cast<int>(i % colour.width());
        const int y = static_cast<int>(i / colour.width());
        if (!(distance(x, y, 0) >= metres))
            continue;
        for (int c = 0; c < 3; ++c)
            if (const float value = colour(x, y, c); std::isfinite(value))
                found[static_cast<std::size_t>(c)].push_back(value);
    }
    std::array<float, 3> middle{};
    for (std::size_t c = 0; c < 3; ++c) {
        if (found[c].empty())
            return std::nullopt;
        const auto half = found[c].begin() + static_cast<std::ptrdiff_t>(found[c].size() / 2);
        std::nth_element(found[c].begin(), half, found[c].end());
        middle[c] = std::max(*half, 0.0F);
    }
    return LinearRgb{middle[0], middle[1], middle[2]};
}

}  // namespace

std::optional<PictureAir> pictureAir(const PassSet& passes) {
    const std::optional<Pass> distance = tryResolvePass(passes, PassKind::Distance);
    if (!distance)
        return std::nullopt;
    const std::array<float, 4> parts{0.1F, 0.5F, 0.8F, 0.95F};
    const std::vector<float> at = percentilesOf(distance->image, 0, parts);
    if (at.empty() || !(at[0] > 0.0F) || !(at[3] > at[0]))
        return std::nullopt;
    PictureAir air;
    air.front = roundDigits(at[0]);
    air.middle = roundDigits(at[1]);
    air.back = roundDigits(at[3]);
    const Pass* picture = picturePass(passes);
    if (picture != nullptr && picture->image.channels() >= 3)
        air.colour = colourBeyond(picture->image, distance->image, at[2]);
    return air;
}

}  // namespace noctis
