#include "core/tracer/seen_before.h"

#include "core/tracer/rgb.h"
#include "core/tracer/stand_in_ground.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

/// How far a place may lie before or behind a pixel's surface, in pixels at its distance.
constexpr float kAsideInPixels = 1.5F;
/// Surfaces with less diffuse colour may be metal, which mirrors in its own colour.
constexpr float kDarkest = 0.02F;
/// Faces that turn away farther than this are other faces.
constexpr float kSameFacing = 0.7F;

V3f vectorAt(const Image& image, int x, int y) noexcept {
    return {image(x, y, 0), image(x, y, 1), image(x, y, 2)};
}

}  // namespace

SeenBefore::SeenBefore(const Camera& camera, const Image& position, const Image& normal,
                       const Image& value, const Image& matt)
    : m_camera(camera), m_toCamera(camera.cameraToWorld.inverse()),
      m_pixel(camera, position.height()), m_width(position.width()), m_height(position.height()) {
    const int last = value.channels() - 1;
    m_seen.reserve(static_cast<std::size_t>(m_width) * static_cast<std::size_t>(m_height));
    for (int y = 0; y < m_height; ++y)
        for (int x = 0; x < m_width; ++x) {
            Seen seen;
            seen.normal = vectorAt(normal, x, y);
            seen.along = seen.normal.dot(vectorAt(position, x, y));
            seen.value = {value(x, y, 0), value(x, y, last / 2), value(x, y, last)};
            seen.matt = matt.empty() ? LinearRgb{-1.0F, -1.0F, -1.0F}
                                     : LinearRgb{matt(x, y, 0), matt(x, y, 1), matt(x, y, 2)};
            m_seen.push_back(seen);
        }
}

bool SeenBefore::find(const V3f& place, Spot& spot) const noexcept {
    V3f local;
    m_toCamera.multDirMatrix(place - m_camera.position(), local);
    const float depth = -local.z;
    if (!(depth > 0.0F))
        return false;
    spot.pixel = m_pixel.at(depth);
    spot.x = local.x / spot.pixel + 0.5F * static_cast<float>(m_width) - 0.5F;
    spot.y = -local.y / spot.pixel + 0.5F * static_cast<float>(m_height) - 0.5F;
    return spot.x >= -1.0F && spot.y >= -1.0F && spot.x < static_cast<float>(m_width) &&
           spot.y < static_cast<float>(m_height);
}

template <typename Take>
void SeenBefore::about(const Spot& spot, const V3f& place, const V3f& normal,
                       const Take& take) const noexcept {
    const int x0 = static_cast<int>(std::floor(spot.x));
    const int y0 = static_cast<int>(std::floor(spot.y));
    for (int i = 0; i < 4; ++i) {
        const int px = x0 + i % 2;
        const int py = y0 + i / 2;
        if (px < 0 || py < 0 || px >= m_width || py >= m_height)
            continue;
        const Seen& seen = m_seen[static_cast<std::size_t>(py) * static_cast<std::size_t>(m_width) +
                                  static_cast<std::size_t>(px)];
        if (!(seen.normal.dot(normal) > kSameFacing) ||
            std::abs(seen.normal.dot(place) - seen.along) > kAsideInPixels * spot.pixel)
            continue;
        take(seen, (1.0F - std::abs(spot.x - static_cast<float>(px))) *
                           (1.0F - std::abs(spot.y - static_cast<float>(py))) +
                       1e-4F);
    }
}

bool SeenBefore::at(const V3f& place, const V3f& normal, LinearRgb& value) const noexcept {
    Spot spot;
    if (!find(place, spot))
        return false;
    LinearRgb sum{};
    float weights = 0.0F;
    about(spot, place, normal, [&](const Seen& seen, float weight) {
        sum = sum + seen.value * weight;
        weights += weight;
    });
    if (weights <= 0.0F)
        return false;
    value = sum * (1.0F / weights);
    return true;
}

bool SeenBefore::mattAt(const V3f& place, const V3f& normal, float coarsest,
                        LinearRgb& seen) const noexcept {
    Spot spot;
    if (!find(place, spot) || spot.pixel > coarsest)
        return false;
    LinearRgb sum{};
    float weights = 0.0F;
    bool matt = true;
    about(spot, place, normal, [&](const Seen& one, float weight) {
        matt = matt && one.matt.r >= 0.0F;
        sum = sum + one.matt * weight;
        weights += weight;
    });
    if (weights <= 0.0F || !matt)
        return false;
    seen = sum * (1.0F / weights);
    return true;
}

