#include "core/steps/aperture.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace noctis {

namespace {

constexpr int kOutlinePoints = 720;
constexpr int kProfileRows = 4096;
constexpr float kStepsPerPixel = 8.0F;
/// Small radii are stepped more finely, and their rows measured: a slow focus pull must not jump.
constexpr float kFineUpTo = 8.0F;
constexpr float kFineSteps = 32.0F;
constexpr int kFineKernels = static_cast<int>(kFineUpTo * kFineSteps);
constexpr int kSubRows = 4;
constexpr int kFineSubRows = 64;

/// How far a shape of radius 1 reaches left and right at each height from -1 to 1.
struct Profile {
    std::array<float, kProfileRows> left{};
    std::array<float, kProfileRows> right{};
};

double outlineRadius(const ApertureShape& shape, double angle) {
    if (shape.blades < 3)
        return 1.0;
    const double blade = 2.0 * std::numbers::pi / shape.blades;
    const double turned =
        angle - static_cast<double>(shape.rotationDegrees) * std::numbers::pi / 180.0;
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
            const double angle = 2.0 * std::numbers::pi * k / kOutlinePoints;
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
bool stripReach(const Profile& profile, float radius, int dy, int subRows, float& left,
                float& right) {
    float leftSum = 0.0F;
    float rightSum = 0.0F;
    for (int s = 0; s < subRows; ++s) {
        const float y = (static_cast<float>(dy) +
                         (static_cast<float>(s) + 0.5F) / static_cast<float>(subRows) - 0.5F) /
                        radius;
        if (std::abs(y) > 1.0F)
            continue;
        const auto row = static_cast<std::size_t>((y + 1.0F) * 0.5F * (kProfileRows - 1) + 0.5F);
        if (profile.right[row] < profile.left[row])
            continue;
        leftSum += profile.left[row] * radius;
        rightSum += profile.right[row] * radius;
    }
    left = leftSum / static_cast<float>(subRows);
    right = rightSum / static_cast<float>(subRows);
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

/// A shape of that radius over whole pixels. Within half a pixel it is a point.
ApertureKernel sampled(const Profile& profile, float radius, int subRows) {
    ApertureKernel kernel;
    if (radius <= 0.5F) {
        kernel.rows.push_back({0, 0, 0.0F, 0.0F});
        return kernel;
    }
    kernel.reach = static_cast<int>(std::floor(radius + 0.5F));
    float area = 0.0F;
    for (int dy = -kernel.reach; dy <= kernel.reach; ++dy) {
        float left = 0.0F;
        float right = 0.0F;
        ApertureSpan span;
        if (stripReach(profile, radius, dy, subRows, left, right))
            span = spanOf(left, right);
        area += static_cast<float>(span.right - span.left + 1) + span.leftPart + span.rightPart;
        kernel.rows.push_back(span);
    }
    kernel.weight = 1.0F / area;
    return kernel;
}

/// Sums of where something is: how much, and the mean along both axes of its places and of their squares.
struct Moments {
    double weight = 0.0;
    double x = 0.0;
    double y = 0.0;
    double squares = 0.0;

    void add(double atX, double atY, double w) {
        weight += w;
        x += w * atX;
        y += w * atY;
        squares += w * 0.5 * (atX * atX + atY * atY);
    }
    /// Along an axis, the mean of both.
    [[nodiscard]] double variance() const {
        const double mx = x / weight;
        const double my = y / weight;
        return squares / weight - 0.5 * (mx * mx + my * my);
    }
};

double varianceOf(const ApertureKernel& kernel) {
    if (kernel.reach == 0)
        return 0.0;
    Moments moments;
    for (int dy = -kernel.reach; dy <= kernel.reach; ++dy) {
        const ApertureSpan& span = kernel.rows[static_cast<std::size_t>(dy + kernel.reach)];
        for (int x = span.left; x <= span.right; ++x)
            moments.add(x, dy, 1.0);
        moments.add(span.left - 1, dy, static_cast<double>(span.leftPart));
        moments.add(span.right + 1, dy, static_cast<double>(span.rightPart));
    }
    return moments.variance();
}

/// Of the shape of radius 1 itself.
double varianceOf(const Profile& profile) {
    Moments moments;
    for (int row = 0; row < kProfileRows; ++row) {
        const auto at = static_cast<std::size_t>(row);
        const auto left = static_cast<double>(profile.left[at]);
        const auto right = static_cast<double>(profile.right[at]);
        if (!(right > left))
            continue;
        const double y = 2.0 * row / (kProfileRows - 1) - 1.0;
        const double width = right - left;
        const double middle = 0.5 * (left + right);
        moments.add(middle, y, width);
        moments.squares += width * 0.5 * width * width / 12.0;  // along the row itself
    }
    return moments.variance();
}

/// The kernel with the variance of the shape of that radius. A pixel's square adds to that of a sampled shape, which
/// is therefore of a smaller radius, or, of the least ones, a larger one: within half a pixel it has none.
ApertureKernel kernelOf(const Profile& profile, double ofShape, float radius) {
    const double wanted = ofShape * static_cast<double>(radius) * static_cast<double>(radius);
    if (radius >= kFineUpTo)
        return sampled(
            profile,
            std::sqrt(std::max(0.0F, radius * radius - static_cast<float>(1.0 / (12.0 * ofShape)))),
            kSubRows);
    float least = 0.5F;
    float most = radius + 1.0F;
    constexpr int kHalvings = 18;
    for (int i = 0; i < kHalvings; ++i) {
        const float middle = 0.5F * (least + most);
        (varianceOf(sampled(profile, middle, kFineSubRows)) < wanted ? least : most) = middle;
    }
    return sampled(profile, most, kFineSubRows);
}

}  // namespace

ApertureKernels::ApertureKernels(const ApertureShape& shape, float largestRadius) {
    const Profile profile = profileOf(shape);
    const double ofShape = varianceOf(profile);
    m_kernels.push_back(sampled(profile, 0.0F, kFineSubRows));
    const float fine = std::min(largestRadius, kFineUpTo);
    for (int i = 1; static_cast<float>(i) <= fine * kFineSteps + 1.0F && i < kFineKernels; ++i)
        m_kernels.push_back(kernelOf(profile, ofShape, static_cast<float>(i) / kFineSteps));
    for (int i = 0; kFineUpTo + static_cast<float>(i) / kStepsPerPixel <=
                    std::ceil(largestRadius * kStepsPerPixel) / kStepsPerPixel;
         ++i)
        m_kernels.push_back(
            kernelOf(profile, ofShape, kFineUpTo + static_cast<float>(i) / kStepsPerPixel));
}

int ApertureKernels::indexOf(float radius) const noexcept {
    const int index =
        radius < kFineUpTo - 0.5F / kFineSteps
            ? static_cast<int>(radius * kFineSteps + 0.5F)
            : kFineKernels + static_cast<int>((radius - kFineUpTo) * kStepsPerPixel + 0.5F);
    return std::clamp(index, 0, static_cast<int>(m_kernels.size()) - 1);
}

}  // namespace noctis
