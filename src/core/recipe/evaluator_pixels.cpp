#include "core/recipe/evaluator.h"

#include "core/image/tiles.h"
#include "core/recipe/run_copy.h"

#include <algorithm>
#include <array>
#include <cstring>

// How pixels go through steps; what goes through which is decided in evaluator.cpp.

namespace noctis {

namespace {

std::size_t bytesOf(int count) noexcept { return sizeof(float) * static_cast<std::size_t>(count); }

/// A pass as a step wrote it, where the step works; data are never blended: half of it decides.
Image withinPart(const Image& before, const Image& after, float amount, const MaskFunction& mask,
                 const Image& picture, bool blends, const RunContext& run) {
    Image out = after;
    for (int c = 0; c < out.channels(); ++c) {
        float* to = out.editPlane(c);
        forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
            alignas(64) float part[kRunLength];
            std::fill(part, part + kRunLength, 1.0F);
            for (int y = y0; y < y1; ++y)
                for (int x = 0; x < out.width(); x += kRunLength) {
                    const int count = std::min(kRunLength, out.width() - x);
                    if (mask)
                        mask({part, picture.row(0, y) + x, picture.row(1, y) + x,
                              picture.row(2, y) + x, x, y, count});
                    float* row = to + out.rowStride() * y + x;
                    const float* old = before.row(c, y) + x;
                    for (int i = 0; i < count; ++i) {
                        const float share = part[i] * amount;
                        if (blends)
                            row[i] = old[i] + (row[i] - old[i]) * share;
                        else if (share < 0.5F)
                            row[i] = old[i];
                    }
                }
        });
    }
    return out;
}

/// An opaque picture, with the alpha that says so.
Image withAlpha(Image picture) {
    picture.append(Image(picture.width(), picture.height(), {"A"}, 1.0F));
    return picture;
}

/// Below it, as a part of the picture's white, light is too dim to weigh a mask by.
constexpr float kDark = 1e-6F;

/// A mask, of one channel for all or one each, with a picture's channels.
Image asChannelsOf(const Image& picture, const Image& mask) {
    std::vector<int> planes;
    std::vector<std::string> names;
    for (int c = 0; c < picture.channels(); ++c) {
        planes.push_back(std::min(c, mask.channels() - 1));
        names.push_back(picture.channelName(c));
    }
    return mask.select(planes, names);
}

}  // namespace

void Evaluator::workOn(const Ready& ready, const Stretch& part, const PointRow& run,
                       const float (&mask)[3][kRunLength], float (&before)[3][kRunLength]) {
    const Step& step = *ready.step;
    const PointRow row{run.r + part.from, run.g + part.from,
                       run.b + part.from, run.a == nullptr ? nullptr : run.a + part.from,
                       run.x + part.from, run.y,
                       part.count};
    if (replacesAll(step) && part.covered == Stretch::Covered::All)
        return ready.work(row);
    float* const channels[3] = {row.r, row.g, row.b};
    for (std::size_t c = 0; c < 3; ++c)
        std::memcpy(before[c], channels[c], bytesOf(part.count));
    ready.work(row);
    for (std::size_t c = 0; c < 3; ++c)
        blendRow(step.blend, step.amount,
                 ready.mask ? mask[ready.maskChannels == 1 ? 0 : c] + part.from : nullptr,
                 before[c], channels[c], static_cast<std::size_t>(part.count));
}

