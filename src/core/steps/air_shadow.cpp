#include "core/steps/air_shadow.h"

#include "core/image/angle.h"
#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/steps/air_shadow_row.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <numbers>

namespace noctis {

namespace {

constexpr int kPlanes = 2048;
constexpr int kBins = 208;
/// A wide light is so many narrow ones, each with fewer bins: they lie between one another's.
constexpr int kLights = 3;
constexpr int kSoftPlanes = 1024;
constexpr int kSoftBins = 56;
/// Neighbours whose distances differ by less than this part belong to one surface.
constexpr float kOneSurface = 0.05F;
/// Things that close to a lamp, m, are its housing, which cuts nothing; thinner ones are as close as they are thick.
constexpr float kHousing = 0.3F;
constexpr float kLeastSine = 1e-4F;
constexpr int kLanes = 16;  ///< rows are padded to a multiple

/// The angle of (x, y), within 1e-5: half of the work is finding some.
float angleOf(float y, float x) noexcept {
    const float ax = std::abs(x);
    const float ay = std::abs(y);
    const float t = std::min(ax, ay) / std::max(std::max(ax, ay), 1e-30F);
    const float t2 = t * t;
    float angle =
        t *
        (0.99997726F +
         t2 * (-0.33262347F +
               t2 * (0.19354346F + t2 * (-0.11643287F + t2 * (0.05265332F - t2 * 0.01172120F)))));
    angle = ay > ax ? 0.5F * kPi - angle : angle;
    angle = x < 0.0F ? kPi - angle : angle;
    return y < 0.0F ? -angle : angle;
}

int padded(int count) { return (count + kLanes - 1) / kLanes * kLanes; }

/// Any direction across this one.
V3f across(const V3f& axis) {
    return axis.cross(std::abs(axis.y) < 0.9F ? V3f(0, 1, 0) : V3f(1, 0, 0)).normalized();
}

/// Keeps the least of what any thread finds.
void lower(float& place, float value) {
    std::atomic_ref<float> shared(place);
    float now = shared.load(std::memory_order_relaxed);
    while (value < now && !shared.compare_exchange_weak(now, value, std::memory_order_relaxed)) {
    }
}

/// The planes through the eye that hold the line to the light, numbered by their angle about it.
class Planes {
public:
    Planes(const Camera& camera, const V3f& axis, int width, int height, int count)
        : m_axis(axis), m_count(count) {
        m_side = across(m_axis);
        m_other = m_axis.cross(m_side);
        // Of the angles that the picture's border has; all of them where the line meets the picture.
        const FrameRays rays(camera, width, height);
        const auto angleAt = [&](float x, float y) {
            return angleTo(rays.through(x, y).direction);
        };
        const auto w = static_cast<float>(width);
        const auto h = static_cast<float>(height);
        constexpr int kSteps = 64;
        m_first = angleAt(0.0F, 0.0F);
        float turned = 0.0F;
        float least = 0.0F;
        float most = 0.0F;
        float last = m_first;
        for (int i = 1; i <= 4 * kSteps; ++i) {
            const float t = static_cast<float>(i % kSteps) / kSteps;
            const std::array<V2f, 5> at{V2f(t * w, 0), V2f(w, t * h), V2f((1 - t) * w, h),
                                        V2f(0, (1 - t) * h), V2f(0, 0)};
            const V2f& p = at.at(static_cast<std::size_t>(i / kSteps));
            const float angle = angleAt(p.x, p.y);
            float by = angle - last;
            by -= 2.0F * kPi * std::round(by / (2.0F * kPi));
            turned += by;
            least = std::min(least, turned);
            most = std::max(most, turned);
            last = angle;
        }
        m_closed = std::abs(turned) > kPi;
        m_first += m_closed ? 0.0F : least;
        m_range = m_closed ? 2.0F * kPi : std::max(most - least, 1e-5F);
    }

    /// With its part, from 1 to 1 + count.
    [[nodiscard]] float numberOf(const V3f& direction) const noexcept {
        float angle = angleTo(direction) - m_first;
        angle -= 2.0F * kPi * std::floor(angle / (2.0F * kPi));
        // Just before the first, by rounding.
        if (angle > m_range && angle - m_range > 0.5F * (2.0F * kPi - m_range))
            angle = 0.0F;
        return 1.0F + std::min(angle / m_range, 1.0F) * static_cast<float>(m_count);
    }
    /// Whether the first is the last again.
    [[nodiscard]] bool closed() const noexcept { return m_closed; }
    [[nodiscard]] float perRadian() const noexcept { return static_cast<float>(m_count) / m_range; }

private:
    [[nodiscard]] float angleTo(const V3f& direction) const noexcept {
        return angleOf(direction.dot(m_other), direction.dot(m_side));
    }

