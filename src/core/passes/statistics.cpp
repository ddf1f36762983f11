#include "core/passes/statistics.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

template <typename Work> void forEachSample(const Image& image, int channel, const Work& work) {
    for (int y = 0; y < image.height(); ++y) {
        const float* row = image.row(channel, y);
        for (int x = 0; x < image.width(); ++x)
            work(row[x]);
    }
}

}  // namespace

Statistics statisticsOf(const Image& image, int channel) {
    Statistics s;
    float low = kNothingHit;
    float high = -kNothingHit;
    forEachSample(image, channel, [&](float value) {
        if (std::isnan(value)) {
            ++s.notANumber;
        } else if (std::isinf(value)) {
            ++s.infinite;
        } else {
            ++s.counted;
            low = std::min(low, value);
            high = std::max(high, value);
        }
    });
    if (s.counted > 0) {
        s.minimum = low;
        s.maximum = high;
    }
    return s;
}

std::vector<float> percentilesOf(const Image& image, int channel,
                                 std::span<const float> fractions) {
    std::vector<float> values;
    values.reserve(static_cast<std::size_t>(image.width()) *
                   static_cast<std::size_t>(image.height()));
    forEachSample(image, channel, [&](float value) {
        if (std::isfinite(value))
            values.push_back(value);
    });
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
    forEachSample(image, channel, [&](float value) {
        if (!std::isfinite(value) || value < low || value > high || (logarithmic && value <= 0.0F))
            return;
        const int bin = static_cast<int>((scaled(value) - from) * perBin);
        counts[static_cast<std::size_t>(std::clamp(bin, 0, bins - 1))] += 1.0F;
    });
    return counts;
}

}  // namespace noctis
