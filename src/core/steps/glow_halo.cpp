#include "core/steps/glow_halo.h"

#include "core/image/plane_matrix.h"
#include "core/image/pyramid_blur.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace noctis {

namespace {

/// Gaussians of the halo, as parts of the middle one's deviation; each has the same light.
constexpr std::array<float, 5> kWidths{0.25F, 0.5F, 1.0F, 2.0F, 4.0F};
/// The radius within which half of their sum's light stays, as a part of the middle one's deviation.
float halfLightRadius() {
    const auto within = [](float radius) {
        float sum = 0.0F;
        for (const float width : kWidths)
            sum += 1.0F - std::exp(-0.5F * (radius / width) * (radius / width));
        return sum / static_cast<float>(kWidths.size());
    };
    float low = 0.1F;
    float high = 10.0F;
    for (int i = 0; i < 40; ++i) {
        const float middle = 0.5F * (low + high);
        (within(middle) < 0.5F ? low : high) = middle;
    }
    return high;
}

/// A ray by how far it goes aside on each row down or up.
struct Ray {
    float slope = 0.0F;
    bool up = false;
    float step = 1.0F;  ///< px along it from row to row
};

/// Adds a plane's light drawn out along a ray.
void addRay(const cv::Mat& light, const Ray& ray, float radius, float share, cv::Mat& sum) {
    const int width = light.cols;
    const int height = light.rows;
    const float keeps = radius > 0.0F ? std::exp2(-ray.step / radius) : 0.0F;
    const float takes = 1.0F - keeps;
    const int aside = static_cast<int>(std::ceil(std::abs(ray.slope) * static_cast<float>(height)));
    // What is on its way, by where its line met the first row.
    std::vector<float> going(static_cast<std::size_t>(width + 2 * aside + 4), 0.0F);
    std::vector<float> row(static_cast<std::size_t>(width) + 2, 0.0F);
    for (int i = 0; i < height; ++i) {
        const int y = ray.up ? height - 1 - i : i;
        const float shift = ray.slope * static_cast<float>(i);
        const auto whole = static_cast<int>(std::floor(shift));
        const float part = shift - static_cast<float>(whole);
        std::copy_n(light.ptr<float>(y), width, row.begin() + 1);
        // going[x - whole] stands for x + part - shift's whole lines: between this pixel and the next.
        float* lines = going.data() + aside + 2 - whole;
        for (int x = -1; x < width; ++x) {
            const float here = row[static_cast<std::size_t>(x + 1)];
            const float next = row[static_cast<std::size_t>(std::min(x + 2, width + 1))];
            lines[x] = keeps * lines[x] + takes * (here + part * (next - here));
        }
        float* to = sum.ptr<float>(y);
        for (int x = 0; x < width; ++x)
            to[x] += share * (lines[x] + part * (lines[x - 1] - lines[x]));
    }
}

}  // namespace

Image roundHalo(const Image& light, float radius, const RunContext& run) {
    static const float half = halfLightRadius();
    std::vector<GaussianPart> parts;
    for (const float width : kWidths)
        parts.push_back({width * radius / half, 1.0F / static_cast<float>(kWidths.size())});
    return pyramidBlur(light, parts, run);
}

Image streakHalo(const Image& light, float radius, int rays, float angle, const RunContext& run) {
    constexpr float kTurn = 6.283185307F;
    std::array<std::vector<Ray>, 2> groups;  // by rows, and by columns
    for (int i = 0; i < rays; ++i) {
        const float turned =
            kTurn * (angle / 360.0F + static_cast<float>(i) / static_cast<float>(rays));
        const float right = std::cos(turned);
        const float down = -std::sin(turned);
        if (std::abs(down) >= std::abs(right))
            groups[0].push_back({right / std::abs(down), down < 0.0F, 1.0F / std::abs(down)});
        else
            groups[1].push_back({down / std::abs(right), right < 0.0F, 1.0F / std::abs(right)});
    }
    std::array<std::array<cv::Mat, 3>, 2> sums;
    forEachBand(6, 1, run, [&](int job, int) {
        const auto group = static_cast<std::size_t>(job / 3);
        const int channel = job % 3;
        if (groups.at(group).empty())
            return;
        cv::Mat from = readMatrixOf(light, channel);
        if (group == 1)
            from = from.t();
        cv::Mat sum = cv::Mat::zeros(from.size(), CV_32F);
        for (const Ray& ray : groups.at(group))
            if (!run.stopped())
                addRay(from, ray, radius, 1.0F / static_cast<float>(rays), sum);
        sums.at(group).at(static_cast<std::size_t>(channel)) = group == 1 ? cv::Mat(sum.t()) : sum;
    });
    Image out(light.width(), light.height(), {"R", "G", "B"});
    for (int c = 0; c < 3 && !run.stopped(); ++c) {
        cv::Mat to = matrixOf(out, out.editPlane(c));
        for (const auto& group : sums)
            if (const cv::Mat& sum = group.at(static_cast<std::size_t>(c)); !sum.empty())
                to += sum;
    }
    return out;
}

}  // namespace noctis
