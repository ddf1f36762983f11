#include "core/steps/screen_shadow.h"

#include "core/image/angle.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

namespace noctis {

namespace {

constexpr int kSoftBlock = 4;  ///< pixels that share the directions of a soft light
constexpr int kRays = 2;       ///< of a soft light, a pixel
constexpr int kDirections = kSoftBlock * kSoftBlock * kRays;
constexpr int kMostSteps = 72;
constexpr float kStepGrowth = 0.09F;  ///< a step's part of the way so far
constexpr float kShortOfLight = 0.9995F;
constexpr float kNearestShare = 0.05F;  ///< of the pixel's own depth; rays end there
constexpr float kFade = 0.04F;          ///< of the width: shadows fade this near to the border

/// Points spread evenly over the unit disc. Source: Vogel 1979.
std::array<V2f, kDirections> discPoints() {
    constexpr float kGolden = 2.39996323F;
    std::array<V2f, kDirections> points;
    for (int i = 0; i < kDirections; ++i) {
        const float r = std::sqrt((static_cast<float>(i) + 0.5F) / kDirections);
        const float angle = kGolden * static_cast<float>(i);
        // Neighbouring pixels get directions from all over the disc.
        points[static_cast<std::size_t>((i * 37) % kDirections)] =
            V2f(r * std::cos(angle), r * std::sin(angle));
    }
    return points;
}

/// In the camera's space, x right, y up, z towards the viewer.
struct Place {
    V3f at;
    V3f normal;
    float depth = 0.0F;
    float footprint = 0.0F;  ///< m that a pixel is wide there
};

class Marcher {
public:
    Marcher(const SeenGeometry& seen, const SceneLight& light, const ScreenShadowSettings& settings)
        : m_seen(seen), m_settings(settings), m_depth(seen.depth.plane(0)),
          m_stride(seen.depth.rowStride()), m_width(seen.depth.width()),
          m_height(seen.depth.height()), m_points(discPoints()) {
        const M44f toCamera = seen.camera.cameraToWorld.inverse();
        m_toCamera = toCamera;
        m_far = light.kind == SceneLightKind::Sun || light.kind == SceneLightKind::Dome;
        toCamera.multDirMatrix(light.towards, m_towards);
        m_towards.normalize();
        m_light = light.position * toCamera;
        const auto high = static_cast<float>(m_height);
        m_orthographic = seen.camera.orthographic();
        m_scale = m_orthographic ? high / seen.camera.orthographicHeight
                                 : 0.5F * high / std::tan(0.5F * seen.camera.yfovRadians);
        m_middle = V2f(0.5F * static_cast<float>(m_width), 0.5F * high);
        m_fade = 1.0F / std::max(1.0F, kFade * static_cast<float>(m_width));
        m_spread = std::tan(std::clamp(settings.softness, 0.0F, 80.0F) * kRadians);
    }

    [[nodiscard]] bool soft() const noexcept { return m_spread > 1e-4F; }

    [[nodiscard]] float openAt(int x, int y) const noexcept {
        const auto place = placeAt(x, y);
        if (!place)
            return 1.0F;
        V3f towards = m_towards;
        float reach = m_settings.length > 0.0F ? m_settings.length : kNothingHit;
        if (!m_far) {
            towards = m_light - place->at;
            const float away = towards.length();
            if (away < 1e-6F)
                return 1.0F;
            towards /= away;
            reach = std::min(reach, away * kShortOfLight);
        }
        if (towards.dot(place->normal) <= 0.0F)
            return 1.0F;
        const int block = (y % kSoftBlock) * kSoftBlock + x % kSoftBlock;
        if (!soft())
            return 1.0F - blocked(*place, towards, reach, 0.5F);
        V3f side = towards.cross(std::abs(towards.y) < 0.9F ? V3f(0, 1, 0) : V3f(1, 0, 0));
        side.normalize();
        const V3f other = side.cross(towards);
        float sum = 0.0F;
        for (int i = 0; i < kRays; ++i) {
            const int index = block * kRays + i;
            const V2f& p = m_points[static_cast<std::size_t>(index)];
            const V3f bent = (towards + (side * p.x + other * p.y) * m_spread).normalized();
            const float start =
                (static_cast<float>((index * 29) % kDirections) + 0.5F) / kDirections;
            // A part of the light below the horizon lights nothing, and is not in shadow either.
            sum += bent.dot(place->normal) <= 0.0F ? 0.0F : blocked(*place, bent, reach, start);
        }
        return 1.0F - sum / kRays;
    }