WorkingFrame Evaluator::runPoints(const WorkingFrame& from, const std::vector<Ready>& steps,
                                  const RunContext& run) {
    m_stepsRun += steps.size();
    const Image& picture = from.picture();
    Image out = Image::unset(picture.width(), picture.height(), {"R", "G", "B"});
    const std::array<float*, 3> to{out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    forEachBand(picture.height(), kBandHeight, run, [&](int y0, int y1) {
        alignas(64) float now[3][kRunLength];
        alignas(64) float before[3][kRunLength];
        alignas(64) float mask[3][kRunLength];
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < picture.width(); x += kRunLength) {
                const int count = std::min(kRunLength, picture.width() - x);
                const float* alpha = from.hasAlpha() ? picture.row(3, y) + x : nullptr;
                for (int c = 0; c < 3; ++c)
                    fetchRun(picture.row(c, y) + x, now[c], count);
                Stretches masked;
                for (const Ready& ready : steps) {
                    if (ready.mask && !ready.sameMask) {
                        for (int c = 0; c < ready.maskChannels; ++c)
                            ready.mask({mask[c], now[0], now[1], now[2], x, y, count, c});
                        masked = Stretches(mask, ready.maskChannels, count);
                    }
                    for (const Stretch& part : ready.mask ? masked : Stretches(count))
                        if (part.covered != Stretch::Covered::None)
                            workOn(ready, part, {now[0], now[1], now[2], alpha, x, y, count}, mask,
                                   before);
                }
                for (std::size_t c = 0; c < 3; ++c)
                    streamRun(now[c], to[c] + out.rowStride() * y + x, count);
            }
        flushRuns();
    });
    // Nothing here writes alpha: the plane is shared.
    if (from.hasAlpha())
        out.append(picture.select({3}, {"A"}));
    WorkingFrame result = from;
    result.setPicture(std::move(out));
    return result;
}

Image Evaluator::blended(const Step& step, const Image& before, Image after,
                         const MaskFunction& mask, const Image& input, const RunContext& run) {
    if (replacesAll(step) && !mask)
        return after;
    if (after.channels() > before.channels())
        return blended(step, withAlpha(before), std::move(after), mask, input, run);
    const int channels = after.channels();
    std::vector<float*> to;
    for (int c = 0; c < channels; ++c)
        to.push_back(after.editPlane(c));
    forEachBand(after.height(), kBandHeight, run, [&](int y0, int y1) {
        alignas(64) float part[kRunLength];
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < after.width(); x += kRunLength) {
                const int count = std::min(kRunLength, after.width() - x);
                for (int c = 0; c < channels; ++c) {
                    if (mask)
                        mask({part, input.row(0, y) + x, input.row(1, y) + x, input.row(2, y) + x,
                              x, y, count, c});
                    // Alpha isn't light: it only blends from one to the other.
                    blendRow(c < 3 ? step.blend : Blend::Normal, step.amount, mask ? part : nullptr,
                             before.row(c, y) + x,
                             to[static_cast<std::size_t>(c)] + after.rowStride() * y + x,
                             static_cast<std::size_t>(count));
                }
            }
    });
    return after;
}

WorkingFrame Evaluator::runArea(const Going& going, std::size_t index, const WorkingFrame& from,
                                const RunContext& run) {
    ++m_stepsRun;
    const Planned& planned = going.plan[index];
    const Step& step = *planned.step;
    const bool everywhere = planned.where.everywhere();
    const bool fromWhere = !everywhere && planned.type->areaFromWhere;
    WorkingFrame out = fromWhere
                           ? planned.type->areaFromWhere(
                                 from, step.settings,
                                 maskPlanes(planned.where, maskInput(going, index, from), run), run)
                           : planned.type->area(from, step.settings, run);
    if (run.stopped() || (replacesAll(step) && (everywhere || fromWhere)))
        return out;
    const MaskFunction mask = everywhere || fromWhere
                                  ? MaskFunction()
                                  : maskOf(planned.where, maskInput(going, index, from), run);
    const Image& before = from.picture();
    out.setPicture(blended(step, before, out.picture(), mask, before, run));
    for (const PassName& name : planned.type->writes)
        if (from.has(name) && out.has(name) && !run.stopped())
            out.write(name, withinPart(from.pass(name), out.pass(name), step.amount, mask, before,
                                       name.kind == PassKind::Coverage, run));
    return out;
}

