#include "core/relief/map_pass.h"

#include "core/image/error.h"
#include "core/image/resample.h"
#include "core/image/tiles.h"
#include "core/relief/derived_maps.h"

#include <cmath>
#include <functional>

namespace noctis {

namespace {

/// A part of the map's range, beside a cell and its slope, that a surface may be off the map and still be it.
constexpr float kOff = 0.01F;
constexpr float kSameShape = 0.01F;

/// Whether the plane is somewhere in a scene: what has no camera lies on the picture's own.
bool liesInScene(const HeightField& field) {
    const HeightPlane own{V3f(0.0F), V3f(1.0F, 0.0F, 0.0F), V3f(0.0F, 1.0F, 0.0F),
                          V3f(0.0F, 0.0F, 1.0F)};
    return !(field.plane == own);
}

float neutral(PassKind kind) {
    return kind == PassKind::Height      ? std::numeric_limits<float>::quiet_NaN()
           : kind == PassKind::Occlusion ? 1.0F
                                         : 0.0F;
}

/// The map in the world's axes, where its values are directions.
Image inWorld(const HeightField& field, const Image& map) {
    Image out = map;
    for (int y = 0; y < map.height(); ++y)
        for (int x = 0; x < map.width(); ++x) {
            const V3f n = field.plane.right * map(x, y, 0) + field.plane.up * map(x, y, 1) +
                          field.plane.normal * map(x, y, 2);
            for (int c = 0; c < 3; ++c)
                out.editPlane(c)[out.rowStride() * y + x] = n[static_cast<unsigned>(c)];
        }
    return out;
}

/// The most that heights change from a place to the next cells.
float stepAt(const Image& heights, float x, float y, float height) {
    float most = 0.0F;
    for (const auto& [dx, dy] : {std::pair(-1.0F, 0.0F), {1.0F, 0.0F}, {0.0F, -1.0F}, {0.0F, 1.0F}})
        if (const float beside = heightAt(heights, x + dx, y + dy); std::isfinite(beside))
            most = std::max(most, std::abs(beside - height));
    return most;
}

Image byPosition(const HeightField& field, const Image& map, const PassSet& frame, float nothing) {
    const Image position = resolvePass(frame, PassKind::Position).image;
    const Image depth = resolvePass(frame, PassKind::Depth).image;
    const float off = kOff * heightStatisticsOf(field.heights).range() +
                      field.metresPerPixel * std::abs(field.exaggeration);
    Image out = Image::unset(frame.width, frame.height, [&] {
        std::vector<std::string> names;
        for (int c = 0; c < map.channels(); ++c)
            names.push_back(map.channelName(c));
        return names;
    }());
    std::vector<float*> to;
    for (int c = 0; c < out.channels(); ++c)
        to.push_back(out.editPlane(c));
    forEachBand(out.height(), 16, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < out.width(); ++x) {
                const V3f from = V3f(position(x, y, 0), position(x, y, 1), position(x, y, 2)) -
                                 field.plane.origin;
                const float right = from.dot(field.plane.right) / field.metresPerPixel;
                const float down = -from.dot(field.plane.up) / field.metresPerPixel;
                const float high = from.dot(field.plane.normal) * field.exaggeration;
                const bool onMap = right >= 0.0F && right < static_cast<float>(map.width()) &&
                                   down >= 0.0F && down < static_cast<float>(map.height());
                const float there = heightAt(field.heights, right - 0.5F, down - 0.5F);
                const bool seen = onMap && std::isfinite(depth(x, y, 0)) &&
                                  std::abs(there - high) <=
                                      off + stepAt(field.heights, right - 0.5F, down - 0.5F, there);
                for (int c = 0; c < out.channels(); ++c)
                    to[static_cast<std::size_t>(c)][out.rowStride() * y + x] =
                        seen ? map(static_cast<int>(right), static_cast<int>(down), c) : nothing;
            }
    });
    return out;
}

}  // namespace

Pass passOfMap(const HeightField& field, std::string_view map, const PassSet& frame) {
    Pass pass;
    const bool heights = map == "height";
    pass.name = heights ? "height" : "relief." + std::string(map);
    pass.kind = heights ? PassKind::Height : derivedMap(map).kind;
    pass.derived = true;
    pass.image = heights ? field.heights : derivedMap(map).make(field);
    if (pass.kind == PassKind::Normal)
        pass.space = "camera";
    const bool pixels =
        field.places.empty() && field.width() == frame.width && field.height() == frame.height;
    const bool placed = liesInScene(field) && canResolve(frame, PassKind::Position) &&
                        canResolve(frame, PassKind::Depth);
    const float shape = static_cast<float>(field.width()) * static_cast<float>(frame.height) /
                        (static_cast<float>(field.height()) * static_cast<float>(frame.width));
    if (placed) {
        if (pass.kind == PassKind::Normal) {
            pass.image = inWorld(field, pass.image);
            pass.space = "world";
        }
        pass.image = byPosition(field, pass.image, frame, neutral(pass.kind));
    } else if (!pixels && std::abs(shape - 1.0F) < kSameShape) {
        pass.image = resized(pass.image, frame.width, frame.height, Resampling::Linear);
    } else if (!pixels) {
        throw Error(ErrorCode::ShapeMismatch,
                    "the map neither lies in the picture's scene nor has the picture's shape; "
                    "write it to a file, or make it from the picture's own frame");
    }
    const auto& names = passKindInfo(pass.kind).channels;
    if (static_cast<int>(names.size()) == pass.image.channels())
        pass.image = pass.image.select(
            pass.image.channels() == 3 ? std::vector<int>{0, 1, 2} : std::vector<int>{0}, names);
    return pass;
}

}  // namespace noctis