    V3f m_axis;
    V3f m_side;
    V3f m_other;
    int m_count;
    float m_first = 0.0F;
    float m_range = 2.0F * kPi;
    bool m_closed = true;
};

/// One light without width.
class NarrowLight {
public:
    NarrowLight(const Image& distance, const Image& behind, const Camera& camera,
                const SceneLight& light, const V3f& towards, float away,
                const AirShadowSettings& settings, int planes, int bins, float scale, float offset)
        : m_distance(distance), m_behind(behind),
          m_rays(camera, distance.width(), distance.height()), m_settings(settings), m_light(light),
          m_axis(towards), m_scale(scale), m_offset(offset),
          m_planes(camera, towards, distance.width(), distance.height(), planes) {
        m_reach.planes = planes;
        m_reach.bins = bins;
        m_reach.sun = light.kind == SceneLightKind::Sun;
        m_reach.lamp = away;
        const auto add = [&](float bin) {
            const float angle = angleOfBin(bin);
            m_reach.first.push_back(m_reach.sun ? m_scale * std::tan(angle) : std::sin(angle));
            m_reach.second.push_back(std::cos(angle));
        };
        for (int i = 0; i <= bins; ++i)
            add(static_cast<float>(i));
        for (int i = 0; i < bins; ++i)
            add(static_cast<float>(i) + 0.5F);
        // One more at either side: of a full turn they are the last and the first again.
        m_reach.blocked.assign(
            static_cast<std::size_t>(planes + 3) * static_cast<std::size_t>(bins), kNothingHit);
        m_pixel = pixelAngle(camera, distance.height());
    }

    /// every: of how many pixels, across and down, the nearest stands for all.
    void findBlocked(int every, const RunContext& run) {
        const float half = 0.5F * m_pixel * static_cast<float>(every);
        const int rows = (m_distance.height() + every - 1) / every;
        forEachBand(rows, kBandHeight, run, [&](int y0, int y1) {
            for (int y = y0 * every; y < std::min(y1 * every, m_distance.height()); y += every)
                for (int x = 0; x < m_distance.width(); x += every) {
                    const auto [nearX, nearY] = nearestOf(x, y, every);
                    const V3f direction = m_rays
                                              .through(static_cast<float>(nearX) + 0.5F,
                                                       static_cast<float>(nearY) + 0.5F)
                                              .direction;
                    block(direction, m_distance(nearX, nearY, 0), depthAt(nearX, nearY), half);
                    if (!m_behind.empty())
                        block(direction, m_behind(nearX, nearY, 0), m_settings.thickness, half);
                }
        });
        const int last = m_reach.planes + 1;
        for (int bin = 0; bin < m_reach.bins; ++bin) {
            if (m_planes.closed())
                blocked(1, bin) = blocked(last, bin) =
                    std::min(blocked(1, bin), blocked(last, bin));
            blocked(0, bin) = blocked(m_planes.closed() ? last - 1 : 1, bin);
            blocked(last + 1, bin) = blocked(m_planes.closed() ? 2 : last, bin);
        }
    }

