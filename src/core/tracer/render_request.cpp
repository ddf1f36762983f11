// What is asked of a render: checked, with its moments, its tiles and how its passes are cleaned.
#include "core/tracer/render_request.h"
#include "core/image/error.h"
#include "core/scene/traceable.h"
#include "core/tracer/moment.h"
#include "core/tracer/pass_settings.h"
#include "core/tracer/render.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr float kWidestAperture = 1000.0F;  // m
constexpr float kNearestFocus = 1e-4F;      // m

}  // namespace

bool isRefined(PassKind kind) {
    return kind == PassKind::Beauty || kind == PassKind::Occlusion || kind == PassKind::Bent ||
           kind == PassKind::Shadow || kind == PassKind::GroundShadow || isMadeWithBeauty(kind);
}

std::pair<float, bool> cleaningOf(const PassRequest& request, const BeautySettings& light) {
    if (request.kind == PassKind::Occlusion) {
        const OcclusionSettings s = occlusionSettings(request.settings);
        return {s.denoise, s.keepRaw};
    }
    const bool colours = request.kind == PassKind::DiffuseColour ||
                         request.kind == PassKind::SpecularColour ||
                         request.kind == PassKind::TransmissionColour;
    if (passKindInfo(request.kind).data() || colours || request.kind == PassKind::BehindColour)
        return {0.0F, false};
    return {light.denoise, light.keepRaw};
}

void checkRequest(const RenderRequest& request) {
    if (request.width < 1 || request.height < 1 || request.width > kMaximumSide ||
        request.height > kMaximumSide)
        throw Error(ErrorCode::TooLarge, fmt::format("a frame of {} x {} pixels can't be rendered",
                                                     request.width, request.height));
    std::set<std::string> names;
    for (const PassRequest& pass : request.passes) {
        if (!canRender(pass.kind))
            throw Error(ErrorCode::BadSetting,
                        fmt::format("pass {} can't be rendered", passKindInfo(pass.kind).id));
        if (!names.insert(pass.name()).second)
            throw Error(ErrorCode::BadSetting,
                        fmt::format("pass {} is asked for twice", pass.name()));
    }
}

std::vector<Tile> tilesOf(const RenderRequest& request, int side) {
    std::vector<Tile> tiles = tilesOf(request.width, request.height, side, side);
    if (request.crop) {
        for (Tile& tile : tiles)
            tile = {std::max(tile.x0, request.crop->x0), std::max(tile.y0, request.crop->y0),
                    std::min(tile.x1, request.crop->x1), std::min(tile.y1, request.crop->y1)};
        std::erase_if(tiles, [](const Tile& t) { return t.x0 >= t.x1 || t.y0 >= t.y1; });
    }
    return tiles;
}

TracedFrame tracedFrame(const RenderRequest& request) {
    return {request.view.camera,
            request.width,
            request.height,
            request.seed,
            request.before ? &*request.before : nullptr,
            request.after ? &*request.after : nullptr};
}

RenderRequest traceable(RenderRequest request, std::vector<std::string>& warnings) {
    bool changed = makeTraceable(request.view.camera);
    for (std::optional<Moment>* moment : {&request.before, &request.after})
        if (*moment)
            changed = makeTraceable((*moment)->camera) || changed;
    if (changed)
        warnings.push_back(fmt::format("View {} has a place or an angle that can't be traced, and "
                                       "was brought to one that can.",
                                       request.view.name));
    if (!request.lens)
        return request;
    TracedLens lens = *request.lens;
    const auto within = [](float value, float least, float most) {
        return std::isfinite(value) ? std::clamp(value, least, most) : most;
    };
    lens.apertureRadius = within(lens.apertureRadius, 0.0F, kWidestAperture);
    lens.focusDistance = within(lens.focusDistance, kNearestFocus, kFarthest);
    if (lens.apertureRadius != request.lens->apertureRadius ||
        lens.focusDistance != request.lens->focusDistance)
        warnings.emplace_back("The lens is wider or focused farther than can be traced, and was "
                              "brought within.");
    request.lens = lens;
    return request;
}

RenderRequest withMotion(const Scene& scene, RenderRequest request) {
    const bool wanted = std::any_of(request.passes.begin(), request.passes.end(),
                                    [](const auto& p) { return p.kind == PassKind::Vectors; });
    if (!wanted || !scene.animation || request.before || request.after || !standsAtStart(scene))
        return request;
    const std::optional<std::size_t> own = ownView(scene, request.view);
    const auto at = [&](int frame) {
        return momentAt(scene, request.view, own, secondsOfFrame(frame, request.framesPerSecond));
    };
    request.before = at(0);
    request.after = at(2);
    return request;
}

}  // namespace noctis