    [[nodiscard]] std::optional<Place> placeAt(int x, int y) const noexcept {
        Place place;
        place.depth = m_seen.depth(x, y, 0);
        if (!(place.depth > 0.0F) || !std::isfinite(place.depth))
            return std::nullopt;
        place.footprint = m_orthographic ? 1.0F / m_scale : place.depth / m_scale;
        place.at = V3f((static_cast<float>(x) + 0.5F - m_middle.x) * place.footprint,
                       (m_middle.y - static_cast<float>(y) - 0.5F) * place.footprint, -place.depth);
        m_toCamera.multDirMatrix(
            V3f(m_seen.normals(x, y, 0), m_seen.normals(x, y, 1), m_seen.normals(x, y, 2)),
            place.normal);
        const float length = place.normal.length();
        if (!(length > 0.1F))
            return std::nullopt;
        place.normal /= length;
        return place;
    }

private:
    [[nodiscard]] V2f screenOf(const V3f& p) const noexcept {
        const float scale = m_orthographic ? m_scale : m_scale / -p.z;
        return {m_middle.x + p.x * scale, m_middle.y - p.y * scale};
    }

    /// How much of a ray is blocked: 0, 1, or between near the border. start: 0..1, of the first step.
    [[nodiscard]] float blocked(const Place& place, const V3f& towards, float reach,
                                float start) const noexcept {
        // Off the surface by more than its pixels' steps, the more the flatter it is seen.
        const float facing = m_orthographic
                                 ? std::abs(place.normal.z)
                                 : std::abs(place.normal.dot(place.at)) / place.at.length();
        const float lift = place.footprint * (0.5F + 0.2F / std::max(facing, 0.15F));
        const V3f from = place.at + place.normal * lift;
        // So much of the way is gone by the lift.
        float far = std::min(reach - lift * place.normal.dot(towards), 1e4F);
        if (!m_orthographic && towards.z > 0.0F)  // comes nearer
            far = std::min(far, (-from.z - kNearestShare * place.depth) / towards.z);
        far = std::min(far, kMostDepths * place.depth);
        if (!(far > 0.0F))
            return 0.0F;
        const V3f to = from + towards * far;
        if (!m_orthographic && -to.z <= 0.0F)
            return 0.0F;
        const V2f a = screenOf(from);
        const V2f way = screenOf(to) - a;
        const float pixels = way.length();
        const float nearInverse = 1.0F / -from.z;
        const float farInverse = 1.0F / -to.z;
        float along = 0.0F;
        float step = 1.0F;
        float lastDepth = -from.z;
        for (int i = 0; i < kMostSteps; ++i) {
            // A ray towards or away from the viewer moves little on the screen, yet has a way to go.
            const float least = pixels / kMostSteps;
            along += i == 0 ? std::max(start, 0.25F) * std::max(1.0F, least) : step;
            step = std::max({1.0F, along * kStepGrowth, i > kMostSteps / 2 ? least : 0.0F});
            if (along > pixels + 0.5F)
                break;
            const float s = std::min(1.0F, along / std::max(pixels, 1e-6F));
            const V2f p = a + way * s;
            if (!(p.x >= 0.0F && p.y >= 0.0F && p.x < static_cast<float>(m_width) &&
                  p.y < static_cast<float>(m_height)))
                break;
            const float depth = m_orthographic
                                    ? -from.z + (from.z - to.z) * s
                                    : 1.0F / (nearInverse + (farInverse - nearInverse) * s);
            const int x = static_cast<int>(p.x);
            const int y = static_cast<int>(p.y);
            const float moved = std::abs(depth - lastDepth);
            const float deep = std::max(m_settings.thickness, moved);
            lastDepth = depth;
            const float front = m_depth[m_stride * y + x];
            if (!(depth > front))
                continue;
            const float behind =
                m_seen.behindDepth.empty() ? kNothingHit : m_seen.behindDepth(x, y, 0);
            // A thing ends before what stands behind it begins.
            if ((within(depth, front, std::min(deep, behind - front)) &&
                 depth - front < std::max(moved, m_settings.thickness * chordAt(x, y))) ||
                within(depth, behind, deep)) {
                const float border = std::min({p.x, p.y, static_cast<float>(m_width) - p.x,
                                               static_cast<float>(m_height) - p.y});
                return std::min(1.0F, border * m_fade);
            }
        }
        return 0.0F;
    }

