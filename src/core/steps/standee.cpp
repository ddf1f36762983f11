#include "core/steps/standee.h"

#include "core/image/resample.h"
#include "core/image/tiles.h"
#include "core/steps/lit_surface.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr int kSide = 4;  ///< samples across and down a pixel
constexpr int kSamples = kSide * kSide;
constexpr int kBandHeight = 8;
constexpr float kNearest = 1e-3F;  ///< m; what is nearer to the camera is not drawn
constexpr int kCoarsestText = 64;  ///< px a line
constexpr int kFinestText = 1024;
constexpr float kRadians = 0.01745329252F;

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

/// What stands: R G B A, associated; its first row is its top.
class Card {
public:
    Card(const StandeeSettings& s, const FrameContext& context, float pixelsHigh)
        : m_tint{s.colour.r * s.strength, s.colour.g * s.strength, s.colour.b * s.strength} {
        if (!s.picture.path.empty())
            m_image = context.file(s.picture.path);
        else
            m_text = context.text(s.text, s.font.path, lineHeightFor(pixelsHigh));
    }
    [[nodiscard]] bool empty() const { return shown().empty(); }
    [[nodiscard]] float aspect() const {
        return static_cast<float>(shown().width()) / static_cast<float>(shown().height());
    }
    /// Makes it small enough that no detail falls between two samples.
    void fit(float pixelsHigh) {
        const float wanted = std::max(1.0F, pixelsHigh * kSide);
        const int factor = static_cast<int>(static_cast<float>(shown().height()) / wanted);
        if (factor < 2)
            return;
        Image& image = m_image.empty() ? m_text : m_image;
        image = shrinkByMean(image, std::min(factor, image.height()));
    }
    /// At a place of it, from its top left (0, 0) to its bottom right (1, 1).
    [[nodiscard]] std::array<float, 4> at(float u, float v) const noexcept {
        if (m_image.empty()) {
            const float covered = sample(m_text, 0, u, v);
            return {m_tint.r * covered, m_tint.g * covered, m_tint.b * covered, covered};
        }
        return {m_tint.r * sample(m_image, 0, u, v), m_tint.g * sample(m_image, 1, u, v),
                m_tint.b * sample(m_image, 2, u, v), sample(m_image, 3, u, v)};
    }

private:
    /// Fine enough for the samples of that many pixels; in few sizes, so that dragging sets it rarely.
    static int lineHeightFor(float pixelsHigh) {
        int line = kCoarsestText;
        while (line < kFinestText && static_cast<float>(line) < pixelsHigh * 2.0F)
            line *= 2;
        return line;
    }
    [[nodiscard]] const Image& shown() const { return m_image.empty() ? m_text : m_image; }
    /// Bilinear; u and v from 0 to 1.
    [[nodiscard]] static float sample(const Image& image, int c, float u, float v) noexcept {
        const int right = image.width() - 1;
        const int bottom = image.height() - 1;
        const float x = u * static_cast<float>(image.width()) - 0.5F;
        const float y = v * static_cast<float>(image.height()) - 0.5F;
        // Both are above -1, so that cutting the fraction off one more is the floor.
        const int x0 = static_cast<int>(x + 1.0F) - 1;
        const int y0 = static_cast<int>(y + 1.0F) - 1;
        const float* above = image.row(c, std::max(y0, 0));
        const float* below = image.row(c, std::min(y0 + 1, bottom));
        const int i = std::max(x0, 0);
        const int j = std::min(x0 + 1, right);
        const float fx = x - static_cast<float>(x0);
        const float fy = y - static_cast<float>(y0);
        const float top = above[i] + (above[j] - above[i]) * fx;
        return top + (below[i] + (below[j] - below[i]) * fx - top) * fy;
    }

