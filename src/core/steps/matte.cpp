#include "core/steps/matte.h"

#include "core/image/tiles.h"
#include "core/recipe/mask.h"
#include "core/steps/inside_colour.h"
#include "core/steps/own_matte.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include <fmt/format.h>

namespace noctis {

namespace {

using S = MatteSettings;

/// Alpha below which a pixel's own colour can't be told from its light.
constexpr float kClear = 1e-4F;

Image sourceOf(const WorkingFrame& frame, MatteSource source) {
    if (source != MatteSource::Alpha)
        return hitMatte(frame);
    return frame.hasAlpha() ? ownMatte(frame) : Image(frame.width(), frame.height(), {"A"}, 1.0F);
}

bool changesMatte(const S& s) {
    return s.grow != 0.0F || s.soften > 0.0F || s.black != 0.0F || s.white != 1.0F ||
           s.gamma != 1.0F;
}

void applyLevels(Image& matte, const S& s) {
    const float scale = 1.0F / std::max(s.white - s.black, 1e-4F);
    const float power = 1.0F / s.gamma;
    float* to = matte.editPlane(0);
    for (int y = 0; y < matte.height(); ++y)
        for (int x = 0; x < matte.width(); ++x) {
            float& a = to[matte.rowStride() * y + x];
            a = std::pow(std::clamp((a - s.black) * scale, 0.0F, 1.0F), power);
        }
}

/// The picture with another alpha; inside: the colours to take at the edge, empty: its own.
Image withMatte(const Image& picture, const Image& before, const Image& matte, const Image& source,
                const Image& inside, float fringe, const RunContext& run) {
    Image out = picture.select({0, 1, 2}, {"R", "G", "B"});
    out.append(matte);
    const std::array<float*, 3> to{out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        std::vector<float> edge(static_cast<std::size_t>(out.width()));
        for (int y = y0; y < y1; ++y) {
            edgeRow(source, y, edge.data());
            for (int c = 0; c < 3; ++c)
                for (int x = 0; x < out.width(); ++x) {
                    const float was = before.empty() ? 1.0F : before(x, y, 0);
                    const float is = matte(x, y, 0);
                    float& value = to[static_cast<std::size_t>(c)][out.rowStride() * y + x];
                    // Light without a surface stays.
                    const float own = was > kClear ? value * (is / was) : value;
                    if (inside.empty()) {
                        value = own;
                        continue;
                    }
                    const float within = is * inside(x, y, c);
                    const float share =
                        was > kClear ? fringe * edge[static_cast<std::size_t>(x)] : 1.0F;
                    value = was > kClear ? own + (within - own) * share : own + within;
                }
        }
    });
    return out;
}

WorkingFrame matted(const WorkingFrame& frame, const S& s, const RunContext& run) {
    if (s.source == MatteSource::Alpha && !changesMatte(s) && s.fringe == 0.0F)
        return frame;
    const Image source = sourceOf(frame, s.source);
    const float scale = frame.context().pixelScale();
    Image matte = source;
    if (s.grow != 0.0F || s.soften > 0.0F)
        matte = grownAndSoftened(source, s.grow * scale, s.soften * scale, run);
    if (run.stopped())
        return frame;
    applyLevels(matte, s);
    const Image before = alphaOf(frame);
    Image inside;
    if (s.fringe > 0.0F || !before.empty())
        inside = insideColour(frame.picture(), before, source);
    WorkingFrame out = frame;
    out.setPicture(withMatte(frame.picture(), before, matte, source, inside, s.fringe, run));
    return out;
}

std::string pixels(float value) { return formatNumber(value, Unit::Pixel); }

}  // namespace

StepType matteStep() {
    return StepBuilder<S>("matte", "Matte")
        .version(1)
        .phase(Phase::Light)
        .help("Cleans the edges of what the picture shows, before anything stands behind it: its "
              "alpha grown or shrunk, softened and levelled.")
        .choice(&S::source, "source", "From",
                {{"alpha", "The picture's alpha"}, {"coverage", "What is hit"}},
                "What the picture covers: its own alpha, or the coverage pass, or without one "
                "wherever depth ends.")
        .number(&S::grow, "grow", "Grow", Unit::Pixel, {-100.0F, 100.0F, 10.0F},
                "How far it is grown, or shrunk below 0.")
        .number(&S::soften, "soften", "Soften", Unit::Pixel, {0.0F, 100.0F, 10.0F},
                "How far its edge is blurred.")
        .number(&S::black, "black", "Black", Unit::None, {0.0F, 1.0F, 1.0F},
                "Alpha up to here becomes 0.")
        .number(&S::white, "white", "White", Unit::None, {0.0F, 1.0F, 1.0F},
                "Alpha from here on becomes 1.")
        .number(&S::gamma, "gamma", "Gamma", Unit::None, {0.1F, 10.0F, 4.0F},
                "Above 1 its edge covers more, below 1 less.")
        .number(&S::fringe, "fringe", "Fringe", Unit::Percent, {0.0F, 1.0F, 1.0F},
                "How much of the edge's colour is replaced from inside, where no background is "
                "mixed with it.")
        .preset("Tighter by a pixel", {{"grow", -1.0F}, {"soften", 0.5F}, {"fringe", 1.0F}})
        .preset("Cut out of the sky",
                {{"source", std::string("coverage")}, {"soften", 0.6F}, {"fringe", 1.0F}})
        .reads([](const S& s) {
            if (s.source == MatteSource::Alpha)
                return std::vector<PassNeed>{};
            return std::vector<PassNeed>{wanted(PassKind::Coverage, "how much of a pixel is hit"),
                                         needed({PassKind::Depth, {}}, "what is hit")};
        })
        .summary([](const S& s) {
            std::string text = s.source == MatteSource::Coverage ? "what is hit" : "";
            const auto add = [&](const std::string& what) {
                text += (text.empty() ? "" : " · ") + what;
            };
            if (s.grow != 0.0F)
                add(fmt::format("{} by {}", s.grow > 0.0F ? "grown" : "shrunk",
                                pixels(std::abs(s.grow))));
            if (s.soften > 0.0F)
                add("softened by " + pixels(s.soften));
            if (s.black != 0.0F || s.white != 1.0F || s.gamma != 1.0F)
                add("levelled");
            if (s.fringe > 0.0F)
                add("fringe " + formatNumber(s.fringe, Unit::Percent));
            return text.empty() ? std::string("as it is") : text;
        })
        .area([](const WorkingFrame& frame, const S& s, const RunContext& run) {
            return matted(frame, s, run);
        })
        .build();
}

}  // namespace noctis
