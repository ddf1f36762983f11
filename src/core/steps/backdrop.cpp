#include "core/steps/backdrop.h"

#include "core/image/error.h"
#include "core/image/pyramid_blur.h"
#include "core/image/tiles.h"
#include "core/passes/pass_file.h"
#include "core/passes/picture_pass.h"
#include "core/steps/grade.h"
#include "core/steps/inside_colour.h"
#include "core/steps/own_matte.h"
#include "core/steps/placed_picture.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

/// At an edge half of what is around is backdrop: so much of its light makes a wrap of 1 as bright as the backdrop.
constexpr float kAtEdge = 2.0F;
/// What is nearer than the edge by this part takes no wrap; by the second one, all of it.
constexpr float kNearer = 0.8F;
constexpr float kAsNear = 0.95F;
constexpr float kCoolest = 2500.0F;  ///< K
constexpr float kWarmest = 15000.0F;

GradeSettings gradeOf(const BackdropSettings& s) {
    GradeSettings grade;
    grade.exposure = s.exposure;
    grade.saturation = s.saturation;
    grade.temperature = s.temperature;
    return grade;
}

/// The picture without what lies behind its matte; associated with it.
Image foreground(const WorkingFrame& frame, const Image& matte, const RunContext& run) {
    const Image& picture = frame.picture();
    Image out = picture.select({0, 1, 2}, {"R", "G", "B"});
    if (frame.hasAlpha())
        return out;
    // An opaque picture's edges have the old background in them.
    const Image inside = insideColour(picture, {}, matte);
    const std::array<float*, 3> to{out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (std::size_t c = 0; c < 3; ++c) {
                const float* covered = matte.row(0, y);
                const float* own = inside.empty() ? nullptr : inside.row(static_cast<int>(c), y);
                float* colour = to[c] + out.rowStride() * y;
                for (int x = 0; x < out.width(); ++x)
                    if (covered[x] < 1.0F)
                        colour[x] =
                            covered[x] > 0.0F && own != nullptr ? covered[x] * own[x] : 0.0F;
            }
    });
    return out;
}

/// The backdrop's light over the edges before it.
class Wrap {
public:
    Wrap(const Image& board, const Image& matte, const Image& depth, const BackdropSettings& s,
         float pixelScale, const RunContext& run)
        : m_depth(depth), m_strength(kAtEdge * s.wrap) {
        const float deviation = std::max(0.5F * s.wrapWidth * pixelScale, 0.3F);
        Image light = board.select({0, 1, 2});
        const std::array<float*, 3> to{light.editPlane(0), light.editPlane(1), light.editPlane(2)};
        // How far off the edges around are: the mean of their inverses, so that near ones count.
        Image edges(depth.empty() ? Image()
                                  : Image(matte.width(), matte.height(), {"inverse", "edge"}));
        float* const inverse = edges.empty() ? nullptr : edges.editPlane(0);
        float* const edge = edges.empty() ? nullptr : edges.editPlane(1);
        forEachBand(matte.height(), kBandHeight, run, [&](int y0, int y1) {
            for (int y = y0; y < y1; ++y) {
                const float* covered = matte.row(0, y);
                const std::ptrdiff_t at = light.rowStride() * y;
                for (float* plane : to)
                    for (int x = 0; x < matte.width(); ++x)
                        plane[at + x] *= 1.0F - covered[x];
                if (edges.empty())
                    continue;
                edgeRow(matte, y, edge + at);
                const float* metres = depth.row(0, y);
                for (int x = 0; x < matte.width(); ++x) {
                    const bool counts = covered[x] > 0.5F && metres[x] > 0.0F &&
                                        std::isfinite(metres[x]) && edge[at + x] > 0.0F;
                    edge[at + x] = counts ? 1.0F : 0.0F;
                    inverse[at + x] = counts ? 1.0F / metres[x] : 0.0F;
                }
            }
        });
        if (!edges.empty())
            light.append(edges);
        const GaussianPart part{deviation, 1.0F};
        m_blurred = pyramidBlur(light, {&part, 1}, run);
    }

