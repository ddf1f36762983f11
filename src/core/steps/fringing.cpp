#include "core/steps/fringing.h"

#include "core/image/tiles.h"
#include "core/steps/shifted_run.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include <fmt/format.h>

namespace noctis {

namespace {

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

/// One plane that is scaled about the picture's middle.
class Scaled {
public:
    Scaled(const Image& picture, int channel)
        : m_plane(picture.plane(channel)), m_width(picture.width()), m_height(picture.height()),
          m_stride(picture.rowStride()), m_middleX(0.5F * static_cast<float>(m_width)),
          m_middleY(0.5F * static_cast<float>(m_height)) {}

    /// Adds a row of it to a sum. smaller: by how much of the distance from the middle its places are nearer to it.
    /// Bilinear; beyond the border its edge goes on.
    void addRow(int y, float smaller, float weight, float* sum) const noexcept {
        const float down =
            std::clamp(static_cast<float>(y) - (static_cast<float>(y) + 0.5F - m_middleY) * smaller,
                       0.0F, static_cast<float>(m_height - 1));
        const int row = std::min(static_cast<int>(down), std::max(m_height - 2, 0));
        const float* above = m_plane + m_stride * row;
        const float* below = m_height > 1 ? above + m_stride : above;
        const float part = down - static_cast<float>(row);
        // Along the row, the place moves on by nearly a pixel each: between two changes of the whole pixels between the
        // two, samples are neighbours.
        int x = 0;
        while (x < m_width) {
            const float shift = shiftAt(x, smaller);
            const float whole = std::floor(shift);
            const int end = endOf(x, whole, smaller);
            const int offset = static_cast<int>(whole);
            const int inside = std::clamp(-offset, x, end);
            const int outside = std::clamp(m_width - 1 - offset, inside, end);
            for (int i = x; i < inside; ++i)
                sum[i] += weight * (above[0] + part * (below[0] - above[0]));
            addShiftedRun({above + offset + inside, below + offset + inside,
                           shiftAt(inside, smaller) - whole, -smaller, part, weight},
                          sum + inside, outside - inside);
            for (int i = outside; i < end; ++i)
                sum[i] += weight *
                          (above[m_width - 1] + part * (below[m_width - 1] - above[m_width - 1]));
            x = end;
        }
    }

private:
    [[nodiscard]] float shiftAt(int x, float smaller) const noexcept {
        return -(static_cast<float>(x) + 0.5F - m_middleX) * smaller;
    }
    /// The first pixel from x on whose shift has other whole pixels.
    [[nodiscard]] int endOf(int x, float whole, float smaller) const noexcept {
        if (smaller == 0.0F)
            return m_width;
        const float limit = smaller > 0.0F ? whole : whole + 1.0F;
        const float guess = m_middleX - 0.5F - limit / smaller;
        int end = static_cast<int>(
            std::clamp(guess, static_cast<float>(x + 1), static_cast<float>(m_width)));
        while (end > x + 1 && std::floor(shiftAt(end - 1, smaller)) != whole)
            --end;
        while (end < m_width && std::floor(shiftAt(end, smaller)) == whole)
            ++end;
        return end;
    }

    const float* m_plane;
    int m_width;
    int m_height;
    std::ptrdiff_t m_stride;
    float m_middleX;
    float m_middleY;
};

}  // namespace

Image fringed(const Image& picture, float strength, const RunContext& run) {
    if (strength == 0.0F)
        return picture;
    Image out = picture;
    const bool hasAlpha = out.channels() > 3;
    // Half of the strength at a distance of half a diagonal: what red is larger than green, and green than blue.
    const float larger =
        strength / std::hypot(static_cast<float>(out.width()), static_cast<float>(out.height()));
    const std::vector<Tap> taps =
        tentOf(std::clamp(static_cast<int>(std::ceil(0.5F * std::abs(strength) * kTapsAPixel)) + 1,
                          kLeastTaps, kMostTaps));
    const std::array<float*, 3> to{out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    float* const alpha = hasAlpha ? out.editPlane(3) : nullptr;
    const std::array<Scaled, 3> from{Scaled(picture, 0), Scaled(picture, 1), Scaled(picture, 2)};
    const Scaled covered(picture, hasAlpha ? 3 : 0);
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        std::vector<float> sum(static_cast<std::size_t>(out.width()));
        for (int y = y0; y < y1; ++y) {
            const std::ptrdiff_t at = out.rowStride() * y;
            if (hasAlpha)
                std::fill_n(alpha + at, out.width(), 0.0F);
            for (std::size_t c = 0; c < 3; ++c) {
                const float middle = 1.0F - static_cast<float>(c);
                std::fill_n(to[c] + at, out.width(), 0.0F);
                for (const Tap& tap : taps)
                    from[c].addRow(y, (middle + tap.at) * larger, tap.weight, to[c] + at);
                if (!hasAlpha)
                    continue;
                std::fill(sum.begin(), sum.end(), 0.0F);
                for (const Tap& tap : taps)
                    covered.addRow(y, (middle + tap.at) * larger, tap.weight, sum.data());
                for (std::size_t x = 0; x < sum.size(); ++x)
                    alpha[at + static_cast<std::ptrdiff_t>(x)] = std::min(
                        std::max(alpha[at + static_cast<std::ptrdiff_t>(x)], sum[x]), 1.0F);
            }
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