namespace {

/// No pixel brighter than the brightest about it: a single spark would be carried along for as long as
/// the view moves.
Image withoutSparks(const Image& image) {
    Image calm = image;
    for (int c = 0; c < image.channels(); ++c) {
        float* to = calm.editPlane(c);
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x) {
                float brightest = 0.0F;
                for (int i = 0; i < 9; ++i) {
                    const int nx = std::clamp(x + i % 3 - 1, 0, image.width() - 1);
                    const int ny = std::clamp(y + i / 3 - 1, 0, image.height() - 1);
                    if (nx != x || ny != y)
                        brightest = std::max(brightest, image(nx, ny, c));
                }
                float& value = to[calm.rowStride() * y + x];
                value = std::min(value, brightest);
            }
    }
    return calm;
}

/// What is seen of surfaces that mirror nothing, in that light; less than 0 of all others.
Image mattOf(const PassSet& set, const Image& light) {
    const Pass* colour = set.find(PassKind::DiffuseColour);
    const Pass* roughness = set.find(PassKind::Roughness);
    if (colour == nullptr || roughness == nullptr)
        return {};
    Image matt = light;
    std::array<float*, 3> to{};
    for (std::size_t c = 0; c < 3; ++c)
        to[c] = matt.editPlane(static_cast<int>(c));
    for (int y = 0; y < set.height; ++y)
        for (int x = 0; x < set.width; ++x) {
            const Image& own = colour->image;
            const bool isMatt = roughness->image(x, y, 0) >= kMirrorsUpTo &&
                                luminance({own(x, y, 0), own(x, y, 1), own(x, y, 2)}) > kDarkest;
            for (std::size_t c = 0; c < 3; ++c) {
                float& value = to[c][matt.rowStride() * y + x];
                value = isMatt ? value * own(x, y, static_cast<int>(c)) : -1.0F;
            }
        }
    return matt;
}

/// The ground that stands in, as if it were a surface whose light is what is seen of it.
void layGround(const PassSet& set, float level, Image& position, Image& normal, Image& light) {
    const FrameRays rays(*set.camera, set.width, set.height);
    const Image& seen = set.find(PassKind::Beauty)->image;
    std::array<float*, 3> place{};
    std::array<float*, 3> value{};
    for (std::size_t c = 0; c < 3; ++c) {
        place[c] = position.editPlane(static_cast<int>(c));
        value[c] = light.editPlane(static_cast<int>(c));
    }
    float* const up = normal.editPlane(1);
    for (int y = 0; y < set.height; ++y)
        for (int x = 0; x < set.width; ++x) {
            const CameraRay ray =
                rays.through(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F);
            const auto met = StandInGround::metAt(level, ray.origin, ray.direction);
            if (!met || vectorAt(normal, x, y).length2() > 0.0F ||
                !StandInGround::hasOneColour(ray.direction))
                continue;
            const std::ptrdiff_t at = position.rowStride() * y + x;
            for (std::size_t c = 0; c < 3; ++c) {
                place[c][at] = (*met)[static_cast<int>(c)];
                value[c][at] = seen(x, y, static_cast<int>(c));
            }
            up[at] = 1.0F;
        }
}

}  // namespace

std::vector<PassKind> keptWith(PassKind shown) {
    std::vector<PassKind> kinds{PassKind::Position, PassKind::FacingNormal};
    if (shown == PassKind::Beauty) {
        kinds.push_back(PassKind::DiffuseDirect);
        kinds.push_back(PassKind::DiffuseIndirect);
        kinds.push_back(PassKind::DiffuseColour);
        kinds.push_back(PassKind::Roughness);
    }
    return kinds;
}

std::optional<SeenBefore> seenBefore(const PassSet& set, std::optional<float> ground) {
    const Pass* position = set.find(PassKind::Position);
    const Pass* normal = set.find(PassKind::FacingNormal);
    if (position == nullptr || normal == nullptr || !set.camera)
        return std::nullopt;
    if (const Pass* open = set.find(PassKind::Occlusion))
        return SeenBefore(*set.camera, position->image, normal->image, open->image);
    const Pass* direct = set.find(PassKind::DiffuseDirect);
    const Pass* indirect = set.find(PassKind::DiffuseIndirect);
    if (direct == nullptr || indirect == nullptr)
        return std::nullopt;
    Image light(set.width, set.height, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c) {
        float* to = light.editPlane(c);
        for (int y = 0; y < set.height; ++y)
            for (int x = 0; x < set.width; ++x)
                to[light.rowStride() * y + x] = direct->image(x, y, c) + indirect->image(x, y, c);
    }
    light = withoutSparks(light);
    const Image matt = mattOf(set, light);
    if (!ground || set.find(PassKind::Beauty) == nullptr)
        return SeenBefore(*set.camera, position->image, normal->image, light, matt);
    Image places = position->image;
    Image facing = normal->image;
    layGround(set, *ground, places, facing, light);
    return SeenBefore(*set.camera, places, facing, light, matt);
}

}  // namespace noctis