    void addRow(int y, float weight, ShadowRow& row) const {
        const int width = m_distance.width();
        const RowOfRays rays = m_rays.row(0, y);
        for (int x = 0; x < width; ++x) {
            const auto i = static_cast<std::size_t>(x);
            const V3f way = rays.way + rays.step * static_cast<float>(x);
            const V3f direction = way * (1.0F / std::sqrt(way.dot(way)));
            const float cosine = std::clamp(direction.dot(m_axis), -1.0F, 1.0F);
            const float sine = std::max(std::sqrt(1.0F - cosine * cosine), kLeastSine);
            row.cosine[i] = cosine;
            row.sine[i] = sine;
            row.plane[i] = m_planes.numberOf(direction);
            const float metres = m_distance(x, y, 0);
            float end = metres >= 0.0F ? metres : 0.0F;
            if (m_settings.reach > 0.0F)
                end = std::min(end, m_settings.reach);
            row.end[i] = m_reach.sun ? std::min(end, 1e7F) : binOfLamp(cosine, sine, end);
            if (m_light.kind == SceneLightKind::Spot) {
                const V3f shines = -m_light.towards.normalized();
                row.across[i] = shines.dot(direction - m_axis * cosine) / sine;
                row.towards[i] = -shines.dot(m_axis);
            }
        }
        const ScatterLaw law{m_settings.density,
                             m_settings.scatter,
                             std::max(m_settings.size, 1e-4F),
                             m_light.kind == SceneLightKind::Spot,
                             std::cos(m_light.inner * kRadians),
                             std::cos(std::max(m_light.outer, m_light.inner + 0.01F) * kRadians)};
        shadowRow(m_reach, law, weight, row, padded(width));
    }

private:
    static float pixelAngle(const Camera& camera, int height) {
        return 2.0F * std::tan(0.5F * camera.yfovRadians) / static_cast<float>(height);
    }
    [[nodiscard]] float angleOfBin(float bin) const noexcept {
        const float all = m_reach.sun ? 0.4999F * kPi : kPi;
        return all *
               std::clamp((bin - m_offset) / static_cast<float>(m_reach.bins - 1), 0.0F, 1.0F);
    }
    [[nodiscard]] float binOfAngle(float angle) const noexcept {
        const float all = m_reach.sun ? 0.4999F * kPi : kPi;
        return angle / all * static_cast<float>(m_reach.bins - 1) + m_offset;
    }
    [[nodiscard]] float binOfLamp(float cosine, float sine, float metres) const noexcept {
        const float angle = std::isfinite(metres)
                                ? angleOf(metres * sine, m_reach.lamp - metres * cosine)
                                : kPi - angleOf(sine, cosine);
        return binOfAngle(angle);
    }
    float& blocked(int plane, int bin) noexcept {
        return m_reach
            .blocked[static_cast<std::size_t>(bin) * static_cast<std::size_t>(m_reach.planes + 3) +
                     static_cast<std::size_t>(plane)];
    }

    struct Pixel {
        int x;
        int y;
    };
    [[nodiscard]] Pixel nearestOf(int x, int y, int every) const noexcept {
        Pixel nearest{x, y};
        for (int j = y; j < std::min(y + every, m_distance.height()); ++j)
            for (int i = x; i < std::min(x + every, m_distance.width()); ++i)
                if (m_distance(i, j, 0) < m_distance(nearest.x, nearest.y, 0))
                    nearest = {i, j};
        return nearest;
    }

    /// How deep the thing at a pixel is: at least to where its surface goes on in the next pixels.
    [[nodiscard]] float depthAt(int x, int y) const noexcept {
        const float here = m_distance(x, y, 0);
        float deep = m_settings.thickness;
        const auto reachTo = [&](int nx, int ny) {
            if (nx < 0 || ny < 0 || nx >= m_distance.width() || ny >= m_distance.height())
                return;
            const float by = m_distance(nx, ny, 0) - here;
            if (by > deep && by < kOneSurface * here)
                deep = by;
        };
        reachTo(x - 1, y);
        reachTo(x + 1, y);
        reachTo(x, y - 1);
        reachTo(x, y + 1);
        return deep;
    }

    /// Where a place of a plane is as the light sees it: its bin, and how far from the light.
    struct Seen {
        float bin;
        float away;
    };
    [[nodiscard]] Seen seenAt(float cosine, float sine, float metres) const noexcept {
        if (m_reach.sun)
            return {binOfAngle(angleOf(metres * sine, m_scale)), -metres * cosine};
        const float beside = metres * sine;
        const float before = m_reach.lamp - metres * cosine;
        return {binOfAngle(angleOf(beside, before)), std::sqrt(beside * beside + before * before)};
    }

