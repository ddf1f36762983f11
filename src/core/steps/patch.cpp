#include "core/steps/patch.h"

#include "core/image/error.h"
#include "core/image/resample.h"
#include "core/image/tiles.h"
#include "core/passes/picture_pass.h"
#include "core/steps/frame_size.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr int kLooksAcross = 160;           ///< places compared in a row
constexpr std::size_t kEnoughToJudge = 30;  ///< of them
constexpr float kOfExposure =
    0.1F;  ///< stops that count as a difference, and that half of all may differ by
constexpr float kSameView = 1e-3F;  ///< m, and the same of directions

float luminanceOf(const Image& image, int x, int y) noexcept {
    return 0.2126F * image(x, y, 0) + 0.7152F * image(x, y, 1) + 0.0722F * image(x, y, 2);
}

const Pass& layerOf(const PassSet& passes, const PatchSettings& s) {
    const std::string file = s.picture.path.filename().string();
    const Pass* found =
        s.layer.empty() ? picturePass(passes) : passes.find(std::string_view(s.layer));
    if (found == nullptr) {
        std::string names;
        for (const Pass& pass : passes.passes)
            names += (names.empty() ? "" : ", ") + pass.name;
        throw Error(ErrorCode::UnknownName,
                    fmt::format("{} has no {}; it has {}", file,
                                s.layer.empty() ? "picture" : "pass " + s.layer, names));
    }
    if (found->image.channels() < 3)
        throw Error(ErrorCode::ShapeMismatch,
                    fmt::format("{} of {} is no picture in colour", found->name, file));
    return *found;
}

/// Says what of it doesn't fit the frame.
void checkFits(const PassSet& passes, const PatchSettings& s, const FrameContext& context) {
    const std::string file = s.picture.path.filename().string();
    requireFrameSize(s.picture.path, passes.width, passes.height, context);
    if (!passes.camera || !context.full().camera)
        return;
    const M44f& its = passes.camera->cameraToWorld;
    const M44f& own = context.full().camera->cameraToWorld;
    const V3f moved = its.translation() - own.translation();
    if (moved.length() > kSameView)
        throw Error(ErrorCode::ShapeMismatch,
                    fmt::format("the camera of {} stands {} away from the frame's", file,
                                formatNumber(moved.length(), Unit::Metre)));
    const V3f viewing(its[2][0] - own[2][0], its[2][1] - own[2][1], its[2][2] - own[2][2]);
    if (viewing.length() > kSameView ||
        std::abs(passes.camera->yfovRadians - context.full().camera->yfovRadians) > kSameView)
        throw Error(
            ErrorCode::ShapeMismatch,
            fmt::format("the camera of {} has another direction or lens than the frame's", file));
}

/// How many stops brighter the patch is than the picture where both show the same surfaces: a difference of exposure
/// is the same everywhere, one of paint isn't.
std::optional<float> brighterBy(const PassSet& passes, const Image& part,
                                const FrameContext& context) {
    const Pass* picture = picturePass(context.full());
    const Pass* own = context.full().find(PassKind::Depth);
    const Pass* its = passes.find(PassKind::Depth);
    if (picture == nullptr || picture->image.channels() < 3)
        return std::nullopt;
    std::vector<float> stops;
    const int step = std::max(part.width() / kLooksAcross, 1);
    for (int y = step / 2; y < part.height(); y += step)
        for (int x = step / 2; x < part.width(); x += step) {
            if (part.channels() > 3 && !(part(x, y, 3) > 0.99F))
                continue;
            if (own != nullptr && its != nullptr &&
                !(std::abs(own->image(x, y, 0) - its->image(x, y, 0)) <
                  0.01F * own->image(x, y, 0)))
                continue;
            const float before = luminanceOf(picture->image, x, y);
            const float now = luminanceOf(part, x, y);
            if (before > 1e-4F && now > 1e-4F && std::isfinite(before) && std::isfinite(now))
                stops.push_back(std::log2(now / before));
        }
    if (stops.size() < kEnoughToJudge)
        return std::nullopt;
    const auto quantile = [&](double part_) {
        const auto at = stops.begin() +
                        static_cast<std::ptrdiff_t>(part_ * static_cast<double>(stops.size() - 1));
        std::ranges::nth_element(stops, at);
        return *at;
    };
    const float spread = quantile(0.75) - quantile(0.25);
    const float middle = quantile(0.5);
    if (spread > kOfExposure || std::abs(middle) < kOfExposure)
        return std::nullopt;
    return middle;
}