    Image m_image;
    Image m_text;
    LinearRgb m_tint;
};

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
            const Card& card)
        : m_stand(stand), m_card(card), m_camera(frame.context().camera()),
          m_depth(frame.passIfThere({PassKind::Depth, {}})), m_width(frame.width()),
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

    [[nodiscard]] Seen at(int x, int y) const noexcept {
        Seen seen;
        const Shown shown = shownIn(x, y);
        if (shown == Shown::None)
            return seen;
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

    void add(float x, float y, Shown shown, Seen& seen) const noexcept {
        const float depth = depthAt(x, y);
        if (!(depth > kNearest))
            return;
        const float u = m_startU.at(x, y) + depth * m_slopeU.at(x, y);
        const float v = m_startV.at(x, y) + depth * m_slopeV.at(x, y);
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

    /// Whether all of it shows in a pixel, or none, by the depths around; most pixels are one or the other.
    [[nodiscard]] Shown shownIn(int x, int y) const noexcept {
        if (m_depth.empty())
            return Shown::All;
        float nearest = kNothingHit;
        float farthest = 0.0F;
        for (const auto& [dx, dy] :
             {std::pair(0.0F, 0.0F), {1.0F, 0.0F}, {0.0F, 1.0F}, {1.0F, 1.0F}}) {
            const float depth = depthAt(static_cast<float>(x) + dx, static_cast<float>(y) + dy);
            nearest = std::min(nearest, depth);
            farthest = std::max(farthest, depth);
        }
        if (!(nearest > kNearest))
            return Shown::Partly;
        bool all = true;
        bool none = true;
        for (int j = std::max(y - 1, 0); j <= std::min(y + 1, m_height - 1); ++j)
            for (int i = std::max(x - 1, 0); i <= std::min(x + 1, m_width - 1); ++i) {
                const float there = m_depth(i, j, 0);
                all = all && (there - farthest) * m_perSoft >= 1.0F;
                none = none && there <= nearest;
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
        const int x0 = static_cast<int>(std::floor(fx));
        const int y0 = static_cast<int>(std::floor(fy));
        const auto open = [&](int i, int j) {
            const float there =
                m_depth(std::clamp(i, 0, m_width - 1), std::clamp(j, 0, m_height - 1), 0);
            return std::isnan(there) ? 1.0F : std::clamp((there - depth) * m_perSoft, 0.0F, 1.0F);
        };
        const float ax = fx - static_cast<float>(x0);
        const float ay = fy - static_cast<float>(y0);
        return (open(x0, y0) * (1.0F - ax) + open(x0 + 1, y0) * ax) * (1.0F - ay) +
               (open(x0, y0 + 1) * (1.0F - ax) + open(x0 + 1, y0 + 1) * ax) * ay;
    }

    const Stand& m_stand;
    const Card& m_card;
    Camera m_camera;
    Image m_depth;
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

void lay(const Seen& seen, std::ptrdiff_t at, const std::vector<float*>& picture, float* depth,
         float* coverage) noexcept {
    const float light[3] = {seen.r, seen.g, seen.b};
    for (std::size_t c = 0; c < 3; ++c)
        picture[c][at] = light[c] + picture[c][at] * (1.0F - seen.a);
    if (picture.size() > 3)
        picture[3][at] = seen.a + picture[3][at] * (1.0F - seen.a);
    if (depth != nullptr && seen.a >= 0.5F)
        depth[at] = seen.depth;
    if (coverage != nullptr)
        coverage[at] = seen.a + coverage[at] * (1.0F - seen.a);
}

}  // namespace

WorkingFrame standIn(const WorkingFrame& frame, const StandeeSettings& settings,
                     const RunContext& run) {
    const FrameContext& context = frame.context();
    const float high = pixelsHigh(standOf(settings, context, 1.0F), context);
    Card card(settings, context, high);
    if (card.empty())
        return frame;
    const Stand stand = standOf(settings, context, card.aspect());
    card.fit(high);
    const Drawing drawing(frame, settings, stand, card);
    const Tile tile = drawing.bounds();
    if (tile.width() < 1 || tile.height() < 1)
        return frame;
    Written out{frame.picture(), frame.passIfThere({PassKind::Depth, {}}),
                frame.passIfThere({PassKind::Coverage, {}})};
    std::vector<float*> picture;
    for (int c = 0; c < out.picture.channels(); ++c)
        picture.push_back(out.picture.editPlane(c));
    float* const depth = out.depth.empty() ? nullptr : out.depth.editPlane(0);
    float* const coverage = out.coverage.empty() ? nullptr : out.coverage.editPlane(0);
    forEachBand(tile.height(), kBandHeight, run, [&](int from, int until) {
        for (int y = tile.y0 + from; y < tile.y0 + until; ++y)
            for (int x = tile.x0; x < tile.x1; ++x)
                if (const Seen seen = drawing.at(x, y); seen.a > 0.0F)
                    lay(seen, out.picture.rowStride() * y + x, picture, depth, coverage);
    });
    WorkingFrame result = frame;
    result.setPicture(std::move(out.picture));
    if (depth != nullptr)
        result.write({PassKind::Depth, {}}, std::move(out.depth));
    if (coverage != nullptr)
        result.write({PassKind::Coverage, {}}, std::move(out.coverage));
    return result;
}

StepType standeeStep() {
    using S = StandeeSettings;
    return StepBuilder<S>("standee", "Standee")
        .version(1)
        .phase(Phase::Air)
        .help("A text or a picture that stands in the scene, behind what is nearer.")
        .text(&S::text, "text", "Text", TextUse::Free, "What it says, while it has no picture.")
        .file(&S::picture, "picture", "Picture", TextUse::PictureFile,
              "A picture to stand there instead of a text; its alpha is its outline.")
        .file(&S::font, "font", "Font", TextUse::FontFile,
              "A font file for the text; empty is the application's own.")
        .number(&S::height, "height", "Height", Unit::Metre, {0.001F, 1e5F, 20.0F},
                "How high all of it is in the scene.")
        .number(&S::distance, "distance", "Distance", Unit::Metre, {0.0F, 1e6F, 100.0F},
                "How far off it stands, along the view; 0 stands it at its position instead.")
        .place(&S::at, "at", "Foot at", "Where its foot is in the picture, with a distance.")
        .onlyWhen("distance>0")
        .position(&S::position, "position", "Position",
                  "Where its foot is in the scene, without a distance.")
        .onlyWhen("distance=0")
        .choice(
            &S::facing, "facing", "Faces",
            {{"camera", "The camera"}, {"upright", "The camera, upright"}, {"fixed", "One way"}},
            "Whether it turns to the camera.")
        .number(&S::turn, "turn", "Turn", Unit::Degree, {-360.0F, 360.0F, 180.0F},
                "Which way it faces, about the vertical.")
        .onlyWhen("facing=fixed")
        .colour(&S::colour, "colour", "Colour", "The text's colour; it multiplies a picture.")
        .number(&S::strength, "strength", "Strength", Unit::Percent, {0.0F, 1000.0F, 4.0F},
                "How bright it is.")
        .number(&S::soft, "soft", "Soft", Unit::Metre, {0.0F, 1000.0F, 2.0F},
                "The way before a surface over which it fades into it.")
        .preset("Title", {{"text", std::string("Saltern Quay")},
                          {"height", 3.0F},
                          {"distance", 40.0F},
                          {"colour", LinearRgb{0.55F, 0.60F, 0.66F}}})
        .preset("Ghost sign", {{"strength", 0.35F}, {"soft", 1.5F}})
        .writes({{PassKind::Depth, {}}, {PassKind::Coverage, {}}})
        .reads([](const S&) {
            return std::vector<PassNeed>{wanted(PassKind::Depth, "what hides it"),
                                         wanted(PassKind::Coverage, "its outline")};
        })
        .summary([](const S& s) {
            const std::string what = s.picture.path.empty() ? s.text.substr(0, s.text.find('\n'))
                                                            : s.picture.path.filename().string();
            return fmt::format("{} · {}{}", what, formatNumber(s.height, Unit::Metre),
                               s.distance > 0.0F ? " at " + formatNumber(s.distance, Unit::Metre)
                                                 : std::string());
        })
        .lane(DepthLane::Shape::Span,
              [](const S& s, float metres) {
                  const float away = std::abs(std::log(metres / std::max(s.distance, 1e-3F)));
                  return s.distance > 0.0F && away < 0.03F ? 1.0F : 0.0F;
              })
        .handle(HandleKind::Distance, "distance", "stands at",
                [](const S& s) { return s.distance > 0.0F; })
        .handle(HandleKind::Place, "at", "foot", [](const S& s) { return s.distance > 0.0F; })
        .handle(HandleKind::Point, "position", "foot",
                [](const S& s) { return !(s.distance > 0.0F); })
        .area([](const WorkingFrame& frame, const S& s, const RunContext& run) {
            return standIn(frame, s, run);
        })
        .build();
}

}  // namespace noctis
