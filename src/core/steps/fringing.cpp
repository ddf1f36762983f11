#include "core/steps/fringing.h"

#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr float kNone = 0.02F;       ///< px of travel that are none
constexpr float kTapsAPixel = 1.5F;  ///< of a colour's smear
constexpr int kLeastTaps = 3;
constexpr int kMostTaps = 48;

/// The part of the spectrum that a channel sees: a tent about its middle that reaches to the middles of its neighbours,
/// so that colours pass into each other. In parts of half the strength.
struct Tap {
    float at;
    float weight;
};

std::vector<Tap> tentOf(int count) {
    std::vector<Tap> taps;
    float sum = 0.0F;
    for (int i = 0; i < count; ++i) {
        const float at = (static_cast<float>(i) + 0.5F) / static_cast<float>(count) * 2.0F - 1.0F;
        taps.push_back({at, 1.0F - std::abs(at)});
        sum += taps.back().weight;
    }
    for (Tap& tap : taps)
        tap.weight /= sum;
    return taps;
}

/// Bilinear; beyond the border its edge goes on.
struct Place {
    std::ptrdiff_t at;
    int right;
    std::ptrdiff_t down;
    float fx;
    float fy;

    Place(float x, float y, int width, int height, std::ptrdiff_t stride) noexcept {
        x = std::clamp(x, 0.0F, static_cast<float>(width - 1));
        y = std::clamp(y, 0.0F, static_cast<float>(height - 1));
        const int column = std::min(static_cast<int>(x), std::max(width - 2, 0));
        const int row = std::min(static_cast<int>(y), std::max(height - 2, 0));
        fx = x - static_cast<float>(column);
        fy = y - static_cast<float>(row);
        at = stride * row + column;
        right = width > 1 ? 1 : 0;
        down = height > 1 ? stride : 0;
    }
    [[nodiscard]] float of(const float* plane) const noexcept {
        const float* p = plane + at;
        const float above = p[0] + fx * (p[right] - p[0]);
        const float below = p[down] + fx * (p[down + right] - p[down]);
        return above + fy * (below - above);
    }
};

}  // namespace

Image fringed(const Image& picture, float strength, const RunContext& run) {
    if (strength == 0.0F)
        return picture;
    Image out = picture;
    const int channels = std::min(out.channels(), 4);
    std::array<float*, 4> to{};
    std::array<const float*, 4> from{};
    for (int c = 0; c < channels; ++c) {
        to.at(static_cast<std::size_t>(c)) = out.editPlane(c);
        from.at(static_cast<std::size_t>(c)) = picture.plane(c);
    }
    std::vector<std::vector<Tap>> tents(kMostTaps + 1);
    for (int i = kLeastTaps; i <= kMostTaps; ++i)
        tents[static_cast<std::size_t>(i)] = tentOf(i);
    const float middleX = 0.5F * static_cast<float>(out.width());
    const float middleY = 0.5F * static_cast<float>(out.height());
    // Half of the strength at a distance of half a diagonal: what red is larger than green, and green than blue.
    const float larger = 0.5F * strength / std::hypot(middleX, middleY);
    const std::ptrdiff_t stride = picture.rowStride();
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < out.width(); ++x) {
                const float dx = (static_cast<float>(x) + 0.5F - middleX) * larger;
                const float dy = (static_cast<float>(y) + 0.5F - middleY) * larger;
                const float travel = std::hypot(dx, dy);
                if (travel < kNone)
                    continue;
                const int count = std::clamp(static_cast<int>(std::ceil(travel * kTapsAPixel)) + 1,
                                             kLeastTaps, kMostTaps);
                const std::ptrdiff_t at = stride * y + x;
                float alpha = 0.0F;
                for (int c = 0; c < 3; ++c) {
                    const float middle = static_cast<float>(1 - c);
                    float sum = 0.0F;
                    float covered = 0.0F;
                    for (const Tap& tap : tents[static_cast<std::size_t>(count)]) {
                        const float along = middle + tap.at;
                        const Place place(static_cast<float>(x) - dx * along,
                                          static_cast<float>(y) - dy * along, out.width(),
                                          out.height(), stride);
                        sum += tap.weight * place.of(from[static_cast<std::size_t>(c)]);
                        if (channels > 3)
                            covered += tap.weight * place.of(from[3]);
                    }
                    to[static_cast<std::size_t>(c)][at] = sum;
                    alpha = std::max(alpha, covered);
                }
                if (channels > 3)
                    to[3][at] = std::min(alpha, 1.0F);
            }
    });
    return out;
}

StepType fringingStep() {
    using S = FringingSettings;
    return StepBuilder<S>("fringing", "Fringing")
        .version(1)
        .phase(Phase::Lens)
        .help(
            "Draws the colours apart towards the corners, as a lens does that bends each a little "
            "differently.")
        .number(
            &S::strength, "strength", "Strength", Unit::Pixel, {-64.0F, 64.0F, 8.0F},
            "How far red and blue are apart in the corners, in pixels of the full picture; below "
            "0 blue is outside.")
        .preset("Slight", {{"strength", 1.0F}})
        .preset("Old lens", {{"strength", 6.0F}})
        .summary([](const S& s) { return formatNumber(s.strength, Unit::Pixel); })
        .area([](const WorkingFrame& frame, const S& s, const RunContext& run) {
            WorkingFrame out = frame;
            out.setPicture(
                fringed(frame.picture(), s.strength * frame.context().pixelScale(), run));
            return out;
        })
        .carries([](const WorkingFrame& frame, const S& s, const CarriedMask& mask,
                    const RunContext& run) {
            return fringed(maskedLight(frame.picture(), mask),
                           s.strength * frame.context().pixelScale(), run);
        })
        .build();
}

}  // namespace noctis
