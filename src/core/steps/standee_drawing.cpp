#include "core/image/angle.h"
#include "core/image/tiles.h"
#include "core/settings/hash.h"
#include "core/steps/lit_surface.h"
#include "core/steps/standee.h"
#include "core/steps/standee_card.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <span>
#include <vector>

namespace noctis {

namespace {

constexpr int kSide = StandeeCard::kSide;
constexpr int kSamples = kSide * kSide;
constexpr float kNearest = 1e-3F;  ///< m; what is nearer to the camera is not drawn
/// Sizes and paces of several, of one's.
constexpr float kSmallest = 0.6F;
constexpr float kLargest = 1.4F;
constexpr float kMostLater = 1000.0F;  ///< frames

/// Where it stands: its bottom centre, and the directions of its width and height.
struct Stand {
    V3f foot{0.0F};
    V3f right{1.0F, 0.0F, 0.0F};
    V3f up{0.0F, 1.0F, 0.0F};
    float width = 1.0F;
    float height = 1.0F;

    [[nodiscard]] V3f normal() const { return right.cross(up); }
    [[nodiscard]] V3f corner(float u, float v) const {
        return foot + right * ((u - 0.5F) * width) + up * (v * height);
    }
};

Stand standOf(const StandeeSettings& s, const FrameContext& context, float aspect) {
    const Camera camera = context.camera();
    Stand stand;
    stand.height = s.height;
    stand.width = s.height * aspect;
    stand.foot = s.position;
    if (s.distance > 0.0F) {
        const CameraRay ray =
            cameraRay(camera, s.at.x, s.at.y, context.fullWidth(), context.fullHeight());
        stand.foot = ray.origin + ray.direction * (s.distance / ray.planarPerDistance);
    }
    if (s.facing == StandeeFacing::Camera) {
        stand.right = axisOf(camera, 0);
        stand.up = axisOf(camera, 1);
        return stand;
    }
    V3f towards(std::sin(s.turn * kRadians), 0.0F, std::cos(s.turn * kRadians));
    if (s.facing == StandeeFacing::Upright) {
        towards = camera.orthographic() ? axisOf(camera, 2) : camera.position() - stand.foot;
        towards.y = 0.0F;
        if (towards.length() < 1e-6F)
            towards = V3f(0.0F, 0.0F, 1.0F);
        towards.normalize();
    }
    stand.up = V3f(0.0F, 1.0F, 0.0F);
    stand.right = stand.up.cross(towards);
    return stand;
}

/// What is seen of it in one pixel: the mean of its samples.
struct Seen {
    float r = 0.0F;
    float g = 0.0F;
    float b = 0.0F;
    float a = 0.0F;
    float depth = 0.0F;  ///< m
};

class Drawing {
public:
    Drawing(const WorkingFrame& frame, const StandeeSettings& settings, const Stand& stand,
            const StandeeCard& card)
        : m_stand(stand), m_card(card), m_camera(frame.context().camera()),
          m_depth(frame.passIfThere({PassKind::Depth, {}})),
          m_depths(m_depth.empty() ? nullptr : m_depth.plane(0)), m_width(frame.width()),
          m_height(frame.height()), m_perSoft(1.0F / std::max(settings.soft, 1e-5F)) {
        prepare();
    }

    /// The pixels it may touch; empty where it is out of sight.
    [[nodiscard]] Tile bounds() const {
        float x0 = 1e9F;
        float y0 = 1e9F;
        float x1 = -1e9F;
        float y1 = -1e9F;
        for (const auto& [u, v] :
             {std::pair(0.0F, 0.0F), {1.0F, 0.0F}, {0.0F, 1.0F}, {1.0F, 1.0F}}) {
            const V3f p = project(m_camera, m_stand.corner(u, v), m_width, m_height);
            if (!(p.z > kNearest))  // it reaches behind the camera: it may be anywhere
                return {0, 0, m_width, m_height};
            x0 = std::min(x0, p.x);
            x1 = std::max(x1, p.x);
            y0 = std::min(y0, p.y);
            y1 = std::max(y1, p.y);
        }
        const auto side = [](float at, int most) {
            return static_cast<int>(std::clamp(at, 0.0F, static_cast<float>(most)));
        };
        return {side(std::floor(x0) - 1.0F, m_width), side(std::floor(y0) - 1.0F, m_height),
                side(std::ceil(x1) + 1.0F, m_width), side(std::ceil(y1) + 1.0F, m_height)};
    }

