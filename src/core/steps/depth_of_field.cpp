#include "core/steps/depth_of_field.h"

#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/recipe/picture_air.h"
#include "core/steps/blur_layers.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace {

/// As a part of the picture's width.
constexpr float kShowingBlur = 0.004F;

constexpr float kSharp = 1.0F / 64.0F;  ///< px; the kernel of a smaller radius is a point

/// The blur radius at infinity of a lens focused at the focus, in pixels.
float radiusAtInfinity(const DepthOfFieldSettings& s, float widthPixels) {
    if (s.lens == LensMode::Radius)
        return s.radius;
    const float focal = s.focalLength * 0.001F;
    const float focus = std::max(s.focus, focal * 1.01F);
    const float diameter = focal * focal / (s.fNumber * (focus - focal));
    return 0.5F * diameter * widthPixels / (s.sensorWidth * 0.001F);
}

Image signedRadii(const Image& depth, const DepthOfFieldSettings& settings, float fullWidth,
                  const RunContext& run) {
    Image radii = Image::unset(depth.width(), depth.height(), {"Y"});
    float* out = radii.editPlane(0);
    const float scale = static_cast<float>(depth.width()) / fullWidth;
    forEachBand(depth.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < depth.width(); ++x)
                out[radii.rowStride() * y + x] =
                    blurRadius(depth(x, y, 0), settings, fullWidth) * scale;
    });
    return radii;
}

float largestRadius(const Image& radii) {
    float largest = 0.0F;
    for (int y = 0; y < radii.height(); ++y)
        for (int x = 0; x < radii.width(); ++x)
            largest = std::max(largest, std::abs(radii(x, y, 0)));
    return largest;
}

/// What the picture hides. The steps so far changed what is seen, but not that: what they did beside it
/// is done to it, too.
HiddenSurface hiddenIn(const WorkingFrame& frame) {
    HiddenSurface hidden{frame.passIfThere({PassKind::BehindColour, {}}),
                         frame.passIfThere({PassKind::BehindDepth, {}}),
                         {}};
    if (hidden.colour.empty())
        return hidden;
    const Image measured = frame.context().picture();
    if (measured.row(0, 0) != frame.picture().row(0, 0))
        hidden.seenThen = measured;
    return hidden;
}

Image lightOf(const Image& colour, const TakenLight& taken) {
    if (taken.share.empty())
        return colour;
    if (!taken.ofLight)
        return taken.share.select({0, 1, 2});
    Image light = colour.select({0, 1, 2});
    for (int c = 0; c < 3; ++c) {
        float* to = light.editPlane(c);
        for (int y = 0; y < light.height(); ++y)
            for (int x = 0; x < light.width(); ++x)
                to[light.rowStride() * y + x] *= taken.share(x, y, c);
    }
    return light;
}

/// The frame's picture, or the masked part of it, through the lens; alpha goes the same way.
Image throughLens(const WorkingFrame& frame, const DepthOfFieldSettings& s, const TakenLight& taken,
                  const RunContext& run) {
    const FrameContext& context = frame.context();
    const float aspect =
        static_cast<float>(context.fullWidth()) / static_cast<float>(context.fullHeight());
    const DepthOfFieldSettings lens = withLensOf(s, context.camera(), aspect);
    const Image depth = frame.pass(PassKind::Depth);
    const std::size_t count = frame.hasAlpha() ? 2 : 1;
    const auto blurred = [&](std::size_t index, const std::vector<int>& channels,
                             const HiddenSurface& hidden) {
        return applyDepthOfField(
            frame.picture().select(channels), depth, lens,
            static_cast<float>(frame.width()) / context.pixelScale(), partOf(run, index, count),
            hidden, {taken.share.empty() ? Image() : taken.share.select(channels), taken.ofLight});
    };
    Image picture = blurred(0, {0, 1, 2}, hiddenIn(frame));
    if (frame.hasAlpha() && !run.stopped())
        picture.append(blurred(1, {3, 3, 3}, {}).select({0}, {"A"}));
    return picture;
}

