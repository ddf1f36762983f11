#include "core/steps/vignette.h"

#include "core/image/pyramid_blur.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr float kNoBlur = 0.1F;  ///< px
/// Blurs between which pixels mix, in parts of the widest: evenly enough that none is seen as a ring.
constexpr std::array kBlurs{0.125F, 0.25F, 0.5F, 1.0F};

bool isMiddle(const V2f& centre) noexcept { return centre.x < 0.0F && centre.y < 0.0F; }

/// How far out a pixel is on the ellipse: 0 where it begins, 1 where it is full, between them as a smooth step.
class Ellipse {
public:
    Ellipse(const VignetteSettings& s, float pixelScale, int width, int height)
        : m_middle(isMiddle(s.centre)
                       ? V2f(0.5F * static_cast<float>(width), 0.5F * static_cast<float>(height))
                       : s.centre * pixelScale),
          m_begins(std::min(s.inner, s.outer)),
          m_perLength(1.0F / std::max(std::abs(s.outer - s.inner), 1e-4F)) {
        const float half = 0.5F * std::hypot(static_cast<float>(width), static_cast<float>(height));
        const float wider = std::exp2(s.stretch);
        m_perX = 1.0F / (half * wider);
        m_perY = wider / half;
    }
    /// out: of the pixels of a row.
    void row(int y, int width, float* out) const noexcept {
        const float dy = (static_cast<float>(y) + 0.5F - m_middle.y) * m_perY;
        for (int x = 0; x < width; ++x) {
            const float dx = (static_cast<float>(x) + 0.5F - m_middle.x) * m_perX;
            const float t = std::min(
                std::max((std::sqrt(dx * dx + dy * dy) - m_begins) * m_perLength, 0.0F), 1.0F);
            out[x] = t * t * (3.0F - 2.0F * t);
        }
    }

private:
    V2f m_middle;
    float m_begins;
    float m_perLength;
    float m_perX = 0.0F;
    float m_perY = 0.0F;
};

/// Multiplies pixels of a row by cos^4 of the angle of their rays from the camera's axis: with t as the tangent,
/// 1 / (1 + t^2)^2.
void naturalRow(const Camera& camera, int y, int width, int height, float* kept) noexcept {
    const float tangent = std::tan(0.5F * camera.yfovRadians);
    const float perPixel = 2.0F * tangent / static_cast<float>(height);
    const float ty = (static_cast<float>(y) + 0.5F - 0.5F * static_cast<float>(height)) * perPixel;
    for (int x = 0; x < width; ++x) {
        const float tx =
            (static_cast<float>(x) + 0.5F - 0.5F * static_cast<float>(width)) * perPixel;
        const float secant = 1.0F + tx * tx + ty * ty;
        kept[x] = 1.0F / (secant * secant);
    }
}

/// Blurred the more, the farther out.
Image blurredOutside(const Image& picture, const Ellipse& ellipse, float deviation,
                     const RunContext& run) {
    std::array<Image, kBlurs.size()> blurred;
    for (std::size_t i = 0; i < kBlurs.size() && !run.stopped(); ++i)
        blurred.at(i) = wideBlur(picture, deviation * kBlurs.at(i), run);
    if (run.stopped())
        return picture;
    Image out = picture;
    std::vector<float*> to;
    for (int c = 0; c < out.channels(); ++c)
        to.push_back(out.editPlane(c));
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        std::vector<float> outside(static_cast<std::size_t>(out.width()));
        for (int y = y0; y < y1; ++y) {
            ellipse.row(y, out.width(), outside.data());
            for (int x = 0; x < out.width(); ++x) {
                const float wanted = outside[static_cast<std::size_t>(x)];
                if (wanted <= 0.0F)
                    continue;
                std::size_t above = 0;
                while (above + 1 < kBlurs.size() && kBlurs.at(above) < wanted)
                    ++above;
                const float from = above == 0 ? 0.0F : kBlurs.at(above - 1);
                const Image& sharper = above == 0 ? picture : blurred.at(above - 1);
                const float part = (wanted - from) / (kBlurs.at(above) - from);
                for (std::size_t c = 0; c < to.size(); ++c) {
                    const int channel = static_cast<int>(c);
                    const float sharp = sharper(x, y, channel);
                    to[c][out.rowStride() * y + x] =
                        sharp + part * (blurred.at(above)(x, y, channel) - sharp);
                }
            }
        }
    });
    return out;
}

}  // namespace