    /// Marks what a thing blocks. half: of its width as the eye sees it, radians.
    void block(const V3f& direction, float metres, float deep, float half) {
        if (!(metres > 0.0F) || !std::isfinite(metres))
            return;
        const float cosine = std::clamp(direction.dot(m_axis), -1.0F, 1.0F);
        const float sine = std::max(std::sqrt(1.0F - cosine * cosine), kLeastSine);
        const Seen front = seenAt(cosine, sine, metres);
        const Seen back = seenAt(cosine, sine, metres + deep);
        // A little to either side along the plane.
        const Seen side =
            seenAt(cosine - half * sine, std::max(sine + half * cosine, 0.0F), metres);
        const float wide = std::abs(side.bin - front.bin);
        const float low = std::min(front.bin, back.bin) - wide;
        const float high = std::max(front.bin, back.bin) + wide;
        const int from = std::max(static_cast<int>(std::ceil(low - 0.5F)), 0);
        const int to = std::min(static_cast<int>(std::floor(high - 0.5F)), m_reach.bins - 1);
        if (from > to)
            return;
        const float plane = m_planes.numberOf(direction);
        const float planesWide = half * m_planes.perRadian() / sine;
        const int first = std::max(static_cast<int>(std::ceil(plane - planesWide)), 1);
        const int last =
            std::min(static_cast<int>(std::floor(plane + planesWide)), m_reach.planes + 1);
        const float perBin = 1.0F / (back.bin == front.bin ? 1.0F : back.bin - front.bin);
        for (int bin = from; bin <= to; ++bin) {
            const float along =
                std::clamp((static_cast<float>(bin) + 0.5F - front.bin) * perBin, 0.0F, 1.0F);
            const float away = front.away + along * (back.away - front.away);
            if (!m_reach.sun && away < std::min(kHousing, m_settings.thickness))
                continue;
            for (int p = first; p <= last; ++p)
                lower(blocked(p, bin), away);
        }
    }

    const Image& m_distance;
    const Image& m_behind;
    FrameRays m_rays;
    AirShadowSettings m_settings;
    SceneLight m_light;
    V3f m_axis;
    float m_scale;
    float m_offset;  ///< of the bins, 0..1
    Planes m_planes;
    LightReach m_reach;
    float m_pixel = 0.0F;
};

/// A distance that half of what was hit is nearer than, m.
float middleDistance(const Image& distance) {
    std::vector<float> all;
    for (int y = 0; y < distance.height(); y += 4)
        for (int x = 0; x < distance.width(); x += 4)
            if (const float d = distance(x, y, 0); d > 0.0F && std::isfinite(d))
                all.push_back(d);
    if (all.empty())
        return 10.0F;
    const auto middle = all.begin() + static_cast<std::ptrdiff_t>(all.size() / 2);
    std::ranges::nth_element(all, middle);
    return *middle;
}

}  // namespace

Image airShadow(const Image& distance, const Image& behind, const Camera& camera,
                const SceneLight& light, const AirShadowSettings& settings, const RunContext& run) {
    Image out = Image::filled(distance.width(), distance.height(), 1, 1.0F);
    // Planes through the eye are what this is made of; a parallel view has no eye.
    if (camera.orthographic() || light.kind == SceneLightKind::Dome)
        return out;
    const bool sun = light.kind == SceneLightKind::Sun;
    const V3f eye = camera.position();
    const V3f way = sun ? light.towards.normalized() : light.position - eye;
    const float away = sun ? 1.0F : std::max(way.length(), 1e-3F);
    const V3f axis = way / away;
    const bool soft = settings.softness > 0.01F;
    const float scale = middleDistance(distance);
    std::vector<V3f> lights{axis};
    if (soft) {
        const float wide = std::tan(std::min(settings.softness, 60.0F) * kRadians);
        const V3f side = across(axis);
        const V3f other = axis.cross(side);
        lights.clear();
        for (int i = 0; i < kLights; ++i) {
            // Points spread evenly over the disc, as Vogel 1979.
            const float r = wide * std::sqrt((static_cast<float>(i) + 0.5F) / kLights);
            const float angle = 2.39996323F * static_cast<float>(i);
            lights.push_back(
                (axis + side * (r * std::cos(angle)) + other * (r * std::sin(angle))).normalized());
        }
    }
    const RunContext quiet{run.stop, {}};
    std::vector<NarrowLight> narrow;
    narrow.reserve(lights.size());
    for (const V3f& towards : lights) {
        const float offset = static_cast<float>(narrow.size()) / static_cast<float>(lights.size());
        narrow.emplace_back(distance, behind, camera, light, towards, away, settings,
                            soft ? kSoftPlanes : kPlanes, soft ? kSoftBins : kBins, scale, offset);
        narrow.back().findBlocked(soft ? 2 : 1, quiet);
        if (run.stopped())
            return out;
    }
    float* to = out.editPlane(0);
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        ShadowRow row(static_cast<std::size_t>(padded(out.width())));
        for (int y = y0; y < y1; ++y) {
            std::ranges::fill(row.share, 0.0F);
            for (const NarrowLight& one : narrow)
                one.addRow(y, 1.0F / static_cast<float>(narrow.size()), row);
            std::copy_n(row.share.begin(), out.width(), to + out.rowStride() * y);
        }
    });
    return out;
}

}  // namespace noctis