/// For the steps after it, px of the full picture.
void writeBlurRadius(WorkingFrame& out, const WorkingFrame& frame, const DepthOfFieldSettings& s,
                     const RunContext& run) {
    const FrameContext& context = frame.context();
    const auto width = static_cast<float>(context.fullWidth());
    const DepthOfFieldSettings lens =
        withLensOf(s, context.camera(), width / static_cast<float>(context.fullHeight()));
    Image radii = signedRadii(frame.pass(PassKind::Depth), lens, width, {run.stop, {}});
    float* to = radii.editPlane(0);
    for (int y = 0; y < radii.height(); ++y)
        for (int x = 0; x < radii.width(); ++x) {
            float& radius = to[radii.rowStride() * y + x];
            radius = std::abs(radius) / context.pixelScale();
        }
    out.write({PassKind::BlurRadius, {}}, std::move(radii));
}

Image unweighted(const WeightedPicture& sum, const Image& original) {
    Image out = Image::unset(sum.width, sum.height, {"R", "G", "B"});
    float* planes[3] = {out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    for (int y = 0; y < sum.height; ++y)
        for (int x = 0; x < sum.width; ++x) {
            const Float4 value = sum.row(y)[x];
            for (int c = 0; c < 3; ++c)
                planes[c][out.rowStride() * y + x] =
                    value[3] > 1e-6F ? std::max(0.0F, value[c] / value[3]) : original(x, y, c);
        }
    return out;
}

}  // namespace

DepthOfFieldSettings withLensOf(DepthOfFieldSettings s, const Camera& camera, float aspect) {
    if (s.lens != LensMode::View)
        return s;
    s.lens = LensMode::Physical;
    if (!camera.orthographic())
        s.focalLength = focalLengthOf(camera, s.sensorWidth, aspect);
    return s;
}

float blurRadius(float depth, const DepthOfFieldSettings& s, float widthPixels) noexcept {
    if (!(depth > 0.0F))
        return 0.0F;
    const float nearEdge = std::max(s.focus - s.spanNear, 1e-4F);
    const float farEdge = s.focus + s.spanFar;
    const float atInfinity = radiusAtInfinity(s, widthPixels);
    float radius = 0.0F;
    if (depth > farEdge)
        radius = atInfinity * s.farAmount * (std::isinf(depth) ? 1.0F : (depth - farEdge) / depth);
    else if (depth < nearEdge)
        radius = -atInfinity * s.nearAmount * (nearEdge - depth) / depth;
    return std::clamp(radius, -s.limit, s.limit);
}

Image applyDepthOfField(const Image& colour, const Image& depth,
                        const DepthOfFieldSettings& settings, float fullWidth,
                        const RunContext& run, const HiddenSurface& hidden,
                        const TakenLight& taken) {
    if (!colour.sameSize(depth) || colour.channels() < 3)
        throw Error(ErrorCode::ShapeMismatch,
                    "depth of field needs a colour picture and a depth of its size");
    const RunContext quiet{run.stop, {}};
    const Image radii = signedRadii(depth, settings, fullWidth, quiet);
    HiddenPieces behind;
    if (hidden.colour.sameSize(colour) && hidden.depth.sameSize(colour)) {
        behind.colour = hidden.colour;
        behind.seenThen = hidden.seenThen;
        behind.radius = signedRadii(hidden.depth, settings, fullWidth, quiet);
    }
    const float largest =
        std::max(largestRadius(radii), behind.radius.empty() ? 0.0F : largestRadius(behind.radius));
    const Image light = lightOf(colour, taken);
    if (largest < kSharp || run.stopped())
        return run.stopped() ? Image() : light;
    const ApertureKernels kernels({settings.blades, settings.rotation, settings.roundness},
                                  largest + 1.0F);
    const BlurSurfaces surfaces = surfacesOf(colour, radii, behind, quiet, taken);
    std::uint64_t layers = 0;
    for (const std::uint64_t row : surfaces.layers)
        layers |= row;

    // The nearest layer first; each next one is seen through what is still open.
    WeightedPicture sum(colour.width(), colour.height());
    const int count = std::popcount(layers);
    int done = 0;
    for (int bit = 0; bit < 64 && !run.stopped(); ++bit)
        if (((layers >> bit) & 1U) != 0) {
            const int layer = bit - BlurSurfaces::kLayerBias;
            layUnder(sum, drawLayer(light, radii, surfaces, layer, kernels, quiet),
                     layerFactor(layer), quiet);
            run.report(static_cast<float>(++done) / static_cast<float>(count));
        }
    return run.stopped() ? Image() : unweighted(sum, light);
}