Image vignetted(const Image& picture, const Camera& camera, float pixelScale,
                const VignetteSettings& s, const RunContext& run) {
    const Ellipse ellipse(s, pixelScale, picture.width(), picture.height());
    const float deviation = s.blur * pixelScale;
    Image out =
        deviation > kNoBlur ? blurredOutside(picture, ellipse, deviation, {run.stop, {}}) : picture;
    const bool natural = s.natural && !camera.orthographic();
    if (run.stopped() || (!natural && s.strength == 0.0F))
        return out;
    const std::array<float*, 3> to{out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    const std::array<float, 3> lost{s.strength * (1.0F - s.colour.r),
                                    s.strength * (1.0F - s.colour.g),
                                    s.strength * (1.0F - s.colour.b)};
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        std::vector<float> kept(static_cast<std::size_t>(out.width()), 1.0F);
        std::vector<float> outside(kept.size(), 0.0F);
        for (int y = y0; y < y1; ++y) {
            if (natural)
                naturalRow(camera, y, out.width(), out.height(), kept.data());
            if (s.strength != 0.0F)
                ellipse.row(y, out.width(), outside.data());
            for (std::size_t c = 0; c < 3; ++c) {
                float* row = to.at(c) + out.rowStride() * y;
                for (std::size_t x = 0; x < kept.size(); ++x)
                    row[x] *= kept[x] * (1.0F - lost.at(c) * outside[x]);
            }
        }
    });
    return out;
}

StepType vignetteStep() {
    using S = VignetteSettings;
    StepType type =
        StepBuilder<S>("vignette", "Vignette")
            .version(1)
            .phase(Phase::Lens)
            .help("Darkens the picture towards its edge, as a lens does by itself, and in an "
                  "ellipse.")
            .toggle(&S::natural, "natural", "Natural",
                    "Loses light as a lens of this angle does: by the fourth power of the cosine.")
            .number(&S::strength, "strength", "Strength", Unit::Percent, {-4.0F, 1.0F, 1.0F},
                    "How much of the light is lost where the ellipse is full; below 0 it gets "
                    "brighter.")
            .number(&S::inner, "inner", "Begins", Unit::Percent, {0.0F, 4.0F, 1.5F},
                    "Where the ellipse begins, in percent of half the picture's diagonal.")
            .number(&S::outer, "outer", "Is full", Unit::Percent, {0.0F, 4.0F, 1.5F},
                    "Where it is full, in percent of half the picture's diagonal.")
            .number(&S::stretch, "stretch", "Stretch", Unit::None, {-2.0F, 2.0F, 1.0F},
                    "The ellipse's shape: 0 is round, above 0 wider, below 0 taller.")
            .colour(&S::colour, "colour", "Colour", "The tint that is left where it is full.")
            .number(&S::blur, "blur", "Blur", Unit::Pixel, {0.0F, 512.0F, 24.0F},
                    "Blurs towards the edge, in pixels of the full picture.")
            .place(&S::centre, "centre", "Centre", "The ellipse's middle; drag it in the picture.")
            .unsetIs("the picture's middle")
            .preset("A lens's own", {{"natural", true}, {"strength", 0.0F}})
            .preset("Soft corners",
                    {{"natural", true}, {"strength", 0.35F}, {"inner", 0.5F}, {"blur", 6.0F}})
            .summary([](const S& s) {
                return fmt::format("{}{}", s.natural ? "natural · " : "",
                                   formatNumber(s.strength, Unit::Percent));
            })
            .area([](const WorkingFrame& frame, const S& s, const RunContext& run) {
                WorkingFrame out = frame;
                out.setPicture(vignetted(frame.picture(), frame.context().camera(),
                                         frame.context().pixelScale(), s, run));
                return out;
            })
            .carries([](const WorkingFrame& frame, const S& s, const CarriedMask& mask,
                        const RunContext& run) {
                return vignetted(maskedLight(frame.picture(), mask), frame.context().camera(),
                                 frame.context().pixelScale(), s, run);
            })
            .build();
    type.handles.push_back({"centre", "Centre", HandleKind::Place,
                            [](const Settings& s, const ShownFrame& frame) -> HandleValue {
                                const V2f centre = s.get<V2f>("centre");
                                return isMiddle(centre)
                                           ? V2f(0.5F * static_cast<float>(frame.width),
                                                 0.5F * static_cast<float>(frame.height))
                                           : centre;
                            },
                            [](Settings& s, const HandleValue& to, const ShownFrame&) {
                                const V2f place = std::get<V2f>(to);
                                // Beyond both edges it would be the middle again.
                                s.set("centre", V2f(std::max(place.x, 0.0F), place.y));
                            },
                            [](const Settings& s) { return s.number("strength") != 0.0F; }});
    return type;
}

}  // namespace noctis
