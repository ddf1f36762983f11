#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/passes/probe.h"
#include "core/relief/lay_on_plane.h"
#include "core/relief/sources.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

enum class OnPlane { Fit, Ground, Own, View, Places };

struct SurfaceSettings {
    OnPlane plane = OnPlane::Fit;
    V3f point{0.0F};
    V3f normal{0.0F, 1.0F, 0.0F};
    NameList objects{};
    PlaceList places{};
    float metresPerPixel = 0.0F;
    float within = 0.0F;
};

constexpr float kUnknownScale = 0.001F;
constexpr int kWidestChosen = 2048;

void fillRows(Image& heights, const auto& at) {
    float* plane = heights.editPlane(0);
    forEachBand(heights.height(), 32, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < heights.width(); ++x)
                plane[heights.rowStride() * y + x] = at(x, y);
    });
}

bool looksStraightDown(const V3f& towardsViewer) { return towardsViewer.y > 0.999999F; }

/// The places that were hit, by depth; of positions alone, those that are not the world's origin.
bool isHit(const PassSet& set, const Image& position, int x, int y) {
    if (const Pass* depth = set.find(PassKind::Depth))
        return std::isfinite(depth->image(x, y, 0));
    return position(x, y, 0) != 0.0F || position(x, y, 1) != 0.0F || position(x, y, 2) != 0.0F;
}

/// For positions alone: a depth that only says where something was hit.
Pass hitsOf(const PassSet& set) {
    const Image& position = set.find(PassKind::Position)->image;
    Pass hits;
    hits.name = passKindInfo(PassKind::Depth).id;
    hits.kind = PassKind::Depth;
    hits.image = Image(set.width, set.height, {"Z"}, kNothingHit);
    float* to = hits.image.editPlane(0);
    for (int y = 0; y < set.height; ++y)
        for (int x = 0; x < set.width; ++x)
            if (isHit(set, position, x, y))
                to[hits.image.rowStride() * y + x] = 1.0F;
    return hits;
}

/// A parallel view: cell for pixel, heights above the plane through the world's origin.
HeightField fromParallel(const PassSet& set, const Camera& camera, PassKind kind) {
    HeightField field;
    field.metresPerPixel = camera.orthographicHeight / static_cast<float>(set.height);
    V3f right;
    V3f up;
    V3f towards;
    camera.cameraToWorld.multDirMatrix(V3f(1, 0, 0), right);
    camera.cameraToWorld.multDirMatrix(V3f(0, 1, 0), up);
    camera.cameraToWorld.multDirMatrix(V3f(0, 0, 1), towards);
    const bool down = looksStraightDown(towards);
    if (down) {  // a view that is a hair off, as some are built, still gives the world's heights
        towards = V3f(0.0F, 1.0F, 0.0F);
        right = V3f(right.x, 0.0F, right.z).normalized();
        up = towards.cross(right);
    }
    field.plane.right = right;
    field.plane.up = up;
    field.plane.normal = towards;
    const float halfWidth = 0.5F * field.metresPerPixel * static_cast<float>(set.width);
    field.plane.origin = camera.position() - towards * camera.position().dot(towards) -
                         right * halfWidth + up * (0.5F * camera.orthographicHeight);
    field.level = down ? "the world's height 0" : "the plane through the world's origin";
    field.heights = unsetHeights(set.width, set.height);
    // Positions are more exact than a depth from far away.
    if (const Pass* measured = set.find(PassKind::Position);
        kind == PassKind::Position || (measured != nullptr && !measured->derived)) {
        const Image& position = measured->image;
        fillRows(field.heights, [&](int x, int y) {
            const V3f p(position(x, y, 0), position(x, y, 1), position(x, y, 2));
            return isHit(set, position, x, y) ? p.dot(towards) : kNotKnown;
        });
        return field;
    }
    const Pass depth = resolvePass(set, PassKind::Depth);
    fillRows(field.heights, [&](int x, int y) {
        const float d = depth.image(x, y, 0);
        if (!std::isfinite(d))
            return kNotKnown;
        const CameraRay ray = cameraRay(camera, static_cast<float>(x) + 0.5F,
                                        static_cast<float>(y) + 0.5F, set.width, set.height);
        return (ray.origin + ray.direction * d).dot(towards);
    });
    return field;
}

