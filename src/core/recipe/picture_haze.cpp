#include "core/recipe/picture_haze.h"

#include "core/passes/picture_pass.h"
#include "core/recipe/picture_air.h"
#include "core/recipe/surroundings.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace noctis {

namespace {

constexpr std::size_t kBins = 24;
constexpr std::size_t kFewest = 40;   ///< pixels of a bin that says something
constexpr float kDark = 0.03F;        ///< the part of a bin that is taken for its darkest
constexpr float kLeastLeft = 0.04F;   ///< farther things are all haze
constexpr float kLatestStart = 0.5F;  ///< as a part of the farthest distance

/// Distances in bins of equal ratio, and the share of haze in their darkest pixels.
struct Bin {
    double metres = 0.0;
    double depth = 0.0;  ///< optical
    double weight = 0.0;
};

}  // namespace

std::optional<PictureHaze> pictureHaze(const PassSet& passes) {
    const std::optional<PictureAir> air = pictureAir(passes);
    const std::optional<Pass> distance = tryResolvePass(passes, PassKind::Distance);
    const Pass* picture = picturePass(passes);
    if (!air || !air->colour || !distance || picture == nullptr)
        return std::nullopt;
    const LinearRgb& colour = *air->colour;
    const std::array<float, 3> full{colour.r, colour.g, colour.b};
    if (!(*std::ranges::max_element(full) > 1e-5F))
        return std::nullopt;
    const float first = std::max(air->front * 0.5F, 1e-3F);
    const float ratio = std::log(air->back * 1.5F / first);
    std::array<std::vector<float>, kBins> shares;
    std::array<double, kBins> metres{};
    for (int y = 0; y < distance->image.height(); ++y)
        for (int x = 0; x < distance->image.width(); ++x) {
            const float d = distance->image(x, y, 0);
            if (!(d > first) || !std::isfinite(d))
                continue;
            const auto bin = static_cast<std::size_t>(std::log(d / first) / ratio * kBins);
            if (bin >= kBins)
                continue;
            float share = 1.0F;  // of the channel that has the least of the haze's colour
            for (std::size_t c = 0; c < 3; ++c)
                if (full.at(c) > 0.1F * *std::ranges::max_element(full))
                    share = std::min(share, picture->image(x, y, static_cast<int>(c)) / full.at(c));
            shares.at(bin).push_back(share);
            metres.at(bin) += static_cast<double>(d);
        }
    std::vector<Bin> bins;
    for (std::size_t i = 0; i < kBins; ++i) {
        std::vector<float>& all = shares.at(i);
        if (all.size() < kFewest)
            continue;
        const auto dark =
            all.begin() + static_cast<std::ptrdiff_t>(kDark * static_cast<float>(all.size()));
        std::nth_element(all.begin(), dark, all.end());
        const float left = 1.0F - *dark;
        if (left > kLeastLeft && left < 1.0F)
            bins.push_back(
                {metres.at(i) / static_cast<double>(all.size()),
                 -std::log(static_cast<double>(left)),
                 std::sqrt(static_cast<double>(all.size())) * static_cast<double>(left)});
    }
    // The straight line of optical depth over distance.
    double w = 0.0;
    double x = 0.0;
    double y = 0.0;
    double xx = 0.0;
    double xy = 0.0;
    for (const Bin& bin : bins) {
        w += bin.weight;
        x += bin.weight * bin.metres;
        y += bin.weight * bin.depth;
        xx += bin.weight * bin.metres * bin.metres;
        xy += bin.weight * bin.metres * bin.depth;
    }
    const double spread = w * xx - x * x;
    if (bins.size() < 3 || !(spread > 0.0))
        return std::nullopt;
    const double density = (w * xy - x * y) / spread;
    if (!(density > 1e-7))
        return std::nullopt;
    const double level = (y - density * x) / w;
    const double start =
        std::clamp(-level / density, 0.0, static_cast<double>(kLatestStart * air->back));
    return PictureHaze{roundDigits(static_cast<float>(density)),
                       roundDigits(static_cast<float>(start)), colour};
}

}  // namespace noctis
