#include "core/passes/normal_reading.h"

#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr int kBand = 32;
constexpr float kShortest = 0.5F;      // of what is a direction at all
constexpr float kLeastFacing = 0.05F;  // flatter ones have no slope to judge by

V3f storedAt(const Image& normals, int x, int y) noexcept {
    return {normals(x, y, 0), normals(x, y, 1), normals(x, y, 2)};
}

/// Calls work(x, y) for some forty thousand pixels at most, so that a guess costs little.
template <typename Work> void sampled(const Image& image, const Work& work) {
    const int step = std::max(1, static_cast<int>(std::sqrt(static_cast<double>(image.width()) *
                                                            image.height() / 40000.0)));
    for (int y = 0; y < image.height(); y += step)
        for (int x = 0; x < image.width(); x += step)
            work(x, y);
}

bool looksEncoded(const Image& normals) {
    std::size_t plain = 0;
    std::size_t encoded = 0;
    bool negative = false;
    sampled(normals, [&](int x, int y) {
        const V3f n = storedAt(normals, x, y);
        negative |= std::min({n.x, n.y, n.z}) < -0.01F;
        plain += std::abs(n.length() - 1.0F) < 0.03F ? 1 : 0;
        encoded += std::abs((n * 2.0F - V3f(1.0F)).length() - 1.0F) < 0.06F ? 1 : 0;
    });
    return !negative && encoded > plain;
}

/// Stored values as directions in camera axes.
class Turned {
public:
    Turned(const NormalReading& reading, const std::optional<Camera>& camera) : m_reading(reading) {
        if (camera)
            m_toCamera = camera->cameraToWorld.inverse();
    }
    [[nodiscard]] V3f operator()(const V3f& stored) const noexcept {
        V3f n = m_reading.coding == NormalCoding::Encoded ? stored * 2.0F - V3f(1.0F) : stored;
        if (m_reading.green == GreenWay::Down)
            n.y = -n.y;
        if (m_reading.axes != NormalAxes::World)
            return n;
        if (!m_toCamera)  // as seen from above
            return {n.x, -n.z, n.y};
        V3f turned;
        m_toCamera->multDirMatrix(n, turned);
        return turned;
    }

private:
    NormalReading m_reading;
    std::optional<M44f> m_toCamera;
};

/// The ray through a pixel in camera axes, at depth 1: the surface's depth is straight along it.
V3f rayThrough(const std::optional<Camera>& camera, int x, int y, int width, int height) noexcept {
    if (!camera || camera->orthographic())
        return {0.0F, 0.0F, -1.0F};
    const float down = std::tan(0.5F * camera->yfovRadians);
    const float h = static_cast<float>(height);
    return {(2.0F * (static_cast<float>(x) + 0.5F) - static_cast<float>(width)) / h * down,
            (h - 2.0F * (static_cast<float>(y) + 0.5F)) / h * down, -1.0F};
}

/// How plausible a reading looks.
struct Looks {
    double facing = 0.0;         ///< the part of all normals that face their pixel's ray
    double contradiction = 0.0;  ///< of slopes around four pixels, 0 none to 1
};

/// Source   slopes of log depth in perspective: they sum up as heights do in parallel (Tankus, Sochen, Yeshurun 2005,
///          Shape-from-Shading Under Perspective Projection).
Looks looksOf(const Image& normals, const std::optional<Camera>& camera) {
    const int w = normals.width();
    const int h = normals.height();
    std::size_t known = 0;
    std::size_t facing = 0;
    double contradicts = 0.0;
    double all = 0.0;
    const auto slope = [&](int x, int y, float& across, float& along) {
        const V3f n = storedAt(normals, x, y);
        const float towards = -n.dot(rayThrough(camera, x, y, w, h));
        if (!(towards > kLeastFacing))
            return false;
        across = -n.x / towards;
        along = -n.y / towards;
        return true;
    };
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            const V3f n = storedAt(normals, x, y);
            if (!(n.length() > kShortest))
                continue;
            ++known;
            const V3f ray = rayThrough(camera, x, y, w, h);
            facing += -n.dot(ray) > -0.02F * ray.length() ? 1 : 0;
            if (x + 1 >= w || y + 1 >= h)
                continue;
            float p00, q00, p10, q10, p01, q01, p11, q11;
            if (!slope(x, y, p00, q00) || !slope(x + 1, y, p10, q10) ||
                !slope(x, y + 1, p01, q01) || !slope(x + 1, y + 1, p11, q11))
                continue;
            // Around four pixels the rises sum to nothing. By their size alone: edges are outliers.
            const float a = p00 + p10 - p01 - p11;
            const float b = q10 + q11 - q00 - q01;
            if (std::abs(a) + std::abs(b) > 1.0F)
                continue;
            contradicts += std::abs(static_cast<double>(a - b));
            all += std::abs(static_cast<double>(a)) + std::abs(static_cast<double>(b));
        }
    return {known > 0 ? static_cast<double>(facing) / static_cast<double>(known) : 0.0,
            all > 1e-6 ? contradicts / all : 0.5};
}

