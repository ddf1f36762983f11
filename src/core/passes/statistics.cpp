#include "core/passes/statistics.h"

#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>
#include <iterator>

namespace noctis {

namespace {

constexpr int kRowsOfASum = 64;

/// Calls work(sum, value) for every sample, with a sum of its own for each band of rows; join(sum) gets them one
/// after the other, in order.
template <typename Sum, typename Work, typename Join>
void forEachSample(const Image& image, int channel, const Sum& none, const Work& work,
                   const Join& join) {
    const int bands = (image.height() + kRowsOfASum - 1) / kRowsOfASum;
    std::vector<Sum> sums(static_cast<std::size_t>(bands), none);
    forEachBand(image.height(), kRowsOfASum, {}, [&](int y0, int y1) {
        Sum sum = none;
        for (int y = y0; y < y1; ++y) {
            const float* row = image.row(channel, y);
            for (int x = 0; x < image.width(); ++x)
                work(sum, row[x]);
        }
        sums[static_cast<std::size_t>(y0 / kRowsOfASum)] = std::move(sum);
    });
    for (Sum& sum : sums)
        join(sum);
}

}  // namespace

Statistics statisticsOf(const Image& image, int channel) {
    Statistics all;
    all.minimum = kNothingHit;
    all.maximum = -kNothingHit;
    forEachSample(
        image, channel, all,
        [](Statistics& s, float value) {
            if (std::isnan(value)) {
                ++s.notANumber;
            } else if (std::isinf(value)) {
                ++s.infinite;
            } else {
                ++s.counted;
                s.minimum = std::min(s.minimum, value);
                s.maximum = std::max(s.maximum, value);
            }
        },
        [&](const Statistics& s) {
            all.notANumber += s.notANumber;
            all.infinite += s.infinite;
            all.counted += s.counted;
            all.minimum = std::min(all.minimum, s.minimum);
            all.maximum = std::max(all.maximum, s.maximum);
        });
    if (all.counted == 0)
        all.minimum = all.maximum = 0.0F;
    return all;
}

std::vector<float> percentilesOf(const Image& image, int channel,
                                 std::span<const float> fractions) {
    std::vector<float> values;
    values.reserve(static_cast<std::size_t>(image.width()) *
                   static_cast<std::size_t>(image.height()));
    for (int y = 0; y < image.height(); ++y)
        std::copy_if(image.row(channel, y), image.row(channel, y) + image.width(),
                     std::back_inserter(values), [](float value) { return std::isfinite(value); });
    std::vector<float> result;
    if (values.empty())
        return result;
    for (const float fraction : fractions) {
        const auto last = static_cast<double>(values.size() - 1);
        const auto at =
            static_cast<std::ptrdiff_t>(std::llround(last * std::clamp(fraction, 0.0F, 1.0F)));
        std::nth_element(values.begin(), values.begin() + at, values.end());
        result.push_back(values[static_cast<std::size_t>(at)]);
    }
    return result;
}

std::vector<float> histogramOf(const Image& image, int channel, int bins, float low, float high,
                               bool logarithmic) {
    std::vector<float> counts(static_cast<std::size_t>(bins), 0.0F);
    const auto scaled = [&](float value) { return logarithmic ? std::log(value) : value; };
    const float from = scaled(low);
    const float perBin = static_cast<float>(bins) / std::max(scaled(high) - from, 1e-12F);
    forEachSample(
        image, channel, counts,
        [&](std::vector<float>& sum, float value) {
            if (!std::isfinite(value) || value < low || value > high ||
                (logarithmic && value <= 0.0F))
                return;
            const int bin = static_cast<int>((scaled(value) - from) * perBin);
            sum[static_cast<std::size_t>(std::clamp(bin, 0, bins - 1))] += 1.0F;
        },
        [&](const std::vector<float>& sum) {
            for (std::size_t i = 0; i < counts.size(); ++i)
                counts[i] += sum[i];
        });
    return counts;
}

}  // namespace noctis
