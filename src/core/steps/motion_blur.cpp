#include "core/steps/motion_blur.h"

#include "core/image/tiles.h"
#include "core/steps/screen_motion.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr float kFirstWay = 0.02F;  ///< of the width, where nothing says how things move
constexpr float kStands = 0.25F;    ///< px, up to which a thing stands still
constexpr float kMoves = 1.0F;      ///< px, from which it moves

Image motionOf(const WorkingFrame& frame, const MotionBlurSettings& s) {
    if (s.direction == V2f(0.0F))
        return screenMotion(frame);
    const V2f by = s.direction * frame.context().pixelScale();
    Image motion(frame.width(), frame.height(), {"PX", "PY", "NX", "NY"});
    const float values[] = {-by.x, -by.y, by.x, by.y};
    for (int c = 0; c < 4; ++c) {
        float* to = motion.editPlane(c);
        for (int y = 0; y < motion.height(); ++y)
            std::fill_n(to + motion.rowStride() * y, motion.width(), values[c]);
    }
    return motion;
}

/// Whether a pixel moves isn't a matter of colour: the first channel says.
Image oneChannel(const Image& share) { return share.empty() ? Image() : share.select({0}, {"Y"}); }

/// What is behind, with the picture's channels: opaque where it was measured.
Image behindIn(const WorkingFrame& frame, const Image& light) {
    const Image colour = frame.passIfThere({PassKind::BehindColour, {}});
    const Image depth = frame.passIfThere({PassKind::BehindDepth, {}});
    if (colour.empty() || depth.empty() || !colour.sameSize(light))
        return {};
    Image behind = light;
    for (int c = 0; c < behind.channels(); ++c) {
        float* to = behind.editPlane(c);
        for (int y = 0; y < behind.height(); ++y)
            for (int x = 0; x < behind.width(); ++x)
                to[behind.rowStride() * y + x] = !std::isfinite(depth(x, y, 0)) ? kNothingHit
                                                 : c < 3                        ? colour(x, y, c)
                                                                                : 1.0F;
    }
    return behind;
}

/// The still picture over what moves.
void laySharp(Image& out, const Image& still, const Image& motion, const Image& moves,
              const MotionBlurSettings& s) {
    for (int c = 0; c < out.channels(); ++c) {
        float* to = out.editPlane(c);
        for (int y = 0; y < out.height(); ++y)
            for (int x = 0; x < out.width(); ++x) {
                const float pixels =
                    s.shutter * std::max(std::hypot(motion(x, y, 0), motion(x, y, 1)),
                                         std::hypot(motion(x, y, 2), motion(x, y, 3)));
                const float part = s.keepSharp * (moves.empty() ? 1.0F : moves(x, y, 0)) *
                                   std::clamp((pixels - kStands) / (kMoves - kStands), 0.0F, 1.0F);
                float& value = to[out.rowStride() * y + x];
                value += part * (still(x, y, c) - value);
            }
    }
}

Image blurred(const WorkingFrame& frame, const MotionBlurSettings& s, const Image& light,
              bool ofPicture, const Image& where, const RunContext& run) {
    const Image motion = motionOf(frame, s);
    const Image depth = frame.passIfThere({PassKind::Depth, {}});
    const Image behind = ofPicture ? behindIn(frame, light) : Image();
    const Image moves = oneChannel(where);
    Image out = overTime({light, motion, depth, behind, moves}, s.offset - 0.5F * s.shutter,
                         s.offset + 0.5F * s.shutter, run);
    if (s.keepSharp > 0.0F && !run.stopped())
        laySharp(out, light, motion, moves, s);
    return out;
}

}  // namespace

StepType motionBlurStep() {
    using S = MotionBlurSettings;
    return StepBuilder<S>("motion_blur", "Motion blur")
        .version(1)
        .phase(Phase::Lens)
        .help("Blurs what moves while the shutter is open. Its Where says what moves.")
        .number(&S::shutter, "shutter", "Shutter", Unit::Percent, {0.0F, 2.0F, 1.0F},
                "How long it is open, in percent of the time from frame to frame.")
        .number(&S::offset, "offset", "Offset", Unit::Percent, {-2.0F, 2.0F, 0.5F},
                "How long after this frame the middle of that time is, in percent of a frame.")
        .number(&S::keepSharp, "keep_sharp", "Keep sharp", Unit::Percent, {0.0F, 1.0F, 1.0F},
                "How much of the still picture lies over the streaks.")
        .place(&S::direction, "direction", "Direction",
               "Moves everything this far a frame, right and down, in pixels of the full picture; "
               "0, 0 moves it as its passes and cameras say.")
        .preset("Film, half a frame", {{"shutter", 0.5F}, {"offset", 0.0F}})
        .preset("Streaks under the sharp picture", {{"shutter", 1.0F}, {"keep_sharp", 0.8F}})
        .suited([](Settings& s, const Surroundings& around) {
            const PassSet& passes = around.passes;
            const bool known = passes.find(PassKind::Vectors) != nullptr ||
                               (canResolve(passes, PassKind::Depth) &&
                                (passes.cameraBefore || passes.cameraAfter));
            if (!known)
                s.set("direction",
                      V2f(roundDigits(kFirstWay * static_cast<float>(passes.width)), 0.0F));
        })
        .reads([](const S& s) {
            std::vector<PassNeed> needs{
                wanted(PassKind::Depth, "what passes before what"),
                wanted(PassKind::BehindColour, "what a thing that moves on leaves open")};
            if (s.direction == V2f(0.0F))
                needs.push_back(wanted(PassKind::Vectors, "how things move"));
            return needs;
        })
        .summary([](const S& s) {
            return s.direction == V2f(0.0F)
                       ? fmt::format("{} of a frame", formatNumber(s.shutter, Unit::Percent))
                       : fmt::format("{} of {:.0f}, {:.0f} px",
                                     formatNumber(s.shutter, Unit::Percent), s.direction.x,
                                     s.direction.y);
        })
        .notices([](const S& s, const FrameContext& context) {
            std::vector<std::string> notices;
            if (s.direction == V2f(0.0F))
                if (std::string why = vectorSigns(context).why; !why.empty())
                    notices.push_back(std::move(why));
            return notices;
        })
        .areaFromWhere(
            [](const WorkingFrame& frame, const S& s, const Image& where, const RunContext& run) {
                WorkingFrame out = frame;
                if (s.shutter > 0.0F)
                    out.setPicture(blurred(frame, s, frame.picture(), true, where, run));
                return out;
            })
        .carries([](const WorkingFrame& frame, const S& s, const CarriedMask& mask,
                    const RunContext& run) {
            const Image light = maskedLight(frame.picture(), mask);
            return s.shutter > 0.0F ? blurred(frame, s, light, false, mask.where, run) : light;
        })
        .build();
}

}  // namespace noctis