namespace {

/// Opens the lens as far as the blur of the nearest or farthest things needs to show.
void openEnough(Settings& settings, const Surroundings& around) {
    const PassSet& passes = around.passes;
    const std::optional<PictureAir> air = pictureAir(passes);
    if (!air || passes.height < 1)
        return;
    const auto width = static_cast<float>(passes.width);
    DepthOfFieldSettings s;
    s.focus = settings.number("focus");
    s = withLensOf(s, passes.cameraOrAssumed(), width / static_cast<float>(passes.height));
    const float wanted = kShowingBlur * width;
    for (const float stop : {5.6F, 4.0F, 2.8F, 2.0F, 1.4F, 1.0F}) {
        s.fNumber = stop;
        settings.set("f_number", stop);
        if (blurRadius(air->back, s, width) >= wanted ||
            -blurRadius(air->front, s, width) >= wanted)
            return;
    }
    // No lens that there is would: things are small, or far away.
    settings.set("lens", std::string("radius"));
    settings.set("radius", std::max(2.0F, roundDigits(2.0F * wanted)));
}

}  // namespace

StepType depthOfFieldStep() {
    using S = DepthOfFieldSettings;
    return StepBuilder<S>("depth_of_field", "Depth of field")
        .version(2)
        .phase(Phase::Lens)
        .help("Keeps one distance sharp and blurs the rest, as a lens does.")
        .number(&S::focus, "focus", "Focus", Unit::Metre, {0.01F, 1e6F, 100.0F},
                "The distance that is sharp. Clicking in the picture sets it, too.")
        .choice(
            &S::lens, "lens", "Lens",
            {{"view", "The view's own"},
             {"physical", "By focal length"},
             {"radius", "By blur radius"}},
            "Whether the blur comes from the view's lens, from another lens, or is set directly.")
        .number(&S::fNumber, "f_number", "Aperture", Unit::FNumber, {0.1F, 128.0F, 22.0F},
                "Lower numbers blur more.")
        .onlyWhen("lens=view|physical")
        .number(&S::focalLength, "focal_length", "Focal length", Unit::Millimetre,
                {1.0F, 2000.0F, 200.0F}, "Longer lenses blur more. The view itself stays the same.")
        .onlyWhen("lens=physical")
        .number(&S::sensorWidth, "sensor_width", "Sensor width", Unit::Millimetre,
                {1.0F, 200.0F, 70.0F},
                "The width of the film or chip; a smaller one blurs more with the same lens.")
        .onlyWhen("lens=view|physical")
        .number(&S::radius, "radius", "Blur radius", Unit::Pixel, {0.0F, 512.0F, 64.0F},
                "The blur of what is infinitely far, in pixels of the full picture.")
        .onlyWhen("lens=radius")
        .number(&S::spanNear, "span_near", "Sharp in front", Unit::Metre, {0.0F, 1e6F, 20.0F},
                "How far in front of the focus everything stays sharp.")
        .number(&S::spanFar, "span_far", "Sharp behind", Unit::Metre, {0.0F, 1e6F, 20.0F},
                "How far behind the focus everything stays sharp.")
        .number(&S::nearAmount, "near", "Near blur", Unit::Percent, {0.0F, 4.0F, 2.0F},
                "How much of the blur things in front of the focus get.")
        .number(&S::farAmount, "far", "Far blur", Unit::Percent, {0.0F, 4.0F, 2.0F},
                "How much of the blur things behind the focus get.")
        .whole(
            &S::blades, "blades", "Blades", {0.0F, 16.0F, 12.0F},
            "How many blades shape the lens opening, as highlights show it; below 3 it is round.")
        .number(&S::rotation, "rotation", "Rotation", Unit::Degree, {-180.0F, 180.0F, 180.0F},
                "Rotates the shape of highlights.")
        .number(&S::roundness, "roundness", "Roundness", Unit::Percent, {0.0F, 1.0F, 1.0F},
                "How far the blades bulge towards a circle.")
        .number(&S::limit, "limit", "Limit", Unit::Pixel, {1.0F, 512.0F, 256.0F},
                "Limits the blur to this radius, in pixels of the full picture.")
        .preset("Portrait, f/1.4", {{"lens", std::string("physical")},
                                    {"f_number", 1.4F},
                                    {"focal_length", 85.0F},
                                    {"blades", 9.0F},
                                    {"roundness", 0.6F}})
        .preset("Walkabout, f/4", {{"lens", std::string("physical")},
                                   {"f_number", 4.0F},
                                   {"focal_length", 50.0F},
                                   {"blades", 7.0F}})
        .preset("Model-like", {{"lens", std::string("radius")},
                               {"radius", 18.0F},
                               {"blades", 6.0F},
                               {"limit", 64.0F}})
        .reads([](const S&) {
            return std::vector<PassNeed>{
                needed(PassName{PassKind::Depth, {}}, "how far each place is from the focus"),
                wanted(PassKind::BehindColour, "what blurred near things hide"),
                wanted(PassKind::BehindDepth, "how far away what they hide is")};
        })
        .summaryOn([](const S& s, const ShownFrame& frame) {
            const std::string focus = formatNumber(s.focus, Unit::Metre);
            if (s.lens == LensMode::Radius)
                return fmt::format("{} · up to {}", focus, formatNumber(s.radius, Unit::Pixel));
            const S lens = withLensOf(s, frame.camera, frame.aspect());
            return fmt::format("{} · {} · {}", focus, formatNumber(s.fNumber, Unit::FNumber),
                               formatNumber(std::round(lens.focalLength), Unit::Millimetre));
        })
        .laneOn(DepthLane::Shape::Span, DepthLane::Purpose::Focus,
                [](const S& s, const ShownFrame& frame) {
                    return [lens = withLensOf(s, frame.camera, frame.aspect())](float metres) {
                        // As wide as it would be in a picture of this many pixels, whatever the frame's are.
                        const float r = std::abs(blurRadius(metres, lens, 1920.0F));
                        return std::clamp(r / 24.0F, 0.0F, 1.0F);
                    };
                })
        .handle(
            "focus", "focus", "focus", [](const S& s) { return s.focus; },
            [](const S&, float metres) { return metres; })
        .handle(
            "from", "sharp from", "span_near",
            [](const S& s) { return std::max(0.01F, s.focus - s.spanNear); },
            [](const S& s, float metres) { return std::max(0.0F, s.focus - metres); })
        .handle(
            "to", "sharp to", "span_far", [](const S& s) { return s.focus + s.spanFar; },
            [](const S& s, float metres) { return std::max(0.0F, metres - s.focus); })
        .suited([](Settings& s, const Surroundings& around) {
            if (const float metres = distanceIn(around); metres > 0.0F)
                s.set("focus", roundDigits(metres));
            openEnough(s, around);
        })
        .focusedBy("focus")
        .area([](const WorkingFrame& frame, const S& s, const RunContext& run) {
            WorkingFrame out = frame;
            out.setPicture(throughLens(frame, s, {}, run));
            if (!run.stopped())
                writeBlurRadius(out, frame, s, run);
            return out;
        })
        .carries([](const WorkingFrame& frame, const S& s, const CarriedMask& mask,
                    const RunContext& run) {
            return throughLens(frame, s, {mask.share, mask.ofLight}, run);
        })
        .build();
}

}  // namespace noctis