    /// A corner of a pixel: how far off the card is there, m, and which place of it is seen.
    struct Corner {
        float depth = 0.0F;
        float u = 0.0F;
        float v = 0.0F;
    };

    /// Of the corners above a row of pixels, from x0 on.
    void cornersAbove(int y, int x0, std::span<Corner> corners) const noexcept {
        auto px = static_cast<float>(x0);
        const auto py = static_cast<float>(y);
        for (Corner& corner : corners) {
            corner.depth = depthAt(px, py);
            corner.u = uAt(px, py, corner.depth);
            corner.v = vAt(px, py, corner.depth);
            px += 1.0F;
        }
    }

    /// What is seen in a pixel, by its upper and lower corners.
    [[nodiscard]] Seen at(int x, int y, const Corner* above, const Corner* below) const noexcept {
        Seen seen;
        const Patch patch = patchOf(above, below);
        if (patch.filling == StandeeCard::Filling::Nothing)
            return seen;
        const Shown shown = shownIn(x, y, patch);
        if (shown == Shown::None)
            return seen;
        if (shown == Shown::All && patch.filling == StandeeCard::Filling::Solid) {
            const std::array<float, 4> solid = m_card.solid();
            return {solid[0], solid[1], solid[2], 1.0F,
                    depthAt(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F)};
        }
        for (int i = 0; i < kSamples; ++i)
            add(static_cast<float>(x) + (static_cast<float>(i % kSide) + 0.5F) / kSide,
                static_cast<float>(y) + (static_cast<float>(i / kSide) + 0.5F) / kSide, shown,
                seen);
        if (seen.a > 0.0F)
            seen.depth /= seen.a;
        for (float* part : {&seen.r, &seen.g, &seen.b, &seen.a})
            *part /= kSamples;
        return seen;
    }

private:
    enum class Shown { None, Partly, All };

    /// What a pixel's corners say of all of it.
    struct Patch {
        float nearest = kNothingHit;  ///< m
        float farthest = 0.0F;
        StandeeCard::Filling filling = StandeeCard::Filling::Mixed;
    };

    /// A number that grows evenly across the picture.
    struct Linear {
        float atOrigin = 0.0F;
        float perX = 0.0F;
        float perY = 0.0F;
        [[nodiscard]] float at(float x, float y) const noexcept {
            return atOrigin + perX * x + perY * y;
        }
    };

    /// By what the rays through three corners of the frame give: rays are given per metre along the view,
    /// so that origin and direction are even across the picture.
    template <typename Of> [[nodiscard]] Linear linear(const Of& of) const {
        const auto at = [&](float x, float y) {
            const CameraRay ray = cameraRay(m_camera, x, y, m_width, m_height);
            return of(ray.origin, ray.direction / ray.planarPerDistance);
        };
        const auto wide = static_cast<float>(m_width);
        const auto high = static_cast<float>(m_height);
        const float origin = at(0.0F, 0.0F);
        return {origin, (at(wide, 0.0F) - origin) / wide, (at(0.0F, high) - origin) / high};
    }

    /// depth = m_away / m_across; a place on the card = start + depth * slope, for its two axes.
    void prepare() {
        const V3f normal = m_stand.normal();
        m_away = linear([&](const V3f& o, const V3f&) { return (m_stand.foot - o) ^ normal; });
        m_across = linear([&](const V3f&, const V3f& d) { return d ^ normal; });
        m_startU = linear([&](const V3f& o, const V3f&) {
            return ((o - m_stand.foot) ^ m_stand.right) / m_stand.width + 0.5F;
        });
        m_slopeU =
            linear([&](const V3f&, const V3f& d) { return (d ^ m_stand.right) / m_stand.width; });
        m_startV = linear([&](const V3f& o, const V3f&) {
            return 1.0F - ((o - m_stand.foot) ^ m_stand.up) / m_stand.height;
        });
        m_slopeV =
            linear([&](const V3f&, const V3f& d) { return -(d ^ m_stand.up) / m_stand.height; });
    }

