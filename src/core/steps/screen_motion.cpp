#include "core/steps/screen_motion.h"

#include "core/image/error.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr float kFarAway = 1e5F;     ///< m, where the sky is
constexpr int kLooksAcross = 120;    ///< places compared in a row
constexpr float kAgrees = 0.5F;      ///< how alike two motions are that tell which way one points
constexpr float kMovesAtAll = 0.3F;  ///< px

/// As the vectors pass says.
Image measured(const WorkingFrame& frame, const VectorSigns& signs) {
    const Image vectors = frame.pass(PassKind::Vectors);
    const float scale = frame.context().pixelScale();
    Image out(vectors.width(), vectors.height(), {"PX", "PY", "NX", "NY"});
    for (int c = 0; c < 4; ++c) {
        float* to = out.editPlane(c);
        // Two channels are the motion to the next frame alone.
        const bool both = vectors.channels() > 3;
        const int from = both ? c : c % 2;
        const std::array<float, 4> turned{signs.previous.x, signs.previous.y, signs.next.x,
                                          signs.next.y};
        const float sign =
            (both || c > 1 ? scale : -scale) * turned.at(static_cast<std::size_t>(c));
        for (int y = 0; y < out.height(); ++y)
            for (int x = 0; x < out.width(); ++x) {
                const float value = vectors(x, y, from);
                to[out.rowStride() * y + x] = std::isfinite(value) ? sign * value : 0.0F;
            }
    }
    return out;
}

/// How what a camera sees at places moves, to another camera's picture.
class CameraMotion {
public:
    CameraMotion(const FrameContext& context, const std::optional<Camera>& before,
                 const std::optional<Camera>& after)
        : m_depth(context.pass({PassKind::Depth, {}})), m_width(context.width()),
          m_height(context.height()), m_rays(context.camera(), m_width, m_height), m_before(before),
          m_after(after) {}

    struct At {
        V2f previous;
        V2f next;
    };
    [[nodiscard]] At at(int x, int y) const {
        const V2f here(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F);
        const CameraRay ray = m_rays.through(here.x, here.y);
        const float metres = m_depth(x, y, 0);
        const float away = std::isfinite(metres) && metres > 0.0F ? metres : kFarAway;
        const V3f point = ray.origin + ray.direction * (away / ray.planarPerDistance);
        const auto moved = [&](const std::optional<Camera>& other) -> std::optional<V2f> {
            if (!other)
                return std::nullopt;
            const V3f there = project(*other, point, m_width, m_height);
            if (!(there.z > 0.0F) || !std::isfinite(there.x) || !std::isfinite(there.y))
                return V2f(0.0F);
            return V2f(there.x, there.y) - here;
        };
        const std::optional<V2f> previous = moved(m_before);
        const std::optional<V2f> next = moved(m_after);
        // Where one is unknown, it goes on as it does.
        return {previous ? *previous : -next.value_or(V2f(0.0F)),
                next ? *next : -previous.value_or(V2f(0.0F))};
    }

private:
    Image m_depth;
    int m_width;
    int m_height;
    FrameRays m_rays;
    const std::optional<Camera>& m_before;
    const std::optional<Camera>& m_after;
};

bool knowsCameras(const FrameContext& context) {
    return context.has({PassKind::Depth, {}}) && (context.cameraBefore() || context.cameraAfter());
}

Image ofCamera(const FrameContext& context) {
    const CameraMotion motion(context, context.cameraBefore(), context.cameraAfter());
    Image out(context.width(), context.height(), {"PX", "PY", "NX", "NY"});
    const std::array<float*, 4> to{out.editPlane(0), out.editPlane(1), out.editPlane(2),
                                   out.editPlane(3)};
    forEachBand(out.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < out.width(); ++x) {
                const auto [previous, next] = motion.at(x, y);
                const std::ptrdiff_t at = out.rowStride() * y + x;
                to[0][at] = previous.x;
                to[1][at] = previous.y;
                to[2][at] = next.x;
                to[3][at] = next.y;
            }
    });
    return out;
}

/// How alike two lists of numbers are that should be the same: 1 wholly, -1 with the sign turned, 0 not at all.
class Likeness {
public:
    void add(float a, float b) noexcept {
        if (!std::isfinite(a) || !std::isfinite(b))
            return;
        m_both += static_cast<double>(a) * static_cast<double>(b);
        m_a += static_cast<double>(a) * static_cast<double>(a);
        m_b += static_cast<double>(b) * static_cast<double>(b);
        ++m_count;
    }
    [[nodiscard]] float value() const noexcept {
        const double least =
            static_cast<double>(kMovesAtAll * kMovesAtAll) * static_cast<double>(m_count);
        return m_a > least && m_b > least ? static_cast<float>(m_both / std::sqrt(m_a * m_b))
                                          : 0.0F;
    }

private:
    double m_both = 0.0;
    double m_a = 0.0;
    double m_b = 0.0;
    int m_count = 0;
};

}  // namespace

VectorSigns vectorSigns(const FrameContext& context) {
    VectorSigns signs;
    if (!context.has({PassKind::Vectors, {}}))
        return signs;
    const Image vectors = context.pass({PassKind::Vectors, {}});
    if (vectors.channels() < 4)
        return signs;
    std::optional<CameraMotion> camera;
    if (knowsCameras(context))
        camera.emplace(context, context.cameraBefore(), context.cameraAfter());
    Likeness alongBoth;
    std::array<Likeness, 4> asCamera;
    const int step = std::max(vectors.width() / kLooksAcross, 1);
    for (int y = step / 2; y < vectors.height(); y += step)
        for (int x = step / 2; x < vectors.width(); x += step) {
            alongBoth.add(vectors(x, y, 0), vectors(x, y, 2));
            alongBoth.add(vectors(x, y, 1), vectors(x, y, 3));
            if (!camera)
                continue;
            const auto [previous, next] = camera->at(x, y);
            const std::array<float, 4> wanted{previous.x, previous.y, next.x, next.y};
            for (std::size_t c = 0; c < 4; ++c)
                asCamera.at(c).add(vectors(x, y, static_cast<int>(c)), wanted.at(c));
        }
    const auto turned = [&](std::size_t c) { return asCamera.at(c).value() < -kAgrees; };
    if (turned(0) || turned(1) || turned(2) || turned(3)) {
        const auto sign = [&](std::size_t c) { return turned(c) ? -1.0F : 1.0F; };
        signs.previous = {sign(0), sign(1)};
        signs.next = {sign(2), sign(3)};
        const bool across = turned(0) || turned(2);
        const bool down = turned(1) || turned(3);
        signs.why = fmt::format("The vectors point the other way {}, as the camera's motion shows; "
                                "they are turned round.",
                                across && down ? "across and down"
                                : across       ? "across"
                                               : "down");
    } else if (alongBoth.value() > kAgrees) {
        signs.previous = {-1.0F, -1.0F};
        signs.why =
            "The vectors to the frame before point along the motion; they are turned round.";
    }
    return signs;
}

Image screenMotion(const WorkingFrame& frame) {
    const FrameContext& context = frame.context();
    if (frame.has({PassKind::Vectors, {}}))
        return measured(frame, vectorSigns(context));
    if (!knowsCameras(context))
        throw Error(ErrorCode::MissingPass,
                    "nothing says how the picture moves: it needs a vectors pass, or depth and the "
                    "camera of another frame; or set a direction");
    return ofCamera(context);
}

}  // namespace noctis