    /// How much of its thickness a thing has there: round ones thin out towards their outline.
    [[nodiscard]] float chordAt(int x, int y) const noexcept {
        const auto place = placeAt(x, y);
        if (!place)
            return 1.0F;
        const float facing = m_orthographic
                                 ? std::abs(place->normal.z)
                                 : std::abs(place->normal.dot(place->at)) / place->at.length();
        return std::max(facing, kThinnest);
    }

    [[nodiscard]] static bool within(float depth, float surface, float deep) noexcept {
        const float into = depth - surface;
        return into > 5e-4F * surface && into < deep;
    }

    static constexpr float kMostDepths = 50.0F;
    static constexpr float kThinnest = 0.1F;

    const SeenGeometry& m_seen;
    ScreenShadowSettings m_settings;
    const float* m_depth;
    std::ptrdiff_t m_stride;
    int m_width;
    int m_height;
    std::array<V2f, kDirections> m_points;
    M44f m_toCamera;
    bool m_far = true;
    V3f m_towards;
    V3f m_light;
    bool m_orthographic = false;
    float m_scale = 1.0F;
    V2f m_middle;
    float m_fade = 1.0F;
    float m_spread = 0.0F;
};

/// Whether all pixels of the block's size about one are as it is.
bool isEven(const Image& open, int x, int y) noexcept {
    const float here = open.row(0, y)[x];
    const int x0 = std::max(x - kSoftBlock / 2, 0);
    const int x1 = std::min(x + kSoftBlock / 2, open.width());
    for (int v = std::max(y - kSoftBlock / 2, 0); v < std::min(y + kSoftBlock / 2, open.height());
         ++v) {
        const float* row = open.row(0, v);
        for (int u = x0; u < x1; ++u)
            if (row[u] != here)
                return false;
    }
    return true;
}

/// The mean over the block's size about each pixel, of pixels on the same surface: it holds each direction
/// once, so that nothing of the pattern is left.
Image smoothed(const Image& open, const SeenGeometry& seen, const RunContext& run) {
    Image out = Image::unset(open.width(), open.height(), {"Y"});
    float* to = out.editPlane(0);
    forEachBand(open.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < open.width(); ++x) {
                const float depth = seen.depth(x, y, 0);
                float& target = to[out.rowStride() * y + x];
                target = open(x, y, 0);
                if (!std::isfinite(depth) || isEven(open, x, y))
                    continue;
                const V3f n(seen.normals(x, y, 0), seen.normals(x, y, 1), seen.normals(x, y, 2));
                float sum = 0.0F;
                float weights = 0.0F;
                for (int v = y - kSoftBlock / 2; v < y + kSoftBlock / 2; ++v)
                    for (int u = x - kSoftBlock / 2; u < x + kSoftBlock / 2; ++u) {
                        if (u < 0 || v < 0 || u >= open.width() || v >= open.height())
                            continue;
                        const float other = seen.depth(u, v, 0);
                        const float facing = n.x * seen.normals(u, v, 0) +
                                             n.y * seen.normals(u, v, 1) +
                                             n.z * seen.normals(u, v, 2);
                        if (!(std::abs(other - depth) < 0.02F * depth) || facing < 0.9F)
                            continue;
                        sum += open(u, v, 0);
                        weights += 1.0F;
                    }
                if (weights > 0.0F)
                    target = sum / weights;
            }
    });
    return out;
}

}  // namespace

Image screenShadow(const SeenGeometry& seen, const SceneLight& light,
                   const ScreenShadowSettings& settings, const RunContext& run) {
    Image open = Image::unset(seen.depth.width(), seen.depth.height(), {"Y"});
    float* to = open.editPlane(0);
    const Marcher marcher(seen, light, settings);
    forEachBand(open.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1 && !run.stopped(); ++y)
            for (int x = 0; x < open.width(); ++x)
                to[open.rowStride() * y + x] = marcher.openAt(x, y);
    });
    return marcher.soft() && !run.stopped() ? smoothed(open, seen, run) : open;
}

}  // namespace noctis