    [[nodiscard]] float depthAt(float x, float y) const noexcept {
        const float across = m_across.at(x, y);
        return std::abs(across) < 1e-9F ? -1.0F : m_away.at(x, y) / across;
    }

    [[nodiscard]] float uAt(float x, float y, float depth) const noexcept {
        return m_startU.at(x, y) + depth * m_slopeU.at(x, y);
    }
    [[nodiscard]] float vAt(float x, float y, float depth) const noexcept {
        return m_startV.at(x, y) + depth * m_slopeV.at(x, y);
    }

    [[nodiscard]] Patch patchOf(const Corner* above, const Corner* below) const noexcept {
        const auto [nearest, farthest] =
            std::minmax({above[0].depth, above[1].depth, below[0].depth, below[1].depth});
        if (!(nearest > kNearest))
            return {nearest, farthest, StandeeCard::Filling::Mixed};
        const auto [u0, u1] = std::minmax({above[0].u, above[1].u, below[0].u, below[1].u});
        const auto [v0, v1] = std::minmax({above[0].v, above[1].v, below[0].v, below[1].v});
        return {nearest, farthest, m_card.filling(u0, u1, v0, v1)};
    }

    void add(float x, float y, Shown shown, Seen& seen) const noexcept {
        const float depth = depthAt(x, y);
        if (!(depth > kNearest))
            return;
        const float u = uAt(x, y, depth);
        const float v = vAt(x, y, depth);
        if (!(u >= 0.0F && u <= 1.0F && v >= 0.0F && v <= 1.0F))
            return;
        const float open = shown == Shown::All ? 1.0F : visible(x, y, depth);
        if (open <= 0.0F)
            return;
        const std::array<float, 4> colour = m_card.at(u, v);
        seen.r += colour[0] * open;
        seen.g += colour[1] * open;
        seen.b += colour[2] * open;
        seen.a += colour[3] * open;
        seen.depth += depth * colour[3] * open;
    }

    [[nodiscard]] float depthOf(int x, int y) const noexcept {
        return m_depths[m_depth.rowStride() * y + x];
    }

    /// Whether all of it shows in a pixel, or none, by the depths around; most pixels are one or the other.
    [[nodiscard]] Shown shownIn(int x, int y, const Patch& patch) const noexcept {
        if (m_depth.empty())
            return Shown::All;
        if (!(patch.nearest > kNearest))
            return Shown::Partly;
        bool all = true;
        bool none = true;
        for (int j = std::max(y - 1, 0); j <= std::min(y + 1, m_height - 1); ++j)
            for (int i = std::max(x - 1, 0); i <= std::min(x + 1, m_width - 1); ++i) {
                const float there = depthOf(i, j);
                all = all && (there - patch.farthest) * m_perSoft >= 1.0F;
                none = none && there <= patch.nearest;
            }
        return all ? Shown::All : none ? Shown::None : Shown::Partly;
    }

    /// How much is open before the scene, from the four pixels about a place: their own depths are not
    /// blended, so that outlines are smooth and lie where they are.
    [[nodiscard]] float visible(float x, float y, float depth) const noexcept {
        if (m_depth.empty())
            return 1.0F;
        const float fx = x - 0.5F;
        const float fy = y - 0.5F;
        const int x0 = static_cast<int>(fx + 1.0F) - 1;  // both are above -1
        const int y0 = static_cast<int>(fy + 1.0F) - 1;
        const auto open = [&](int i, int j) {
            const float there =
                depthOf(std::clamp(i, 0, m_width - 1), std::clamp(j, 0, m_height - 1));
            return std::isnan(there) ? 1.0F : std::clamp((there - depth) * m_perSoft, 0.0F, 1.0F);
        };
        const float ax = fx - static_cast<float>(x0);
        const float ay = fy - static_cast<float>(y0);
        return (open(x0, y0) * (1.0F - ax) + open(x0 + 1, y0) * ax) * (1.0F - ay) +
               (open(x0, y0 + 1) * (1.0F - ax) + open(x0 + 1, y0 + 1) * ax) * ay;
    }

