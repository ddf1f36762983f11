#include "core/steps/air_scattering.h"

#include "core/image/angle.h"
#include "core/image/error.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstdint>
#include <limits>
#include <mutex>
#include <numbers>
#include <utility>
#include <vector>

namespace noctis {

namespace {

/// A ray is close to a lamp within so many times its size.
constexpr float kCloseSizes = 4.0F;
constexpr float kHalfTurn = kPi / 2.0F;

/// Gauss and Legendre's nodes and weights on 0..1.
constexpr std::array<float, 8> kNodes{0.0198550718F, 0.1016667613F, 0.2372337950F, 0.4082826788F,
                                      0.5917173212F, 0.7627662050F, 0.8983332387F, 0.9801449282F};
constexpr std::array<float, 8> kWeights{0.0506142681F, 0.1111905172F, 0.1568533229F, 0.1813418917F,
                                        0.1813418917F, 0.1568533229F, 0.1111905172F, 0.0506142681F};

float phaseOf(float g, float cosine) noexcept {
    const float base = std::max(1.0F + g * g - 2.0F * g * cosine, 1e-6F);
    return (1.0F - g * g) / (4.0F * kPi * base * std::sqrt(base));
}

}  // namespace

/// A view ray as the lamp sees it: at angle a from its nearest point it is at t0 + b tan(a), b / cos(a) from the lamp.
struct AirScattering::Ray {
    float b = 0.0F;       ///< m, the lamp's distance from the ray
    float t0 = 0.0F;      ///< m along the ray, of its nearest point
    float across = 0.0F;  ///< the cosine to a spot's axis is across cos(a) + forward sin(a)
    float forward = 0.0F;

    [[nodiscard]] float angleAt(float t) const noexcept { return std::atan2(t - t0, b); }
};

/// The integral of p(-sin a) e^(-u tan(a/2 + pi/4)) from -pi/2 to an angle, over u and q = tan(a/2), which needs no
/// trigonometry to look up: q = (t - t0) / (r + b).
class AirScattering::Table {
public:
    explicit Table(float scatter) : m_values(std::size_t{kRows} * (kColumns + 1)) {
        constexpr std::array<float, 3> nodes{0.1127016654F, 0.5F, 0.8872983346F};
        constexpr std::array<float, 3> weights{0.2777777778F, 0.4444444444F, 0.2777777778F};
        constexpr float kStep = 2.0F / kColumns;
        std::array<std::array<float, 3>, kColumns> phases{};
        std::array<std::array<float, 3>, kColumns> tangents{};
        for (std::size_t j = 0; j < kColumns; ++j)
            for (std::size_t k = 0; k < 3; ++k) {
                const float q = -1.0F + (static_cast<float>(j) + nodes.at(k)) * kStep;
                const float widen = 2.0F / (1.0F + q * q);  // da / dq
                phases.at(j).at(k) = weights.at(k) * kStep * widen * phaseOf(scatter, -q * widen);
                tangents.at(j).at(k) = (1.0F + q) / (1.0F - q);
            }
        for (std::size_t i = 0; i < kRows; ++i) {
            const float u = uOf(i);
            float* row = m_values.data() + std::size_t{kColumns + 1} * i;
            double sum = 0.0;
            row[0] = 0.0F;
            for (std::size_t j = 0; j < kColumns; ++j) {
                float cell = 0.0F;
                for (std::size_t k = 0; k < 3; ++k)
                    cell += phases.at(j).at(k) * std::exp(-u * tangents.at(j).at(k));
                sum += static_cast<double>(cell);
                row[j + 1] = static_cast<float>(sum);
            }
        }
    }

    [[nodiscard]] float between(float u, float from, float to) const noexcept {
        // A float's bits, without its sign, go up with its logarithm: straight within each octave, as rows do.
        const float bounded = std::clamp(u, kLeast, kMost);
        const std::uint32_t steps =
            std::bit_cast<std::uint32_t>(bounded) - std::bit_cast<std::uint32_t>(kLeast);
        const std::size_t row = std::min<std::size_t>(steps >> kRowBits, kRows - 2);
        const float part =
            static_cast<float>(steps - (static_cast<std::uint32_t>(row) << kRowBits)) /
            static_cast<float>(1U << kRowBits);
        const float* values = m_values.data() + std::size_t{kColumns + 1} * row;
        const float* next = values + kColumns + 1;
        const auto at = [&](float q) {
            const float place = std::clamp((q + 1.0F) * (0.5F * kColumns), 0.0F, kColumns - 0.001F);
            const auto column = static_cast<std::size_t>(static_cast<int>(place));
            const float along = place - static_cast<float>(column);
            const float here = values[column] + along * (values[column + 1] - values[column]);
            const float there = next[column] + along * (next[column + 1] - next[column]);
            return here + part * (there - here);
        };
        return at(to) - at(from);
    }

