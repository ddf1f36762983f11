#include "core/steps/aperture.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

constexpr int kOutlinePoints = 720;
constexpr int kProfileRows = 4096;
constexpr int kSubRows = 4;
constexpr float kStepsPerPixel = 8.0F;
constexpr double kPi = 3.14159265358979323846;

/// How far a shape of radius 1 reaches left and right at each height from -1 to 1.
struct Profile {
    std::array<float, kProfileRows> left{};
    std::array<float, kProfileRows> right{};
};

double outlineRadius(const ApertureShape& shape, double angle) {
    if (shape.blades < 3)
        return 1.0;
    const double blade = 2.0 * kPi / shape.blades;
    const double turned = angle - static_cast<double>(shape.rotationDegrees) * kPi / 180.0;
    const double within = turned - std::floor(turned / blade) * blade - 0.5 * blade;
    const double straight = std::cos(0.5 * blade) / std::cos(within);
    const double roundness = static_cast<double>(shape.roundness);
    return straight + (1.0 - straight) * roundness;
}

Profile profileOf(const ApertureShape& shape) {
    Profile profile;
    profile.left.fill(1e9F);
    profile.right.fill(-1e9F);
    const auto rowOf = [](double y) { return (y + 1.0) * 0.5 * (kProfileRows - 1); };
    for (int i = 0; i < kOutlinePoints; ++i) {
        const auto corner = [&](int k) {
            const double angle = 2.0 * kPi * k / kOutlinePoints;
            const double r = outlineRadius(shape, angle);
            return std::array<double, 2>{r * std::cos(angle), r * std::sin(angle)};
        };
        const auto a = corner(i);
        const auto b = corner(i + 1);
        const int first = std::max(0, static_cast<int>(std::ceil(rowOf(std::min(a[1], b[1])))));
        const int last =
            std::min(kProfileRows - 1, static_cast<int>(std::floor(rowOf(std::max(a[1], b[1])))));
        for (int row = first; row <= last; ++row) {
            const double y = 2.0 * row / (kProfileRows - 1) - 1.0;
            const double t = std::abs(b[1] - a[1]) < 1e-12 ? 0.0 : (y - a[1]) / (b[1] - a[1]);
            const auto x = static_cast<float>(a[0] + (b[0] - a[0]) * t);
            const auto at = static_cast<std::size_t>(row);
            profile.left[at] = std::min(profile.left[at], x);
            profile.right[at] = std::max(profile.right[at], x);
        }
    }
    return profile;
}

/// The mean reach of the strip of one pixel row, times how much of its height the shape fills.
bool stripReach(const Profile& profile, float radius, int dy, float& left, float& right) {
    float leftSum = 0.0F;
    float rightSum = 0.0F;
    for (int s = 0; s < kSubRows; ++s) {
        const float y = (static_cast<float>(dy) +
                         (static_cast<float>(s) + 0.5F) / static_cast<float>(kSubRows) - 0.5F) /
                        radius;
        if (std::abs(y) > 1.0F)
            continue;
        const auto row = static_cast<std::size_t>((y + 1.0F) * 0.5F * (kProfileRows - 1) + 0.5F);
        if (profile.right[row] < profile.left[row])
            continue;
        leftSum += profile.left[row] * radius;
        rightSum += profile.right[row] * radius;
    }
    left = leftSum / static_cast<float>(kSubRows);
    right = rightSum / static_cast<float>(kSubRows);
    return right > left;
}

ApertureSpan spanOf(float left, float right) {
    // Pixel i reaches from i - 0.5 to i + 0.5.
    ApertureSpan span;
    span.left = static_cast<std::int16_t>(std::ceil(left + 0.5F));
    span.right = static_cast<std::int16_t>(std::floor(right - 0.5F));
    if (span.right < span.left - 1) {  // within one pixel
        span.right = static_cast<std::int16_t>(span.left - 1);
        span.leftPart = right - left;
        return span;
    }
    span.leftPart = static_cast<float>(span.left) - 0.5F - left;
    span.rightPart = right - 0.5F - static_cast<float>(span.right);
    return span;
}

ApertureKernel kernelOf(const Profile& profile, float radius) {
    ApertureKernel kernel;
    if (radius < 0.5F) {
        kernel.rows.push_back({0, 0, 0.0F, 0.0F});
        return kernel;
    }
    kernel.reach = static_cast<int>(std::floor(radius + 0.5F));
    float area = 0.0F;
    for (int dy = -kernel.reach; dy <= kernel.reach; ++dy) {
        float left = 0.0F;
        float right = 0.0F;
        ApertureSpan span;
        if (stripReach(profile, radius, dy, left, right))
            span = spanOf(left, right);
        area += static_cast<float>(span.right - span.left + 1) + span.leftPart + span.rightPart;
        kernel.rows.push_back(span);
    }
    kernel.weight = 1.0F / area;
    return kernel;
}

}  // namespace

ApertureKernels::ApertureKernels(const ApertureShape& shape, float largestRadius) {
    const Profile profile = profileOf(shape);
    const int last = static_cast<int>(std::ceil(largestRadius * kStepsPerPixel));
    for (int i = 0; i <= last; ++i)
        m_kernels.push_back(kernelOf(profile, static_cast<float>(i) / kStepsPerPixel));
}

int ApertureKernels::indexOf(float radius) const noexcept {
    const int index = static_cast<int>(radius * kStepsPerPixel + 0.5F);
    return std::clamp(index, 0, static_cast<int>(m_kernels.size()) - 1);
}

}  // namespace noctis