Image Evaluator::carriedThrough(const Going& going, std::size_t index, const WorkingFrame& before,
                                const Image& after, const Image& mask, const RunContext& run) {
    const Planned& planned = going.plan[index];
    const Step& step = *planned.step;
    const Image& picture = before.picture();
    const Image share = asChannelsOf(picture, mask);
    const bool everywhere = planned.where.everywhere();
    const bool fromWhere = !everywhere && planned.type->areaFromWhere;
    const MaskFunction within = everywhere || fromWhere
                                    ? MaskFunction()
                                    : maskOf(planned.where, maskInput(going, index, before), run);
    const Image where =
        fromWhere ? maskPlanes(planned.where, maskInput(going, index, before), run) : Image();
    const auto through = [&](bool ofLight) {
        const CarriedMask carriedMask{share, ofLight, where};
        Image moved = planned.type->carry(before, step.settings, carriedMask, run);
        return run.stopped() ? moved
                             : blended(step, maskedLight(picture, carriedMask), std::move(moved),
                                       within, picture, run);
    };
    Image carried = through(true);
    bool dark = false;
    for (int c = 0; c < carried.channels() && !run.stopped(); ++c) {
        float* to = carried.editPlane(c);
        for (int y = 0; y < carried.height(); ++y)
            for (int x = 0; x < carried.width(); ++x) {
                float& value = to[carried.rowStride() * y + x];
                const float all = after(x, y, c);
                dark = dark || !(all >= kDark);
                value = all >= kDark ? std::clamp(value / all, 0.0F, 1.0F) : 0.0F;
            }
    }
    if (!dark || run.stopped())
        return carried;
    const Image plain = through(false);
    for (int c = 0; c < carried.channels() && !run.stopped(); ++c) {
        float* to = carried.editPlane(c);
        for (int y = 0; y < carried.height(); ++y)
            for (int x = 0; x < carried.width(); ++x)
                if (!(after(x, y, c) >= kDark))
                    to[carried.rowStride() * y + x] = std::clamp(plain(x, y, c), 0.0F, 1.0F);
    }
    return carried;
}

WorkingFrame Evaluator::mixed(const Going& going, const GroupMix& mix, const WorkingFrame& before,
                              WorkingFrame after, std::size_t end, const RunContext& run) {
    const Step& group = *mix.group;
    const MaskFunction mask = mix.where.everywhere()
                                  ? MaskFunction()
                                  : maskOf(mix.where, maskInput(going, mix.first, before), run);
    const Image& picture = before.picture();
    after.setPicture(blended(group, picture, after.picture(), mask, picture, run));
    for (std::size_t i = mix.first; i < end; ++i)
        for (const PassName& name : going.plan[i].type->writes)
            if (before.has(name) && after.has(name) && !run.stopped())
                after.write(name, withinPart(before.pass(name), after.pass(name), group.amount,
                                             mask, picture, name.kind == PassKind::Coverage, run));
    return after;
}

Image Evaluator::mixedMask(const Going& going, const GroupMix& mix, const Image& before,
                           Image after, std::size_t end, const RunContext& run) {
    // What is masked of the group's light is mixed as all of it is.
    const WorkingFrame from = runPlan(going, mix.first, run);
    const WorkingFrame to = runPlan(going, end, run, true);
    if (run.stopped())
        return after;
    const MaskFunction mask = mix.where.everywhere()
                                  ? MaskFunction()
                                  : maskOf(mix.where, maskInput(going, mix.first, from), run);
    const Image& picture = from.picture();
    const auto light = [](const Image& share, const Image& of) {
        return maskedLight(of, {asChannelsOf(of, share), true});
    };
    Step plain;
    plain.amount = mix.group->amount;
    const Image masked =
        blended(plain, light(before, picture), light(after, to.picture()), mask, picture, run);
    const Image all = blended(plain, picture, to.picture(), mask, picture, run);
    Image out = all;
    for (int c = 0; c < out.channels() && !run.stopped(); ++c) {
        float* plane = out.editPlane(c);
        const int was = std::min(c, after.channels() - 1);
        for (int y = 0; y < out.height(); ++y)
            for (int x = 0; x < out.width(); ++x)
                plane[out.rowStride() * y + x] =
                    all(x, y, c) >= kDark ? std::clamp(masked(x, y, c) / all(x, y, c), 0.0F, 1.0F)
                                          : after(x, y, was);
    }
    return out;
}

}  // namespace noctis