/// Without a camera: as seen in parallel, at a scale that is given or guessed.
HeightField withoutCamera(const Pass& depth, float metresPerPixel) {
    HeightField field;
    field.metresPerPixel = metresPerPixel > 0.0F ? metresPerPixel : kUnknownScale;
    if (metresPerPixel <= 0.0F)
        field.warnings.push_back(
            fmt::format("No camera came with the depth: {} a pixel is assumed; "
                        "set metres a pixel if slopes matter.",
                        lengthText(static_cast<double>(kUnknownScale))));
    field.plane.up = V3f(0.0F, 1.0F, 0.0F);
    field.plane.normal = V3f(0.0F, 0.0F, 1.0F);
    float farthest = 0.0F;
    for (int y = 0; y < depth.image.height(); ++y)
        for (int x = 0; x < depth.image.width(); ++x)
            if (const float d = depth.image(x, y, 0); std::isfinite(d))
                farthest = std::max(farthest, d);
    field.level = "the farthest surface";
    field.heights = unsetHeights(depth.image.width(), depth.image.height());
    fillRows(field.heights, [&](int x, int y) {
        const float d = depth.image(x, y, 0);
        return std::isfinite(d) ? farthest - d : kNotKnown;
    });
    return field;
}

/// Depth of these objects alone; of everything if there are none.
Image depthOf(const PassSet& set, const Image& depth, const NameList& objects) {
    const Pass* matte = set.find(PassKind::Objects);
    if (objects.empty())
        return depth;
    if (matte == nullptr)
        throw Error(ErrorCode::MissingPass, "fitting a plane to objects needs the objects pass");
    Image only = depth;
    float* to = only.editPlane(0);
    for (int y = 0; y < depth.height(); ++y)
        for (int x = 0; x < depth.width(); ++x)
            if (std::find(objects.begin(), objects.end(), matteNameAt(*matte, x, y)) ==
                objects.end())
                to[only.rowStride() * y + x] = kNothingHit;
    return only;
}

ScenePlane planeThroughPlaces(const Image& position, const Image& depth, const PlaceList& places,
                              const V3f& viewer) {
    std::vector<V3f> points;
    for (const V2f& place : places) {
        const int x = std::clamp(static_cast<int>(place.x), 0, depth.width() - 1);
        const int y = std::clamp(static_cast<int>(place.y), 0, depth.height() - 1);
        if (std::isfinite(depth(x, y, 0)))
            points.emplace_back(position(x, y, 0), position(x, y, 1), position(x, y, 2));
    }
    const V3f normal =
        points.size() < 3 ? V3f(0.0F) : (points[1] - points[0]).cross(points[2] - points[0]);
    if (!(normal.length() > 0.0F))
        throw Error(ErrorCode::BadSetting,
                    "a plane needs three places on surfaces that aren't in a line");
    ScenePlane plane{points[0], normal.normalized()};
    if ((viewer - plane.point).dot(plane.normal) < 0.0F)
        plane.normal = -plane.normal;
    return plane;
}

HeightField inPerspective(const PassSet& set, const Camera& camera, const SurfaceSettings& s,
                          const RunContext& run) {
    const Pass position = resolvePass(set, PassKind::Position);
    const Pass depth = resolvePass(set, PassKind::Depth);
    LaySettings lay;
    lay.within = s.within;
    std::string level;
    switch (s.plane) {
    case OnPlane::Ground:
        lay.plane = {V3f(0.0F), V3f(0.0F, 1.0F, 0.0F)};
        level = "the world's height 0";
        break;
    case OnPlane::Own:
        if (!(s.normal.length() > 0.0F))
            throw Error(ErrorCode::BadSetting, "the plane's normal has no length");
        lay.plane = {s.point, s.normal};
        level = "the chosen plane";
        break;
    case OnPlane::View: {
        V3f towards;
        camera.cameraToWorld.multDirMatrix(V3f(0, 0, 1), towards);
        lay.plane = {V3f(0.0F), towards};
        level = "the plane through the world's origin that faces the view";
        break;
    }
    case OnPlane::Places:
        lay.plane = planeThroughPlaces(position.image, depth.image, s.places, camera.position());
        level = "the plane through three places";
        break;
    case OnPlane::Fit:
        lay.plane =
            fittedPlane(position.image, depthOf(set, depth.image, s.objects), camera.position());
        level = s.objects.empty() ? "the plane fitted to what was seen"
                                  : fmt::format("the plane fitted to {}", s.objects.front());
        break;
    }
    lay.metresPerPixel = s.metresPerPixel;
    HeightField field;
    if (lay.metresPerPixel <= 0.0F) {
        // As fine as most of what was seen, unless that makes a map too wide to work on with ease.
        lay.metresPerPixel = pixelSpacing(position.image, depth.image);
        for (;;) {
            try {
                field = layOnPlane(position.image, depth.image, camera.position(), lay, run);
                if (std::max(field.width(), field.height()) <= kWidestChosen)
                    break;
                lay.metresPerPixel *= 1.01F *
                                      static_cast<float>(std::max(field.width(), field.height())) /
                                      static_cast<float>(kWidestChosen);
            } catch (const Error& error) {
                if (error.code() != ErrorCode::TooLarge)
                    throw;
                lay.metresPerPixel *= 4.0F;
            }
        }
        field.notes.push_back(fmt::format("A pixel is {}, from how far apart the seen points lie.",
                                          lengthText(static_cast<double>(lay.metresPerPixel))));
    } else {
        field = layOnPlane(position.image, depth.image, camera.position(), lay, run);
    }
    field.level = level;
    return field;
}