    void describe(ScatterRow& row) const noexcept {
        row.table = m_values.data();
        row.columns = static_cast<int>(kColumns);
        row.rows = static_cast<int>(kRows);
        row.leastU = kLeast;
        row.mostU = kMost;
    }

private:
    static constexpr std::size_t kColumns = 512;
    static constexpr unsigned kRowBits = kScatterRowBits;  ///< 16 rows an octave
    static constexpr float kLeast = 0x1p-23F;
    static constexpr float kMost = 64.0F;
    static constexpr std::size_t kRows = 16 * 29 + 1;

    static float uOf(std::size_t row) noexcept {
        return std::bit_cast<float>(std::bit_cast<std::uint32_t>(kLeast) +
                                    (static_cast<std::uint32_t>(row) << kRowBits));
    }

    std::vector<float> m_values;
};

AirScattering::AirScattering(const SceneLight& light, float sigma, float scatter, float size,
                             const TintByDistance& tint)
    : m_light(light), m_sigma(sigma), m_scatter(scatter), m_size(std::max(size, 1e-4F)),
      m_tint(tint), m_axis(-light.towards.normalized()) {
    if (light.kind == SceneLightKind::Dome)
        throw Error(ErrorCode::BadSetting,
                    "a dome shines from everywhere and makes no halo; choose a lamp, spot or sun");
    if (light.kind == SceneLightKind::Area) {
        // A square of even radiance sends out pi times its area of it, a lamp 4 pi times its intensity.
        m_light.kind = SceneLightKind::Point;
        m_light.strength = light.strength * light.size * light.size / 4.0F;
    }
    m_inner = light.inner * kRadians;
    m_outer = std::max(light.outer, light.inner + 0.01F) * kRadians;
    if (m_light.kind != SceneLightKind::Sun)
        m_table = tableFor(scatter);
}

/// Kept while it is used: it takes some milliseconds, as long as a small picture.
std::shared_ptr<const AirScattering::Table> AirScattering::tableFor(float scatter) {
    static std::mutex mutex;
    static std::pair<float, std::shared_ptr<const Table>> last;
    const std::lock_guard lock(mutex);
    if (last.second == nullptr || last.first != scatter)
        last = {scatter, std::make_shared<const Table>(scatter)};
    return last.second;
}

ScatterRow AirScattering::scatterRow() const {
    ScatterRow row;
    row.sun = m_light.kind == SceneLightKind::Sun;
    row.spot = m_light.kind == SceneLightKind::Spot;
    row.sigma = m_sigma;
    row.scatter = m_scatter;
    row.lamp = m_light.position;
    row.axis = m_axis;
    row.close = kCloseSizes * m_size;
    row.inner = m_inner;
    row.outer = m_outer;
    row.innerCosine = std::cos(m_inner);
    row.outerCosine = std::cos(m_outer);
    if (m_table)
        m_table->describe(row);
    return row;
}

void AirScattering::addRow(const RowOfRays& rays, const float* distance, const float* share,
                           float* r, float* g, float* b, int count) const {
    constexpr int kPiece = 256;
    alignas(64) float metres[kPiece];
    alignas(64) float light[kPiece];
    const ScatterRow law = scatterRow();
    const float s = m_light.strength;
    const LinearRgb colour{s * m_light.colour.r, s * m_light.colour.g, s * m_light.colour.b};
    for (int first = 0; first < count; first += kPiece) {
        const int pixels = std::min(kPiece, count - first);
        const auto start = static_cast<float>(first);
        const RowOfRays piece{rays.origin + rays.aside * start, rays.aside,
                              rays.way + rays.step * start, rays.step};
        std::copy_n(distance + first, pixels, metres);
        const int padded = (pixels + 15) / 16 * 16;
        std::fill(metres + pixels, metres + padded, 0.0F);
        if (m_tint.reach > 0.0F && !law.sun)
            std::fill_n(light, padded, std::numeric_limits<float>::quiet_NaN());
        else
            noctis::scatterRow(law, piece, metres, light, padded);
        for (int i = 0; i < pixels; ++i) {
            LinearRgb added{light[i] * colour.r, light[i] * colour.g, light[i] * colour.b};
            if (std::isnan(light[i])) {
                const auto x = static_cast<float>(i);
                const V3f way = piece.way + piece.step * x;
                added = along(piece.origin + piece.aside * x,
                              way * (1.0F / std::sqrt(way.dot(way))), metres[i]);
            }
            const float part = share == nullptr ? 1.0F : share[first + i];
            r[first + i] += added.r * part;
            g[first + i] += added.g * part;
            b[first + i] += added.b * part;
        }
    }
}

float AirScattering::phase(float cosine) const noexcept { return phaseOf(m_scatter, cosine); }

bool AirScattering::isClose(const Ray& ray) const noexcept { return ray.b < kCloseSizes * m_size; }

float AirScattering::ofSpot(const Ray& ray, float cosAngle, float sinAngle) const noexcept {
    if (m_light.kind != SceneLightKind::Spot)
        return 1.0F;
    const float cosine = ray.across * cosAngle + ray.forward * sinAngle;
    const float from = std::acos(std::clamp(cosine, -1.0F, 1.0F));
    const float t = std::clamp((m_outer - from) / (m_outer - m_inner), 0.0F, 1.0F);
    return t * t * (3.0F - 2.0F * t);
}

/// By quadrature between two angles, where the integrand has no corner.
AirScattering::Parts AirScattering::summed(const Ray& ray, float from, float to) const {
    Parts sum;
    constexpr int kPieces = 3;
    const float piece = (to - from) / kPieces;
    for (int i = 0; i < kPieces; ++i)
        for (std::size_t k = 0; k < kNodes.size(); ++k) {
            const float angle = from + piece * (static_cast<float>(i) + kNodes.at(k));
            const float r = ray.b / std::max(std::cos(angle), 1e-7F);
            const float t = ray.t0 + ray.b * std::tan(angle);
            const float light = kWeights.at(k) * piece * phase(-std::sin(angle)) *
                                std::exp(-m_sigma * (std::max(t, 0.0F) + r)) *
                                ofSpot(ray, std::cos(angle), std::sin(angle));
            sum.all += light;
            if (m_tint.reach > 0.0F)
                sum.far += light * std::min(r / m_tint.reach, 1.0F);
        }
    const float scale = m_sigma / ray.b;
    return {sum.all * scale, sum.far * scale};
}

/// Two angles, and between them by rising angle those at which the light has a corner: a spot's cones, and where the far
/// colour is reached.
AirScattering::Cuts AirScattering::cutsOf(const Ray& ray, float from, float to) const {
    Cuts cuts{{from, to}, 2};
    const auto cut = [&](float angle) {
        if (!(angle > from && angle < to) || cuts.count == cuts.angles.size())
            return;
        std::size_t i = cuts.count++;
        for (; i > 1 && cuts.angles.at(i - 1) > angle; --i)
            cuts.angles.at(i) = cuts.angles.at(i - 1);
        cuts.angles.at(i) = angle;
    };
    if (isClose(ray)) {
        cut(0.0F);
        if (m_size > ray.b) {
            cut(-std::acos(ray.b / m_size));
            cut(std::acos(ray.b / m_size));
        }
    }
    const float scale = std::hypot(ray.across, ray.forward);
    const float middle = std::atan2(ray.forward, ray.across);
    if (m_light.kind == SceneLightKind::Spot)
        for (const float cone : {m_inner, m_outer}) {
            const float cosine = std::cos(cone) / std::max(scale, 1e-6F);
            if (std::abs(cosine) >= 1.0F)
                continue;
            const float half = std::acos(cosine);
            for (const float turn : {-2.0F * kPi, 0.0F, 2.0F * kPi}) {
                cut(middle - half + turn);
                cut(middle + half + turn);
            }
        }
    if (m_tint.reach > ray.b) {
        const float angle = std::acos(ray.b / m_tint.reach);
        cut(-angle);
        cut(angle);
    }
    return cuts;
}

/// Between two angles of a ray that passes the lamp at some distance.
AirScattering::Parts AirScattering::awayFromLamp(const Ray& ray, float from, float to) const {
    if (!(to > from))
        return {};
    const Cuts cuts = cutsOf(ray, from, to);
    Parts sum;
    for (std::size_t i = 1; i < cuts.count; ++i) {
        const float first = cuts.angles.at(i - 1);
        const float last = cuts.angles.at(i);
        const float middle = 0.5F * (first + last);
        const float spot = ofSpot(ray, std::cos(middle), std::sin(middle));
        if (spot == 0.0F)
            continue;
        // Where nothing but the law itself changes, and the table's factor is no growing one.
        if (spot == 1.0F && fromTable(ray)) {
            sum.all += looked(ray, std::tan(0.5F * first), std::tan(0.5F * last));
            continue;
        }
        const Parts part = summed(ray, first, last);
        sum.all += part.all;
        sum.far += part.far;
    }
    return sum;
}

/// Between two places of a ray that passes close to the lamp, m: by w, t = t0 + b sinh w, as angles get too close to a
/// quarter turn for floats.
AirScattering::Parts AirScattering::closeToLamp(const Ray& ray, float from, float to) const {
    Cuts cuts = cutsOf(ray, ray.angleAt(from), ray.angleAt(to));
    cuts.angles.at(0) = std::asinh((from - ray.t0) / ray.b);
    for (std::size_t i = 1; i + 1 < cuts.count; ++i)
        cuts.angles.at(i) = std::asinh(std::tan(cuts.angles.at(i)));
    cuts.angles.at(cuts.count - 1) = std::asinh((to - ray.t0) / ray.b);
    Parts sum;
    constexpr int kPieces = 3;
    for (std::size_t c = 1; c < cuts.count; ++c) {
        const float first = cuts.angles.at(c - 1);
        const float piece = (cuts.angles.at(c) - first) / kPieces;
        for (int i = 0; i < kPieces; ++i)
            for (std::size_t k = 0; k < kNodes.size(); ++k) {
                const float w = first + piece * (static_cast<float>(i) + kNodes.at(k));
                const float cosh = std::cosh(w);
                const float r = ray.b * cosh;
                const float t = ray.t0 + ray.b * std::sinh(w);
                const float within = std::max(r, m_size);
                const float light = kWeights.at(k) * piece * r / (within * within) *
                                    phase(-std::tanh(w)) *
                                    std::exp(-m_sigma * (std::max(t, 0.0F) + r)) *
                                    ofSpot(ray, 1.0F / cosh, std::tanh(w));
                sum.all += light;
                if (m_tint.reach > 0.0F)
                    sum.far += light * std::min(r / m_tint.reach, 1.0F);
            }
    }
    return {sum.all * m_sigma, sum.far * m_sigma};
}

/// Whether the law alone says what arrives, and the table's ends don't lie too close together for it.
bool AirScattering::fromTable(const Ray& ray) const noexcept {
    return m_tint.reach == 0.0F && ray.t0 > std::max(-ray.b, -1.0F / m_sigma);
}

/// Between two halves of angles, as tangents.
float AirScattering::looked(const Ray& ray, float from, float to) const {
    return m_sigma / ray.b * std::exp(-m_sigma * ray.t0) *
           m_table->between(m_sigma * ray.b, from, to);
}

/// Between two places of the ray, m.
AirScattering::Parts AirScattering::between(const Ray& ray, float from, float to) const {
    if (m_light.kind == SceneLightKind::Point && !isClose(ray) && fromTable(ray)) {
        const auto half = [&](float t) {
            const float along = t - ray.t0;
            return along / (std::sqrt(along * along + ray.b * ray.b) + ray.b);
        };
        return {looked(ray, half(from), half(to)), 0.0F};
    }
    return isClose(ray) ? closeToLamp(ray, from, to)
                        : awayFromLamp(ray, ray.angleAt(from), ray.angleAt(to));
}

LinearRgb AirScattering::along(const V3f& eye, const V3f& direction, float distance) const {
    if (!(distance > 0.0F))
        return {};
    const auto coloured = [&](float near, float far) {
        const float s = m_light.strength;
        return LinearRgb{s * m_light.colour.r * (near * m_tint.near.r + far * m_tint.far.r),
                         s * m_light.colour.g * (near * m_tint.near.g + far * m_tint.far.g),
                         s * m_light.colour.b * (near * m_tint.near.b + far * m_tint.far.b)};
    };
    if (m_light.kind == SceneLightKind::Sun) {
        // Its light travels along the axis.
        const float depth = m_sigma * distance;
        const float taken = depth > 1e-3F ? 1.0F - std::exp(-depth) : depth;
        const float light = phase(-m_axis.dot(direction)) * taken;
        const float s = m_light.strength * light;
        return {s * m_light.colour.r, s * m_light.colour.g, s * m_light.colour.b};
    }
    const V3f toLamp = m_light.position - eye;
    Ray ray;
    ray.t0 = toLamp.dot(direction);
    const V3f away = direction * ray.t0 - toLamp;  // from the lamp to the ray
    ray.b = std::max(away.length(), 1e-4F * m_size);
    if (m_light.kind == SceneLightKind::Spot) {
        ray.across = m_axis.dot(away.normalized());
        ray.forward = m_axis.dot(direction);
    }
    // Beyond this, air has taken everything.
    const float farthest =
        std::max(ray.t0, 0.0F) + std::max(20.0F / m_sigma, 100.0F * toLamp.length());
    const Parts parts = between(ray, 0.0F, std::min(distance, farthest));
    return coloured(parts.all - parts.far, parts.far);
}

}  // namespace noctis
