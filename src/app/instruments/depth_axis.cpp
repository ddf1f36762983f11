#include "app/instruments/depth_axis.h"

#include <algorithm>
#include <cmath>

namespace noctis {

qreal DepthAxis::at(float metres) const {
    const float m = std::max(metres, 1e-5F);
    const float place = logarithmic ? std::log(m / nearest) / std::log(farthest / nearest)
                                    : (m - nearest) / (farthest - nearest);
    return left + (right - left) * static_cast<qreal>(place);
}

float DepthAxis::metresAt(qreal x) const {
    const auto place =
        static_cast<float>(std::clamp((x - left) / std::max(right - left, 1.0), 0.0, 1.0));
    return logarithmic ? nearest * std::pow(farthest / nearest, place)
                       : nearest + (farthest - nearest) * place;
}

std::vector<float> DepthAxis::ticks(qreal apart) const {
    std::vector<float> result;
    if (logarithmic) {
        for (float decade = 1e-4F; decade < farthest * 1.001F; decade *= 10.0F)
            for (const float step : {1.0F, 2.0F, 5.0F}) {
                const float metres = decade * step;
                if (metres >= nearest * 0.999F && metres <= farthest * 1.001F &&
                    (result.empty() || at(metres) - at(result.back()) >= apart))
                    result.push_back(metres);
            }
        if (result.size() >= 3)
            return result;
        result.clear();  // a short range: even steps show more than decades
    }
    // Steps of 1, 2 and 5 times a power of ten; on a logarithmic axis, the far end is the densest.
    float step = std::pow(10.0F, std::floor(std::log10(farthest - nearest)) - 1.0F);
    for (int i = 0; std::abs(at(farthest) - at(farthest - step)) < apart && i < 20; ++i)
        step *= i % 3 == 1 ? 2.5F : 2.0F;
    for (float metres = std::ceil(nearest / step) * step; metres <= farthest; metres += step)
        result.push_back(metres);
    return result;
}

}  // namespace noctis