HeightField heightsOf(const ReliefInput& input, const SurfaceSettings& s, PassKind kind,
                      const RunContext& run) {
    PassSet set = input.passes;
    if (kind == PassKind::Position && set.find(PassKind::Position) == nullptr)
        throw Error(ErrorCode::MissingPass, "there is no position pass; use depth instead");
    const Pass* depth = set.find(PassKind::Depth);
    if (!set.camera) {
        if (kind == PassKind::Position) {
            if (depth == nullptr)
                set.put(hitsOf(set));
            // Without a camera, a fitted plane counts as seen from above, which decides the side that is up.
            return inPerspective(set, lookingAt(V3f(0.0F, 1e4F, 0.01F), V3f(0.0F), 0.5F), s, run);
        }
        const Pass resolved = depth != nullptr ? *depth : resolvePass(set, PassKind::Depth);
        return withoutCamera(resolved, s.metresPerPixel);
    }
    return set.camera->orthographic() ? fromParallel(set, *set.camera, kind)
                                      : inPerspective(set, *set.camera, s, run);
}

/// Errors of the depth are errors of its heights.
HeightField fromSurface(const ReliefInput& input, const SurfaceSettings& s, PassKind kind,
                        const RunContext& run) {
    HeightField field = heightsOf(input, s, kind, run);
    if (const Pass* depth = input.passes.find(PassKind::Depth))
        field.warnings.insert(field.warnings.end(), depth->warnings.begin(), depth->warnings.end());
    return field;
}

ReliefSourceType surfaceSource(std::string id, std::string label, std::string help, PassKind kind) {
    using S = SurfaceSettings;
    return ReliefSourceBuilder<S>(std::move(id), std::move(label))
        .help(std::move(help))
        .choice(&S::plane, "plane", "Plane",
                {{"fit", "Fitted to what is seen"},
                 {"ground", "Level ground"},
                 {"own", "Point and direction"},
                 {"view", "Facing the view"},
                 {"places", "Through three places"}},
                "The plane that heights are measured from, for a view in perspective. A parallel "
                "view has its own.")
        .position(&S::point, "point", "Point", "A point of the plane, in the scene.")
        .onlyWhen("plane=own")
        .direction(&S::normal, "normal", "Up", "The direction in which heights grow.")
        .onlyWhen("plane=own")
        .names(&S::objects, "objects", "Fitted to", TextUse::Objects,
               "The objects to fit the plane to; with none, everything that is seen.")
        .onlyWhen("plane=fit")
        .places(&S::places, "places", "Places", "Three places of the frame on the plane, px.")
        .onlyWhen("plane=places")
        .number(&S::metresPerPixel, "metres_a_pixel", "Metres per pixel", Unit::Metre,
                {0.0F, 1000.0F, 0.1F},
                "The size of a cell on the plane; 0 chooses what fits the view.")
        .unsetIs("fitting")
        .number(&S::within, "within", "Within", Unit::Metre, {0.0F, 1e6F, 200.0F},
                "Leaves out what is farther from the camera; 0 keeps everything.")
        .unsetIs("endless")
        .suits([kind](const ReliefInput& input) {
            return kind == PassKind::Depth ? canResolve(input.passes, PassKind::Depth)
                                           : input.passes.find(kind) != nullptr;
        })
        .make([kind](const ReliefInput& input, const S& s, const RunContext& run) {
            return fromSurface(input, s, kind, run);
        })
        .build();
}

}  // namespace

ReliefSourceType depthSource() {
    return surfaceSource("depth", "Depth",
                         "Heights from distances: exact from above, laid onto a plane from any "
                         "other view.",
                         PassKind::Depth);
}

ReliefSourceType positionSource() {
    return surfaceSource("position", "Positions",
                         "Heights from positions in the scene, laid onto a plane.",
                         PassKind::Position);
}

}  // namespace noctis