    /// Adds it to a row of the picture, by what is covered there.
    void addTo(const std::array<float*, 3>& to, const float* covered, int y) const noexcept {
        const bool known = !m_depth.empty();
        const float* inverse = known ? m_blurred.row(3, y) : nullptr;
        const float* edges = known ? m_blurred.row(4, y) : nullptr;
        const float* metres = known ? m_depth.row(0, y) : nullptr;
        const std::array<const float*, 3> light{m_blurred.row(0, y), m_blurred.row(1, y),
                                                m_blurred.row(2, y)};
        for (int x = 0; x < m_blurred.width(); ++x) {
            if (!(covered[x] > 0.0F))
                continue;
            float strength = covered[x] * m_strength;
            if (known && edges[x] > 1e-6F && std::isfinite(metres[x])) {
                const float part = metres[x] * inverse[x] / edges[x];
                strength *= std::clamp((part - kNearer) / (kAsNear - kNearer), 0.0F, 1.0F);
            }
            for (std::size_t c = 0; c < 3; ++c)
                to[c][x] += strength * light[c][x];
        }
    }

private:
    const Image& m_depth;
    float m_strength;
    Image m_blurred;
};

struct Mean {
    LinearRgb colour{};
    float saturation = 0.0F;
};

/// Of the brightness by its logarithm, so that a lamp doesn't outweigh a sky.
Mean meanOf(const Image& image, const Image& share) {
    double weight = 0.0;
    double log = 0.0;
    double saturation = 0.0;
    std::array<double, 3> sum{};
    for (int y = 0; y < image.height(); y += 2)
        for (int x = 0; x < image.width(); x += 2) {
            const float part = share.empty() ? 1.0F : share(x, y, 0);
            const float r = image(x, y, 0);
            const float g = image(x, y, std::min(1, image.channels() - 1));
            const float b = image(x, y, std::min(2, image.channels() - 1));
            const float luminance = 0.2126F * r + 0.7152F * g + 0.0722F * b;
            if (!(part > 0.0F) || !(luminance > 1e-6F) || !std::isfinite(luminance))
                continue;
            const auto w = static_cast<double>(part);
            const auto l = static_cast<double>(luminance);
            weight += w;
            log += w * std::log(l);
            const std::array<float, 3> rgb{r, g, b};
            for (std::size_t c = 0; c < 3; ++c)
                sum.at(c) += w * static_cast<double>(rgb.at(c)) / l;
            const auto [least, most] = std::minmax({r, g, b});
            saturation += w * static_cast<double>((most - least) / std::max(most, 1e-6F));
        }
    if (!(weight > 0.0))
        return {};
    const double level = std::exp(log / weight);
    return {{static_cast<float>(level * sum[0] / weight),
             static_cast<float>(level * sum[1] / weight),
             static_cast<float>(level * sum[2] / weight)},
            static_cast<float>(saturation / weight)};
}

float luminanceOf(const LinearRgb& c) noexcept {
    return 0.2126F * c.r + 0.7152F * c.g + 0.0722F * c.b;
}

/// What the picture shows where the backdrop will be; empty where that is nearly nothing.
Image openShare(const Image& picture, const PassSet& passes) {
    const Pass* depth = passes.find(PassKind::Depth);
    Image share(picture.width(), picture.height(), {"Y"});
    float* to = share.editPlane(0);
    double all = 0.0;
    for (int y = 0; y < share.height(); ++y)
        for (int x = 0; x < share.width(); ++x) {
            const float open = picture.channels() > 3 ? 1.0F - picture(x, y, 3)
                               : depth != nullptr && !std::isfinite(depth->image(x, y, 0)) ? 1.0F
                                                                                           : 0.0F;
            const float lit =
                luminanceOf({picture(x, y, 0), picture(x, y, 1), picture(x, y, 2)}) > 1e-5F ? open
                                                                                            : 0.0F;
            to[share.rowStride() * y + x] = lit;
            all += static_cast<double>(lit);
        }
    return all > 0.01 * share.width() * share.height() ? share : Image();
}

/// All of a part of it, and nothing else.
Image shareOf(const Tile& part, const Image& picture) {
    Image share(picture.width(), picture.height(), {"Y"});
    float* to = share.editPlane(0);
    for (int y = std::max(part.y0, 0); y < std::min(part.y1, share.height()); ++y)
        for (int x = std::max(part.x0, 0); x < std::min(part.x1, share.width()); ++x)
            to[share.rowStride() * y + x] = 1.0F;
    return share;
}

/// Its four corners: the frame's own until one is moved.
PlaceList cornersIn(const Settings& settings, const ShownFrame& frame) {
    const PlaceList corners = settings.get<PlaceList>("corners");
    if (corners.size() == 4)
        return corners;
    const auto w = static_cast<float>(frame.width);
    const auto h = static_cast<float>(frame.height);
    return {V2f(0.0F, 0.0F), V2f(w, 0.0F), V2f(w, h), V2f(0.0F, h)};
}

