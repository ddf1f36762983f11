#include "core/passes/pass_set.h"

#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/passes/derived_pixels.h"
#include "core/passes/normal_from_places.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr const char* kNoCamera = "No camera in these files, so a level one of 40° is assumed: "
                                  "distances off the middle and heights "
                                  "are approximate; write the camera's matrices with the passes.";

/// Fills the channels of a new pass by work(x, y, out), where out[c] is channel c's sample.
template <typename Work>
Pass derivePass(const PassSet& set, PassKind kind, const Pass& from, const Work& work) {
    const PassKindInfo& info = passKindInfo(kind);
    Pass pass;
    pass.name = info.id;
    pass.kind = kind;
    pass.derived = true;
    pass.sampling = from.sampling;
    if (!set.camera)
        pass.warnings.emplace_back(kNoCamera);
    pass.image = Image::unset(set.width, set.height, info.channels);
    std::vector<float*> planes;
    for (int c = 0; c < pass.image.channels(); ++c)
        planes.push_back(pass.image.editPlane(c));
    forEachBand(set.height, kBandHeight, {}, [&](int y0, int y1) {
        std::array<float, 3> out{};
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < set.width; ++x) {
                work(x, y, out);
                for (std::size_t c = 0; c < planes.size(); ++c)
                    planes[c][pass.image.rowStride() * y + x] = out[c];
            }
    });
    return pass;
}

using Out = std::array<float, 3>;

/// The pass that one of those of kind is derived from.
const Pass* sourceOf(const PassSet& set, PassKind kind) {
    for (const PassKind from : {PassKind::Distance, PassKind::Depth, PassKind::Position})
        if (const Pass* pass = from == kind ? nullptr : set.find(from))
            return pass;
    return nullptr;
}

Pass deriveDepth(const PassSet& set) {
    const DerivedPixels pixels(set);
    return derivePass(set, PassKind::Depth, *sourceOf(set, PassKind::Depth),
                      [&](int x, int y, Out& out) { out[0] = pixels.depth(x, y); });
}

Pass deriveDistance(const PassSet& set) {
    const DerivedPixels pixels(set);
    return derivePass(set, PassKind::Distance, *sourceOf(set, PassKind::Distance),
                      [&](int x, int y, Out& out) { out[0] = pixels.distance(x, y); });
}

Pass derivePosition(const PassSet& set) {
    const DerivedPixels pixels(set);
    return derivePass(set, PassKind::Position, *sourceOf(set, PassKind::Position),
                      [&](int x, int y, Out& out) {
                          const V3f world = pixels.position(x, y);
                          out = {world.x, world.y, world.z};
                      });
}

/// Those of the surface itself, by the places beside each.
Pass deriveNormal(const PassSet& set) {
    if (const Pass* facing = set.find(PassKind::FacingNormal)) {
        Pass pass = *facing;
        pass.name = passKindInfo(PassKind::Normal).id;
        pass.kind = PassKind::Normal;
        pass.derived = true;
        return pass;
    }
    const Pass position = resolvePass(set, PassKind::Position);
    const Pass depth = resolvePass(set, PassKind::Depth);
    const DerivedPixels pixels(set);
    const auto placeAt = [&](int x, int y) {
        return V3f(position.image(x, y, 0), position.image(x, y, 1), position.image(x, y, 2));
    };
    const auto depthAt = [&](int x, int y) { return depth.image(x, y, 0); };
    Pass pass = derivePass(set, PassKind::Normal, depth, [&](int x, int y, Out& out) {
        const V3f normal = normalFromPlaces(placeAt, depthAt, pixels.ray(x, y).direction, set.width,
                                            set.height, x, y);
        out = {normal.x, normal.y, normal.z};
    });
    pass.space = "world";
    return pass;
}

}  // namespace

const Pass* PassSet::find(PassKind kind) const noexcept {
    const auto found =
        std::find_if(passes.begin(), passes.end(), [&](const Pass& p) { return p.kind == kind; });
    return found == passes.end() ? nullptr : &*found;
}

const Pass* PassSet::find(std::string_view name) const noexcept {
    const auto found =
        std::find_if(passes.begin(), passes.end(), [&](const Pass& p) { return p.name == name; });
    return found == passes.end() ? nullptr : &*found;
}