/// How well a reading agrees with what was measured: the mean cosine.
double agreement(const Image& stored, const NormalReading& reading,
                 const std::optional<Camera>& camera, const Image& measured) {
    const Turned turned(reading, camera);
    double sum = 0.0;
    double count = 0.0;
    sampled(stored, [&](int x, int y) {
        const V3f n = turned(storedAt(stored, x, y));
        const V3f m = storedAt(measured, x, y);
        if (!(n.length() > kShortest) || !(m.length() > kShortest))
            return;
        sum += static_cast<double>(n.normalized().dot(m));
        count += 1.0;
    });
    return count > 0.0 ? sum / count : 0.0;
}

std::vector<NormalReading> candidatesOf(const NormalReading& wanted) {
    std::vector<NormalReading> candidates;
    for (const NormalAxes axes : {NormalAxes::Camera, NormalAxes::World})
        for (const GreenWay green : {GreenWay::Up, GreenWay::Down}) {
            if ((wanted.axes != NormalAxes::Guess && axes != wanted.axes) ||
                (wanted.green != GreenWay::Guess && green != wanted.green))
                continue;
            NormalReading candidate = wanted;
            candidate.axes = axes;
            candidate.green = green;
            candidates.push_back(candidate);
        }
    return candidates;
}

const char* axesName(NormalAxes axes) {
    return axes == NormalAxes::World ? "the world's" : "the camera's";
}

/// By what agrees best with normals from depth.
void settleByDepth(const Image& stored, const NormalHints& hints, SettledNormals& settled) {
    double best = -2.0;
    for (const NormalReading& candidate : candidatesOf(settled.reading)) {
        const double agrees = agreement(stored, candidate, hints.camera, hints.measured);
        if (agrees > best + 1e-3) {
            best = agrees;
            settled.reading = candidate;
        }
    }
    settled.reasons.push_back(
        fmt::format("Normals are read in {} axes{}, which agrees best with depth.",
                    axesName(settled.reading.axes),
                    settled.reading.green == GreenWay::Down ? ", green down" : ""));
}

/// By which way they face, and by which reading contradicts itself least.
void settleAlone(const Image& stored, const NormalHints& hints, SettledNormals& settled) {
    constexpr double kAlike = 0.004;
    constexpr double kClear = 0.05;
    if (settled.reading.axes == NormalAxes::Guess &&
        (hints.space == "camera" || hints.space == "tangent"))
        settled.reading.axes = NormalAxes::Camera;
    Looks best{-1.0, 2.0};
    NormalReading chosen = settled.reading;
    for (const NormalReading& candidate : candidatesOf(settled.reading)) {
        const Looks looks = looksOf(cameraNormals(stored, candidate, hints.camera), hints.camera);
        const bool facesMore = looks.facing > best.facing + kAlike;
        const bool facesAlike = looks.facing > best.facing - kAlike;
        if (facesMore || (facesAlike && looks.contradiction < best.contradiction - kClear)) {
            best = looks;
            chosen = candidate;
        }
    }
    settled.reading = chosen;
    settled.reasons.push_back(fmt::format("Normals are read in {} axes{}: {:.0f} % of them then "
                                          "face the viewer, and their slopes are most consistent.",
                                          axesName(chosen.axes),
                                          chosen.green == GreenWay::Down ? ", green down" : "",
                                          100.0 * best.facing));
}

}  // namespace

std::string describe(const NormalReading& r) {
    return fmt::format("{}, {}, green {}", r.coding == NormalCoding::Encoded ? "encoded" : "plain",
                       r.axes == NormalAxes::World ? "world" : "camera",
                       r.green == GreenWay::Down ? "down" : "up");
}

SettledNormals settleNormals(const Image& stored, const NormalHints& hints,
                             const NormalReading& wanted) {
    SettledNormals settled{wanted, {}};
    NormalReading& reading = settled.reading;
    if (reading.coding == NormalCoding::Guess) {
        const bool encoded = looksEncoded(stored);
        reading.coding = encoded ? NormalCoding::Encoded : NormalCoding::Plain;
        if (encoded)
            settled.reasons.emplace_back(
                "Normals are read as encoded from 0 to 1, which gives them length 1.");
    }
    const bool open = reading.axes == NormalAxes::Guess || reading.green == GreenWay::Guess;
    if (open && !hints.measured.empty() && hints.measured.sameSize(stored)) {
        settleByDepth(stored, hints, settled);
        return settled;
    }
    if (open)
        settleAlone(stored, hints, settled);
    return settled;
}

Image cameraNormals(const Image& stored, const NormalReading& settled,
                    const std::optional<Camera>& camera) {
    Image out = Image::unset(stored.width(), stored.height(), {"X", "Y", "Z"});
    float* to[3] = {out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    const Turned turned(settled, camera);
    forEachBand(stored.height(), kBand, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < stored.width(); ++x) {
                V3f n = turned(storedAt(stored, x, y));
                const float length = n.length();
                n = length > kShortest && std::isfinite(length) ? n / length : V3f(0.0F);
                for (int c = 0; c < 3; ++c)
                    to[c][out.rowStride() * y + x] = n[c];
            }
    });
    return out;
}

double greenDoubt(const Image& normals) {
    Image turned = normals;
    float* green = turned.editPlane(1);
    for (std::ptrdiff_t i = 0; i < turned.rowStride() * turned.height(); ++i)
        green[i] = -green[i];
    const double up = looksOf(normals, {}).contradiction;
    const double down = looksOf(turned, {}).contradiction;
    return up == down ? 1.0 : up / std::max(down, 1e-6);
}

}  // namespace noctis