void match(Settings& settings, const Surroundings& around) {
    const FilePath path = settings.get<FilePath>("picture");
    const Pass* picture = picturePass(around.passes);
    if (path.path.empty())
        throw Error(ErrorCode::BadSetting, "choose its picture first");
    if (picture == nullptr || picture->image.channels() < 3)
        throw Error(ErrorCode::BadSetting, "there is no picture to match");
    BackdropSettings s;
    matchColours(s, readPicture(path.path), picture->image,
                 around.part ? shareOf(*around.part, picture->image)
                             : openShare(picture->image, around.passes));
    settings.set("exposure", s.exposure);
    settings.set("saturation", s.saturation);
    settings.set("temperature", s.temperature);
}

}  // namespace

void matchColours(BackdropSettings& s, const Image& picture, const Image& other,
                  const Image& share) {
    const Mean own = meanOf(picture, {});
    const Mean wanted = meanOf(other, share);
    if (!(luminanceOf(own.colour) > 0.0F) || !(luminanceOf(wanted.colour) > 0.0F))
        return;
    // The temperature that brings red over blue to what it is there.
    const auto warmth = [](const LinearRgb& c) {
        return std::log(std::max(c.r, 1e-6F) / std::max(c.b, 1e-6F));
    };
    float cool = kCoolest;
    float warm = kWarmest;
    GradeSettings grade;
    for (int i = 0; i < 30; ++i) {
        grade.temperature = 0.5F * (cool + warm);
        (warmth(graded(own.colour, grade)) < warmth(wanted.colour) ? cool : warm) =
            grade.temperature;
    }
    s.temperature = std::round(grade.temperature / 50.0F) * 50.0F;
    grade.temperature = s.temperature;
    const float level = luminanceOf(graded(own.colour, grade));
    s.exposure = std::clamp(
        std::round(100.0F * std::log2(luminanceOf(wanted.colour) / level)) / 100.0F, -20.0F, 20.0F);
    s.saturation =
        std::clamp(roundDigits(wanted.saturation / std::max(own.saturation, 0.02F)), 0.0F, 2.0F);
}

WorkingFrame standBehind(const WorkingFrame& frame, const Image& picture, const BackdropSettings& s,
                         const RunContext& run) {
    const float scale = frame.context().pixelScale();
    PlaceList corners = s.corners;
    for (V2f& corner : corners)
        corner *= scale;
    const RunContext quiet{run.stop, {}};
    Image board = placedPicture(picture, frame.width(), frame.height(), corners, quiet);
    gradeEvenly(board, gradeOf(s), quiet);
    if (s.blur * scale > 0.1F)
        board = wideBlur(board, s.blur * scale, quiet);
    if (run.stopped())
        return frame;
    run.report(0.4F);
    const Image matte = ownMatte(frame);
    const Image front = foreground(frame, matte, quiet);
    const Image depth = frame.passIfThere({PassKind::Depth, {}});
    std::optional<Wrap> wrap;
    if (s.wrap > 0.0F)
        wrap.emplace(board, matte, depth, s, scale, quiet);
    if (run.stopped())
        return frame;
    run.report(0.8F);
    Image out = frame.picture();
    const bool hasAlpha = out.channels() > 3;
    const std::array<float*, 3> to{out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    float* const alpha = hasAlpha ? out.editPlane(3) : nullptr;
    Image there = s.distance > 0.0F ? depth : Image();
    float* const metres = there.empty() ? nullptr : there.editPlane(0);
    forEachBand(out.height(), kBandHeight, quiet, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            const std::ptrdiff_t at = out.rowStride() * y;
            const float* covered = matte.row(0, y);
            std::array<float*, 3> row{};
            for (std::size_t c = 0; c < 3; ++c) {
                row[c] = to[c] + at;
                const float* before = front.row(static_cast<int>(c), y);
                const float* behind = board.row(static_cast<int>(c), y);
                for (int x = 0; x < out.width(); ++x)
                    row[c][x] = before[x] + (1.0F - covered[x]) * behind[x];
            }
            if (wrap)
                wrap->addTo(row, covered, y);
            const float* drawn = board.row(3, y);
            for (int x = 0; x < out.width(); ++x) {
                if (hasAlpha)
                    alpha[at + x] = covered[x] + (1.0F - covered[x]) * drawn[x];
                if (metres != nullptr && covered[x] < 0.5F && drawn[x] >= 0.5F)
                    metres[at + x] = s.distance;
            }
        }
    });
    WorkingFrame result = frame;
    result.setPicture(std::move(out));
    if (!there.empty())
        result.write({PassKind::Depth, {}}, std::move(there));
    return result;
}