Pass* PassSet::find(std::string_view name) noexcept {
    return const_cast<Pass*>(std::as_const(*this).find(name));
}

void PassSet::put(Pass pass) {
    if (empty()) {
        width = pass.image.width();
        height = pass.image.height();
    } else if (pass.image.width() != width || pass.image.height() != height) {
        throw Error(ErrorCode::ShapeMismatch,
                    fmt::format("pass {} is {} x {} but the picture is {} x {}; render or export "
                                "it at the picture's size",
                                pass.name, pass.image.width(), pass.image.height(), width, height));
    }
    if (Pass* old = find(std::string_view(pass.name)))
        *old = std::move(pass);
    else
        passes.push_back(std::move(pass));
}

PassSet shrink(const PassSet& set, int factor) {
    PassSet small = set;
    small.width = (set.width + factor - 1) / factor;
    small.height = (set.height + factor - 1) / factor;
    for (Pass& pass : small.passes)
        pass = shrink(pass, factor);
    return small;
}

bool canResolve(const PassSet& set, PassKind kind) {
    if (set.find(kind) != nullptr)
        return true;
    switch (kind) {
    case PassKind::Depth:
        return set.find(PassKind::Distance) != nullptr ||
               (set.find(PassKind::Position) != nullptr && set.camera);
    case PassKind::Distance:
    case PassKind::Mist:
        return canResolve(set, PassKind::Depth);
    case PassKind::Position:
        return set.find(PassKind::Distance) != nullptr || set.find(PassKind::Depth) != nullptr;
    case PassKind::Normal:
        return set.find(PassKind::FacingNormal) != nullptr ||
               (canResolve(set, PassKind::Position) && canResolve(set, PassKind::Depth));
    default:
        return false;
    }
}

std::optional<Pass> tryResolvePass(const PassSet& set, PassKind kind) {
    if (const Pass* measured = set.find(kind))
        return *measured;
    if (!canResolve(set, kind))
        return std::nullopt;
    switch (kind) {
    case PassKind::Depth:
        return deriveDepth(set);
    case PassKind::Distance:
        return deriveDistance(set);
    case PassKind::Position:
        return derivePosition(set);
    case PassKind::Mist:
        return mistFromDepth(resolvePass(set, PassKind::Depth), set.mist);
    case PassKind::Normal:
        return deriveNormal(set);
    default:
        return std::nullopt;
    }
}

Pass resolvePass(const PassSet& set, PassKind kind) {
    if (std::optional<Pass> pass = tryResolvePass(set, kind))
        return *std::move(pass);
    const bool needsDepth = kind == PassKind::Distance || kind == PassKind::Position ||
                            kind == PassKind::Mist || kind == PassKind::Normal;
    throw Error(ErrorCode::MissingPass,
                fmt::format("there is no {} pass{}; render it or add a file that has it",
                            passKindInfo(kind).id,
                            needsDepth ? " and no depth to derive it from" : ""));
}

Pass mistFromDepth(const Pass& depth, const MistSettings& settings) {
    PassSet frame;
    frame.width = depth.image.width();
    frame.height = depth.image.height();
    frame.camera = assumedCamera();  // mist needs none
    return derivePass(frame, PassKind::Mist, depth, [&](int x, int y, Out& out) {
        out[0] = mistAt(depth.image(x, y, 0), settings);
    });
}

float mistAt(float depth, const MistSettings& settings) noexcept {
    if (std::isnan(depth))
        return 0.0F;
    const float part = (depth - settings.begins) / std::max(settings.full - settings.begins, 1e-6F);
    return std::pow(std::clamp(part, 0.0F, 1.0F), mistPower(settings));
}

float mistPower(const MistSettings& settings) noexcept {
    if (settings.half < settings.begins || settings.half > settings.full)
        return 1.0F;
    const float length = std::max(settings.full - settings.begins, 1e-6F);
    const float half = std::clamp((settings.half - settings.begins) / length, 1e-3F, 1.0F - 1e-3F);
    return std::log(0.5F) / std::log(half);
}

}  // namespace noctis
