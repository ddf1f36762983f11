#include "core/steps/glow.h"

#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/passes/picture_pass.h"
#include "core/steps/glow_halo.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

/// New glow is of what is brighter than this part of the brightest.
constexpr float kNewThreshold = 0.5F;

/// What of the picture's light exceeds the threshold, by its greatest channel, so that it keeps its hue.
Image brightPart(const Image& picture, float threshold, const Image& share, const RunContext& run) {
    Image out = Image::unset(picture.width(), picture.height(), {"R", "G", "B"});
    const std::array<float*, 3> to{out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            const std::array<const float*, 3> from{picture.row(0, y), picture.row(1, y),
                                                   picture.row(2, y)};
            const std::ptrdiff_t row = out.rowStride() * y;
            for (int x = 0; x < out.width(); ++x) {
                const float most = std::max({from[0][x], from[1][x], from[2][x]});
                const float sum = from[0][x] + from[1][x] + from[2][x];
                const float part = most > threshold && most > 0.0F && std::isfinite(sum)
                                       ? (most - threshold) / most
                                       : 0.0F;
                for (std::size_t c = 0; c < 3; ++c)
                    to.at(c)[row + x] = part > 0.0F ? part * std::max(from.at(c)[x], 0.0F) : 0.0F;
            }
            for (int c = 0; c < 3 && !share.empty(); ++c) {
                const float* shares = share.row(std::min(c, share.channels() - 1), y);
                float* light = to.at(static_cast<std::size_t>(c)) + row;
                for (int x = 0; x < out.width(); ++x)
                    light[x] *= shares[x];
            }
        }
    });
    return out;
}

/// How bright the brightest hundredth of the picture is; 0 without one.
float brightest(const Surroundings& around) {
    const Pass* picture = picturePass(around.passes);
    if (picture == nullptr || picture->image.channels() < 3)
        return 0.0F;
    const Image& image = picture->image;
    std::vector<float> values;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            if (const float most = std::max({image(x, y, 0), image(x, y, 1), image(x, y, 2)});
                std::isfinite(most))
                values.push_back(most);
    if (values.empty())
        return 0.0F;
    const auto at = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 100);
    std::ranges::nth_element(values, at, std::greater<>());
    return *at;
}

}  // namespace

Image applyGlow(const Image& picture, const GlowSettings& s, const Image& share,
                const RunContext& run) {
    if (picture.channels() < 3 || (!share.empty() && !share.sameSize(picture)))
        throw Error(ErrorCode::ShapeMismatch, "glow needs a colour picture and a mask of its size");
    if (s.strength == 0.0F)
        return picture;
    const RunContext quiet{run.stop, {}};
    const Image bright = brightPart(picture, s.threshold, share, quiet);
    run.report(0.1F);
    const float radius = s.radius * static_cast<float>(picture.width());
    const Image halo = s.streaks > 0 ? streakHalo(bright, radius, s.streaks, s.angle, quiet)
                                     : roundHalo(bright, radius, quiet);
    if (run.stopped())
        return {};
    run.report(0.9F);
    const float strength = s.mode == GlowMode::Keep ? std::min(s.strength, 1.0F) : s.strength;
    const float taken = s.mode == GlowMode::Keep ? strength : 0.0F;
    const std::array<float, 3> tint{strength * s.tint.r, strength * s.tint.g, strength * s.tint.b};
    Image out = picture;
    std::vector<float*> to;
    for (int c = 0; c < std::min(out.channels(), 4); ++c)
        to.push_back(out.editPlane(c));
    forEachBand(out.height(), kBandHeight, quiet, [&](int y0, int y1) {
        std::vector<float> arriving(static_cast<std::size_t>(out.width()));
        for (int y = y0; y < y1; ++y) {
            std::ranges::fill(arriving, 0.0F);
            for (std::size_t c = 0; c < 3; ++c) {
                const float* wide = halo.row(static_cast<int>(c), y);
                const float* own = bright.row(static_cast<int>(c), y);
                float* light = to.at(c) + out.rowStride() * y;
                for (int x = 0; x < out.width(); ++x) {
                    const float arrives = tint.at(c) * wide[x];
                    light[x] += arrives - taken * own[x];
                    arriving[static_cast<std::size_t>(x)] =
                        std::max(arriving[static_cast<std::size_t>(x)], arrives);
                }
            }
            if (to.size() < 4)
                continue;
            // Light that spills over the picture's own edge covers what will stand behind it.
            float* alpha = to[3] + out.rowStride() * y;
            for (int x = 0; x < out.width(); ++x)
                alpha[x] +=
                    (1.0F - alpha[x]) * std::min(arriving[static_cast<std::size_t>(x)], 1.0F);
        }
    });
    return out;
}

StepType glowStep() {
    using S = GlowSettings;
    return StepBuilder<S>("glow", "Glow")
        .version(1)
        .phase(Phase::Lens)
        .help("Spreads the brightest light, as a lens and the eye do. Its Where says what glows.")
        .number(&S::threshold, "threshold", "Threshold", Unit::None, {0.0F, 1e5F, 4.0F},
                "Only what is brighter than this glows, by as much as it is; in the picture's "
                "linear light, where 1 is white.")
        .number(&S::radius, "radius", "Radius", Unit::Percent, {0.0F, 0.4F, 0.2F},
                "How far the light spreads: half of it stays within, in percent of the picture's "
                "width.")
        .number(&S::strength, "strength", "Strength", Unit::Percent, {0.0F, 4.0F, 1.0F},
                "How much of the bright light is spread.")
        .choice(&S::mode, "mode", "Mode", {{"keep", "Keeps light"}, {"add", "Adds light"}},
                "Whether a highlight loses what its glow gets, as in a lens, or keeps all.")
        .colour(&S::tint, "tint", "Tint", "Multiplies the glow.")
        .whole(&S::streaks, "streaks", "Streaks", {0.0F, 16.0F, 8.0F},
               "Draws highlights out to so many rays; 0 makes a round halo.")
        .unsetIs("round")
        .number(&S::angle, "angle", "Angle", Unit::Degree, {-180.0F, 180.0F, 180.0F},
                "Turns the rays.")
        .onlyWhen("streaks>0")
        .suited([](Settings& s, const Surroundings& around) {
            if (const float most = brightest(around); most > 0.0F)
                s.set("threshold", roundDigits(kNewThreshold * most));
        })
        .preset("Soft halo", {{"radius", 0.06F}, {"strength", 0.4F}})
        .preset("Misty lens", {{"radius", 0.15F}, {"strength", 0.6F}, {"threshold", 0.1F}})
        .preset("Star of six", {{"mode", std::string("add")},
                                {"radius", 0.05F},
                                {"strength", 1.0F},
                                {"streaks", 6.0F}})
        .summary([](const S& s) {
            return fmt::format("above {} · {}", formatNumber(s.threshold, Unit::None),
                               s.streaks > 0
                                   ? fmt::format("{} ray{}", s.streaks, s.streaks == 1 ? "" : "s")
                                   : formatNumber(s.radius, Unit::Percent));
        })
        .areaFromWhere(
            [](const WorkingFrame& frame, const S& s, const Image& share, const RunContext& run) {
                WorkingFrame out = frame;
                out.setPicture(applyGlow(frame.picture(), s, share, run));
                return out;
            })
        .build();
}

}  // namespace noctis
