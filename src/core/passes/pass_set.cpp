#include "core/passes/pass_set.h"

#include "core/image/error.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr int kBandHeight = 32;
constexpr const char* kNoCamera = "No file tells the camera, so a level one of 40° is taken: "
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

CameraRay rayOf(const PassSet& set, const Camera& camera, int x, int y) {
    return cameraRay(camera, static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F, set.width,
                     set.height);
}

using Out = std::array<float, 3>;

std::optional<Pass> deriveDepth(const PassSet& set, const Camera& camera) {
    if (const Pass* distance = set.find(PassKind::Distance))
        return derivePass(set, PassKind::Depth, *distance, [&](int x, int y, Out& out) {
            out[0] = distance->image(x, y, 0) * rayOf(set, camera, x, y).planarPerDistance;
        });
    const Pass* position = set.find(PassKind::Position);
    if (position == nullptr || !set.camera)
        return std::nullopt;
    const Pass* coverage = set.find(PassKind::Coverage);
    const M44f toCamera = camera.cameraToWorld.inverse();
    return derivePass(set, PassKind::Depth, *position, [&](int x, int y, Out& out) {
        const V3f world(position->image(x, y, 0), position->image(x, y, 1),
                        position->image(x, y, 2));
        const bool nothing = (coverage != nullptr && coverage->image(x, y, 0) <= 0.0F) ||
                             (coverage == nullptr && world == V3f(0.0F));
        out[0] = nothing ? kNothingHit : -(world * toCamera).z;
    });
}

std::optional<Pass> deriveDistance(const PassSet& set, const Camera& camera) {
    const std::optional<Pass> depth = tryResolvePass(set, PassKind::Depth);
    if (!depth)
        return std::nullopt;
    return derivePass(set, PassKind::Distance, *depth, [&](int x, int y, Out& out) {
        out[0] = depth->image(x, y, 0) / rayOf(set, camera, x, y).planarPerDistance;
    });
}

std::optional<Pass> derivePosition(const PassSet& set, const Camera& camera) {
    const std::optional<Pass> distance = tryResolvePass(set, PassKind::Distance);
    if (!distance)
        return std::nullopt;
    return derivePass(set, PassKind::Position, *distance, [&](int x, int y, Out& out) {
        const float length = distance->image(x, y, 0);
        const CameraRay ray = rayOf(set, camera, x, y);
        const V3f world = std::isfinite(length) ? ray.origin + ray.direction * length : V3f(0.0F);
        out = {world.x, world.y, world.z};
    });
}

std::optional<Pass> deriveMist(const PassSet& set) {
    const std::optional<Pass> depth = tryResolvePass(set, PassKind::Depth);
    if (!depth)
        return std::nullopt;
    return mistFromDepth(*depth, set.mist);
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
        throw Error(
            ErrorCode::ShapeMismatch,
            fmt::format("pass {} is {} x {} and the picture {} x {}; render or export it at "
                        "the picture's size",
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
    default:
        return false;
    }
}

std::optional<Pass> tryResolvePass(const PassSet& set, PassKind kind) {
    if (const Pass* measured = set.find(kind))
        return *measured;
    const Camera camera = set.cameraOrAssumed();
    switch (kind) {
    case PassKind::Depth:
        return deriveDepth(set, camera);
    case PassKind::Distance:
        return deriveDistance(set, camera);
    case PassKind::Position:
        return derivePosition(set, camera);
    case PassKind::Mist:
        return deriveMist(set);
    default:
        return std::nullopt;
    }
}

Pass resolvePass(const PassSet& set, PassKind kind) {
    if (std::optional<Pass> pass = tryResolvePass(set, kind))
        return *std::move(pass);
    const bool needsDepth =
        kind == PassKind::Distance || kind == PassKind::Position || kind == PassKind::Mist;
    throw Error(ErrorCode::MissingPass,
                fmt::format("there is no {} pass{}; render it in Survey or add a file that has it",
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
    const float part = (depth - settings.start) / std::max(settings.length, 1e-6F);
    return std::pow(std::clamp(part, 0.0F, 1.0F), settings.falloff);
}

}  // namespace noctis
