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

/// The slope of the surface between a pixel and its neighbour on either side, whichever lies nearer: across
/// an edge there is no slope.
V3f slopeAt(const Image& position, const Image& depth, int x, int y, int dx, int dy) {
    const auto at = [&](int u, int v) {
        return V3f(position(u, v, 0), position(u, v, 1), position(u, v, 2));
    };
    const auto away = [&](int way) {
        const int u = x + way * dx;
        const int v = y + way * dy;
        if (u < 0 || v < 0 || u >= depth.width() || v >= depth.height() ||
            !std::isfinite(depth(u, v, 0)))
            return kNothingHit;
        return std::abs(depth(u, v, 0) - depth(x, y, 0));
    };
    const float before = away(-1);
    const float after = away(1);
    if (!std::isfinite(std::min(before, after)))
        return V3f(0.0F);
    return after <= before ? at(x + dx, y + dy) - at(x, y) : at(x, y) - at(x - dx, y - dy);
}

/// Those of the surface itself, by the places beside each.
std::optional<Pass> deriveNormal(const PassSet& set, const Camera& camera) {
    if (const Pass* facing = set.find(PassKind::FacingNormal)) {
        Pass pass = *facing;
        pass.name = passKindInfo(PassKind::Normal).id;
        pass.kind = PassKind::Normal;
        pass.derived = true;
        return pass;
    }
    const std::optional<Pass> position = tryResolvePass(set, PassKind::Position);
    const std::optional<Pass> depth = tryResolvePass(set, PassKind::Depth);
    if (!position || !depth)
        return std::nullopt;
    Pass pass = derivePass(set, PassKind::Normal, *depth, [&](int x, int y, Out& out) {
        out = {};
        if (!std::isfinite(depth->image(x, y, 0)))
            return;
        const V3f across = slopeAt(position->image, depth->image, x, y, 1, 0);
        const V3f down = slopeAt(position->image, depth->image, x, y, 0, 1);
        V3f normal = down.cross(across);
        const CameraRay ray = rayOf(set, camera, x, y);
        if (normal.length2() < 1e-24F || !std::isfinite(normal.length2()))
            normal = -ray.direction;
        if (normal.dot(ray.direction) > 0.0F)
            normal = -normal;
        normal.normalize();
        out = {normal.x, normal.y, normal.z};
    });
    pass.space = "world";
    return pass;
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
    case PassKind::Normal:
        return deriveNormal(set, camera);
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
