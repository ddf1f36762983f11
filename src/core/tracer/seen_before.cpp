#include "core/tracer/seen_before.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

/// How far a place may lie before or behind a pixel's surface, in pixels at its distance.
constexpr float kAsideInPixels = 1.5F;
/// Faces that turn away further are other faces.
constexpr float kSameFacing = 0.7F;

V3f vectorAt(const Image& image, int x, int y) noexcept {
    return {image(x, y, 0), image(x, y, 1), image(x, y, 2)};
}

}  // namespace

SeenBefore::SeenBefore(const Camera& camera, const Image& position, const Image& normal,
                       const Image& value)
    : m_camera(camera), m_toCamera(camera.cameraToWorld.inverse()), m_width(position.width()),
      m_height(position.height()) {
    const auto tall = static_cast<float>(m_height);
    m_pixel = camera.orthographic() ? camera.orthographicHeight / tall
                                    : 2.0F * std::tan(0.5F * camera.yfovRadians) / tall;
    const int last = value.channels() - 1;
    m_seen.reserve(static_cast<std::size_t>(m_width) * static_cast<std::size_t>(m_height));
    for (int y = 0; y < m_height; ++y)
        for (int x = 0; x < m_width; ++x)
            m_seen.push_back({vectorAt(position, x, y),
                              vectorAt(normal, x, y),
                              {value(x, y, 0), value(x, y, last / 2), value(x, y, last)}});
}

bool SeenBefore::at(const V3f& place, const V3f& normal, LinearRgb& value) const noexcept {
    const V3f local = place * m_toCamera;
    const float depth = -local.z;
    if (!(depth > 0.0F))
        return false;
    const float pixel = m_camera.orthographic() ? m_pixel : m_pixel * depth;
    const float x = local.x / pixel + 0.5F * static_cast<float>(m_width) - 0.5F;
    const float y = -local.y / pixel + 0.5F * static_cast<float>(m_height) - 0.5F;
    const int x0 = static_cast<int>(std::floor(x));
    const int y0 = static_cast<int>(std::floor(y));
    if (!(x0 >= -1 && y0 >= -1 && x0 < m_width && y0 < m_height))
        return false;
    LinearRgb sum{};
    float weights = 0.0F;
    for (int i = 0; i < 4; ++i) {
        const int px = x0 + i % 2;
        const int py = y0 + i / 2;
        if (px < 0 || py < 0 || px >= m_width || py >= m_height)
            continue;
        const Seen& seen = m_seen[static_cast<std::size_t>(py) * static_cast<std::size_t>(m_width) +
                                  static_cast<std::size_t>(px)];
        if (!(seen.normal.dot(normal) > kSameFacing) ||
            std::abs(seen.normal.dot(place - seen.position)) > kAsideInPixels * pixel)
            continue;
        const float weight = (1.0F - std::abs(x - static_cast<float>(px))) *
                                 (1.0F - std::abs(y - static_cast<float>(py))) +
                             1e-4F;
        sum.r += weight * seen.value.r;
        sum.g += weight * seen.value.g;
        sum.b += weight * seen.value.b;
        weights += weight;
    }
    if (weights <= 0.0F)
        return false;
    value = {sum.r / weights, sum.g / weights, sum.b / weights};
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

}  // namespace

std::vector<PassKind> keptWith(PassKind shown) {
    std::vector<PassKind> kinds{PassKind::Position, PassKind::FacingNormal};
    if (shown == PassKind::Beauty) {
        kinds.push_back(PassKind::DiffuseDirect);
        kinds.push_back(PassKind::DiffuseIndirect);
    }
    return kinds;
}

std::optional<SeenBefore> seenBefore(const PassSet& set) {
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
    Image matt(set.width, set.height, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c) {
        float* to = matt.editPlane(c);
        for (int y = 0; y < set.height; ++y)
            for (int x = 0; x < set.width; ++x)
                to[matt.rowStride() * y + x] = direct->image(x, y, c) + indirect->image(x, y, c);
    }
    return SeenBefore(*set.camera, position->image, normal->image, withoutSparks(matt));
}

}  // namespace noctis