    const Stand& m_stand;
    const StandeeCard& m_card;
    Camera m_camera;
    Image m_depth;
    const float* m_depths;
    int m_width;
    int m_height;
    float m_perSoft;
    Linear m_away;
    Linear m_across;
    Linear m_startU;
    Linear m_slopeU;
    Linear m_startV;
    Linear m_slopeV;
};

/// How high it is in the picture, px, where it is nearest.
float pixelsHigh(const Stand& stand, const FrameContext& context) {
    const auto at = [&](float v) {
        return project(context.camera(), stand.corner(0.5F, v), context.width(), context.height());
    };
    const V3f foot = at(0.0F);
    const V3f top = at(1.0F);
    if (!(foot.z > kNearest) || !(top.z > kNearest))
        return static_cast<float>(context.height());
    return V2f(top.x - foot.x, top.y - foot.y).length();
}

/// Planes that are written, copied once.
struct Written {
    Image picture;
    Image depth;
    Image coverage;
};

void lay(const Seen& seen, StandeeMode mode, std::ptrdiff_t at, const std::vector<float*>& picture,
         float* depth, float* coverage) noexcept {
    const std::array<float, 3> light{seen.r, seen.g, seen.b};
    if (mode != StandeeMode::Over) {
        // Light: it hides nothing, and only covers as much as it is bright.
        float most = 0.0F;
        for (std::size_t c = 0; c < 3; ++c) {
            const float open =
                mode == StandeeMode::Add ? 1.0F : 1.0F - std::clamp(picture[c][at], 0.0F, 1.0F);
            picture[c][at] += light.at(c) * open;
            most = std::max(most, light.at(c));
        }
        if (picture.size() > 3)
            picture[3][at] += (1.0F - picture[3][at]) * std::min(most, 1.0F);
        return;
    }
    for (std::size_t c = 0; c < 3; ++c)
        picture[c][at] = light.at(c) + picture[c][at] * (1.0F - seen.a);
    if (picture.size() > 3)
        picture[3][at] = seen.a + picture[3][at] * (1.0F - seen.a);
    if (depth != nullptr && seen.a >= 0.5F)
        depth[at] = seen.depth;
    if (coverage != nullptr)
        coverage[at] = seen.a + coverage[at] * (1.0F - seen.a);
}

/// A card where it stands.
struct Standing {
    Stand stand;
    StandeeCard card;
};

/// Those that may be seen, the farthest first.
std::vector<Standing> standingIn(const WorkingFrame& frame, const StandeeSettings& settings) {
    const FrameContext& context = frame.context();
    const Camera camera = context.camera();
    const V3f towards = axisOf(camera, 2);
    std::vector<Standing> all;
    for (const StandeeOne& one :
         standeesOf(settings, context.time().seconds, axisOf(camera, 0), towards)) {
        StandeeSettings s = settings;
        s.height *= one.size;
        s.strength *= one.strength;
        Stand stand = standOf(s, context, 1.0F);
        stand.foot += one.offset;
        const float high = pixelsHigh(stand, context);
        StandeeCard card(s, context, high, one.later);
        if (card.empty())
            continue;
        stand.width = stand.height * card.aspect();
        card.fit(high);
        all.push_back({stand, std::move(card)});
    }
    std::ranges::stable_sort(all, {},
                             [&](const Standing& one) { return one.stand.foot.dot(towards); });
    return all;
}

}  // namespace

std::vector<StandeeOne> standeesOf(const StandeeSettings& s, double seconds, const V3f& right,
                                   const V3f& towards) {
    std::vector<StandeeOne> all;
    for (int i = 0; i < s.count; ++i) {
        StandeeOne one;
        // Each by its own numbers, so that another count keeps the first ones.
        const auto number = [&](std::uint64_t turn, std::uint64_t what) {
            return Hash(static_cast<std::uint64_t>(s.seed))
                .add(static_cast<std::uint64_t>(i))
                .add(turn)
                .add(what)
                .unit();
        };
        double age = seconds;
        std::uint64_t turn = 0;
        if (s.life > 0.0F) {
            const auto life = static_cast<double>(s.life);
            const double passed =
                seconds + life * static_cast<double>(s.count > 1 ? number(0, 1) : 0.0F);
            const double born = std::floor(passed / life);
            turn = static_cast<std::uint64_t>(static_cast<std::int64_t>(born));
            age = passed - born * life;
            // It comes and goes.
            one.strength = std::sin(3.14159265F * static_cast<float>(age / life));
        }
        float pace = 1.0F;
        if (s.count > 1) {
            one.offset = right * ((number(turn, 2) - 0.5F) * s.span) +
                         towards * ((number(turn, 3) - 0.5F) * s.span);
            one.size = kSmallest + (kLargest - kSmallest) * number(turn, 4);
            pace = kSmallest + (kLargest - kSmallest) * number(turn, 5);
            one.later = static_cast<int>(number(0, 6) * kMostLater);
        }
        one.offset += s.velocity * (pace * static_cast<float>(age));
        all.push_back(one);
    }
    return all;
}

WorkingFrame standIn(const WorkingFrame& frame, const StandeeSettings& settings,
                     const RunContext& run) {
    const std::vector<Standing> all = standingIn(frame, settings);
    std::vector<Drawing> drawings;
    std::vector<Tile> tiles;
    for (const Standing& one : all) {
        drawings.emplace_back(frame, settings, one.stand, one.card);
        tiles.push_back(drawings.back().bounds());
    }
    if (std::ranges::all_of(tiles, [](const Tile& t) { return t.width() < 1 || t.height() < 1; }))
        return frame;
    Written out{frame.picture(), {}, {}};
    std::vector<float*> picture;
    for (int c = 0; c < out.picture.channels(); ++c)
        picture.push_back(out.picture.editPlane(c));
    if (settings.mode == StandeeMode::Over) {
        out.depth = frame.passIfThere({PassKind::Depth, {}});
        out.coverage = frame.passIfThere({PassKind::Coverage, {}});
    }
    float* const depth = out.depth.empty() ? nullptr : out.depth.editPlane(0);
    float* const coverage = out.coverage.empty() ? nullptr : out.coverage.editPlane(0);
    for (std::size_t k = 0; k < all.size(); ++k) {
        const Drawing& drawing = drawings[k];
        const Tile& tile = tiles[k];
        if (tile.width() < 1 || tile.height() < 1)
            continue;
        forEachBand(tile.height(), kBandHeight, run, [&](int from, int until) {
            std::vector<Drawing::Corner> above(static_cast<std::size_t>(tile.width()) + 1);
            std::vector<Drawing::Corner> below(above.size());
            drawing.cornersAbove(tile.y0 + from, tile.x0, below);
            for (int y = tile.y0 + from; y < tile.y0 + until; ++y) {
                above.swap(below);
                drawing.cornersAbove(y + 1, tile.x0, below);
                for (int i = 0; i < tile.width(); ++i)
                    if (const Seen seen =
                            drawing.at(tile.x0 + i, y, &above[static_cast<std::size_t>(i)],
                                       &below[static_cast<std::size_t>(i)]);
                        seen.a > 0.0F)
                        lay(seen, settings.mode, out.picture.rowStride() * y + tile.x0 + i, picture,
                            depth, coverage);
            }
        });
    }
    WorkingFrame result = frame;
    result.setPicture(std::move(out.picture));
    if (depth != nullptr)
        result.write({PassKind::Depth, {}}, std::move(out.depth));
    if (coverage != nullptr)
        result.write({PassKind::Coverage, {}}, std::move(out.coverage));
    return result;
}

}  // namespace noctis