StepType backdropStep() {
    using S = BackdropSettings;
    StepType type =
        StepBuilder<S>("backdrop", "Backdrop")
            .version(1)
            .phase(Phase::Light)
            .help("Another sky or place behind the picture's alpha, or where nothing was hit.")
            .file(&S::picture, "picture", "Picture", TextUse::PictureFile,
                  "The picture that stands behind. One frame of a numbered sequence stands for all "
                  "of it.")
            .places(&S::corners, "corners", "Corners",
                    "Where its corners are in the picture, from the top left on clockwise; without "
                    "them it fills the frame.")
            .unsetIs("fills the frame")
            .number(&S::exposure, "exposure", "Exposure", Unit::Stop, {-20.0F, 20.0F, 6.0F},
                    "Makes it brighter or darker.")
            .number(&S::saturation, "saturation", "Saturation", Unit::Percent, {0.0F, 4.0F, 2.0F},
                    "How strong its colours are.")
            .number(&S::temperature, "temperature", "Temperature", Unit::Kelvin,
                    {1667.0F, 25000.0F, 15000.0F},
                    "The colour temperature that counts as neutral: more makes it warmer.")
            .number(&S::distance, "distance", "Distance", Unit::Metre, {0.0F, 1e6F, 500.0F},
                    "How far away it stands, for fog, mist and focus; 0 is beyond all.")
            .unsetIs("beyond all")
            .number(&S::blur, "blur", "Blur", Unit::Pixel, {0.0F, 512.0F, 32.0F},
                    "Blurs it, in pixels of the full picture.")
            .number(&S::wrap, "wrap", "Light wrap", Unit::Percent, {0.0F, 4.0F, 1.0F},
                    "How much of its light reaches over the edges before it.")
            .number(&S::wrapWidth, "wrap_width", "Wrap width", Unit::Pixel, {0.0F, 512.0F, 64.0F},
                    "How far that light reaches, in pixels of the full picture.")
            .onlyWhen("wrap>0")
            .action("Match", "Gives it the brightness and colour of what it stands in for.", match)
            .actionOnPart("Match a part",
                          "Gives it the brightness and colour of a part of the picture that you "
                          "draw.",
                          match)
            .preset("Lit from behind", {{"wrap", 0.5F}, {"wrap_width", 16.0F}})
            .preset("Far and soft", {{"blur", 6.0F}, {"distance", 300.0F}})
            .writes({{PassKind::Depth, {}}})
            .reads([](const S&) {
                return std::vector<PassNeed>{wanted(PassKind::Coverage, "what stands before it"),
                                             wanted(PassKind::Depth, "what stands before it")};
            })
            .readsTime([](const S& s) { return isSequence(s.picture.path); })
            .summary([](const S& s) {
                return s.picture.path.empty()
                           ? std::string("no picture")
                           : fmt::format("{}{}", s.picture.path.filename().string(),
                                         s.distance > 0.0F
                                             ? " at " + formatNumber(s.distance, Unit::Metre)
                                             : std::string());
            })
            .handle(HandleKind::Distance, "distance", "backdrop",
                    [](const S& s) { return s.distance > 0.0F; })
            .area([](const WorkingFrame& frame, const S& s, const RunContext& run) {
                if (s.picture.path.empty())
                    return frame;
                return standBehind(
                    frame, frame.context().fileInTime(s.picture.path, SequenceEnd::Holds), s, run);
            })
            .build();
    static constexpr std::array<const char*, 4> kCorners{"top left", "top right", "bottom right",
                                                         "bottom left"};
    for (std::size_t i = 0; i < kCorners.size(); ++i)
        type.handles.push_back(
            {fmt::format("corner-{}", i + 1), kCorners.at(i), HandleKind::Place,
             [i](const Settings& s, const ShownFrame& frame) -> HandleValue {
                 return cornersIn(s, frame)[i];
             },
             [i](Settings& s, const HandleValue& to, const ShownFrame& frame) {
                 PlaceList corners = cornersIn(s, frame);
                 corners[i] = std::get<V2f>(to);
                 s.set("corners", corners);
             },
             [](const Settings& s) { return !s.get<FilePath>("picture").path.empty(); }});
    return type;
}

}  // namespace noctis