Image atScale(const Image& image, int factor, bool colour) {
    if (factor == 1)
        return image;
    return colour ? shrinkByMean(image, factor) : shrinkByCentre(image, factor);
}

/// Data of the patch where it covers half of a pixel and more.
Image replaced(const Image& own, const Image& its, const Image& alpha) {
    Image out = own;
    for (int c = 0; c < out.channels(); ++c) {
        float* to = out.editPlane(c);
        for (int y = 0; y < out.height(); ++y)
            for (int x = 0; x < out.width(); ++x)
                if (alpha.empty() || alpha(x, y, 0) >= 0.5F)
                    to[out.rowStride() * y + x] = its(x, y, c);
    }
    return out;
}

WorkingFrame patched(const WorkingFrame& frame, const PatchSettings& s, const RunContext& run) {
    const FrameContext& context = frame.context();
    const std::shared_ptr<const PassSet> passes = context.passesOf(s.picture.path);
    checkFits(*passes, s, context);
    const Image part = atScale(layerOf(*passes, s).image, context.factor(), true);
    const Image alpha = part.channels() > 3 ? part.select({3}, {"A"}) : Image();
    Image out = frame.picture();
    std::vector<float*> to;
    for (int c = 0; c < std::min(out.channels(), 4); ++c)
        to.push_back(out.editPlane(c));
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (std::size_t c = 0; c < to.size(); ++c) {
                float* row = to[c] + out.rowStride() * y;
                const float* over = alpha.empty() ? nullptr : alpha.row(0, y);
                const float* light = c < 3 ? part.row(static_cast<int>(c), y) : over;
                for (int x = 0; x < out.width(); ++x) {
                    const float open = over == nullptr ? 0.0F : 1.0F - over[x];
                    row[x] = (light == nullptr ? 1.0F : light[x]) + open * row[x];
                }
            }
    });
    if (run.stopped())
        return frame;
    WorkingFrame result = frame;
    result.setPicture(std::move(out));
    for (const PassKind kind : {PassKind::Depth, PassKind::Normal})
        if (const Pass* its = passes->find(kind); its != nullptr && frame.has(PassName{kind, {}}))
            result.write({kind, {}}, replaced(frame.pass(kind),
                                              atScale(its->image, context.factor(), false), alpha));
    return result;
}

}  // namespace

StepType patchStep() {
    using S = PatchSettings;
    return StepBuilder<S>("patch", "Patch")
        .version(1)
        .phase(Phase::Light)
        .help("Lays a part that was rendered anew over the picture, by its alpha or by a Where: "
              "another "
              "finish, a mended mistake. Occlusion after it shades it, too.")
        .file(&S::picture, "picture", "Picture", TextUse::PictureFile,
              "A render of the same view, in the same size.")
        .text(&S::layer, "layer", "Layer", TextUse::Free,
              "The pass of its file to take; empty takes its picture.")
        .unsetIs("its picture")
        .preset("Its picture", {{"layer", std::string()}})
        .writes({{PassKind::Depth, {}}, {PassKind::Normal, {}}})
        .reads([](const S&) {
            return std::vector<PassNeed>{wanted(PassKind::Depth, "what it stands in for"),
                                         wanted(PassKind::Normal, "what it stands in for")};
        })
        .summary([](const S& s) {
            return s.picture.path.empty()
                       ? std::string("no picture")
                       : fmt::format("{}{}", s.picture.path.filename().string(),
                                     s.layer.empty() ? std::string() : " · " + s.layer);
        })
        .notices([](const S& s, const FrameContext& context) -> std::vector<std::string> {
            if (s.picture.path.empty())
                return {};
            try {
                const auto passes = context.passesOf(s.picture.path);
                checkFits(*passes, s, context);
                if (const auto stops = brighterBy(*passes, layerOf(*passes, s).image, context))
                    return {fmt::format("{} is {:.1f} EV {} than the picture.",
                                        s.picture.path.filename().string(), std::abs(*stops),
                                        *stops > 0.0F ? "brighter" : "darker")};
            } catch (const Error&) {
                // The step says so itself.
            }
            return {};
        })
        .area([](const WorkingFrame& frame, const S& s, const RunContext& run) {
            return s.picture.path.empty() ? frame : patched(frame, s, run);
        })
        .build();
}

}  // namespace noctis
