#include "core/tracer/occlusion.h"

#include "core/passes/statistics.h"
#include "core/tracer/directions.h"
#include "core/tracer/ray_packets.h"
#include "core/tracer/sampler.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace noctis {

namespace {

/// Tables that differ in where within each ring its sample lies, so that rings leave no bias.
constexpr int kTables = 16;
constexpr double kGoldenAngle = 2.399963229728653;

/// Directions are sorted by the cells of a grid laid over the sphere, unfolded to a square.
/// Source   Cigolle et al. 2014, A Survey of Efficient Representations for Independent Unit Vectors (oct).
constexpr int kBinsAcross = 12;
constexpr int kDirectionBins = kBinsAcross * kBinsAcross;

int directionBin(const V3f& d) noexcept {
    const float sum = std::abs(d.x) + std::abs(d.y) + std::abs(d.z);
    float u = d.x / sum;
    float v = d.z / sum;
    if (d.y < 0.0F) {
        const float folded = (1.0F - std::abs(v)) * std::copysign(1.0F, u);
        v = (1.0F - std::abs(u)) * std::copysign(1.0F, v);
        u = folded;
    }
    const auto cell = [](float w) {
        return std::clamp(static_cast<int>((w + 1.0F) * 0.5F * kBinsAcross), 0, kBinsAcross - 1);
    };
    // There and back, so that neighbours of the order are neighbours on the sphere.
    const int row = cell(v);
    const int column = cell(u);
    return row * kBinsAcross + (row % 2 == 0 ? column : kBinsAcross - 1 - column);
}

/// 0..n-1 so that every beginning of the order is spread evenly over the whole.
std::vector<int> spreadOrder(int n) {
    int bits = 0;
    while ((1 << bits) < n)
        ++bits;
    std::vector<int> order;
    for (int i = 0; i < (1 << bits); ++i) {
        int reversed = 0;
        for (int b = 0; b < bits; ++b)
            reversed |= ((i >> b) & 1) << (bits - 1 - b);
        if (reversed < n)
            order.push_back(reversed);
    }
    return order;
}

std::vector<V3f> spiral(int samples, float coneDegrees, double within) {
    const double widest =
        std::sin(static_cast<double>(coneDegrees) * static_cast<double>(kPi) / 180.0);
    std::vector<V3f> directions;
    for (const int i : spreadOrder(samples)) {
        const double r = widest * std::sqrt((i + within) / samples);
        const double angle = kGoldenAngle * i;
        directions.emplace_back(static_cast<float>(r * std::cos(angle)),
                                static_cast<float>(r * std::sin(angle)),
                                static_cast<float>(std::sqrt(std::max(0.0, 1.0 - r * r))));
    }
    return directions;
}

}  // namespace

OcclusionSampler::OcclusionSampler(const Accelerator& occluders, const OcclusionSettings& settings)
    : m_occluders(occluders), m_settings(settings) {
    for (int i = 0; i < kTables; ++i)
        m_tables.push_back(spiral(settings.samples, settings.cone, (i + 0.5) / kTables));
}

OcclusionSampler::Turned OcclusionSampler::turnedAt(const Surface& surface,
                                                    std::uint32_t pixelHash) const noexcept {
    const float turn = 2.0F * kPi * unitFloat(pixelHash);
    const TangentFrame frame(surface.normal);
    Turned turned;
    turned.tangent = frame.tangent * std::cos(turn) + frame.bitangent * std::sin(turn);
    turned.bitangent = frame.bitangent * std::cos(turn) - frame.tangent * std::sin(turn);
    turned.normal = surface.normal;
    turned.origin = surface.position + surface.geometricNormal * surface.offset;
    turned.directions = m_tables[hash32(pixelHash) % kTables].data();
    return turned;
}

float OcclusionSampler::openSum(const Surface& surface, int first, int last,
                                std::uint32_t pixelHash) const {
    std::vector<float> sum;
    openSums({surface}, {pixelHash}, first, last, sum);
    return sum.front();
}

void OcclusionSampler::openSums(const std::vector<Surface>& surfaces,
                                const std::vector<std::uint32_t>& hashes, int first, int last,
                                std::vector<float>& sums) const {
    sums.assign(surfaces.size(), 0.0F);
    if (m_settings.fade > 0.0F) {
        for (std::size_t s = 0; s < surfaces.size(); ++s)
            sums[s] = openByNearest(surfaces[s], turnedAt(surfaces[s], hashes[s]), first, last);
        return;
    }
    const float to = m_settings.reach > 0.0F ? m_settings.reach : kNothingHit;
    struct Asked {
        PacketRay ray;
        std::size_t surface;
        int bin;
    };
    std::vector<Asked> asked;
    std::array<int, kDirectionBins + 1> begins{};
    for (std::size_t s = 0; s < surfaces.size(); ++s) {
        const Turned t = turnedAt(surfaces[s], hashes[s]);
        for (int i = first; i < last; ++i) {
            const V3f& d = t.directions[i];
            const V3f world = t.tangent * d.x + t.bitangent * d.y + t.normal * d.z;
            // Where the shading normal leans, some directions go below the true surface: closed.
            if (world.dot(surfaces[s].geometricNormal) <= 0.0F)
                continue;
            asked.push_back({{t.origin, world, to, m_settings.skip}, s, directionBin(world)});
            ++begins[static_cast<std::size_t>(asked.back().bin) + 1];
        }
    }
    std::partial_sum(begins.begin(), begins.end(), begins.begin());
    std::vector<PacketRay> rays(asked.size());
    std::vector<std::size_t> whose(asked.size());
    for (const Asked& each : asked) {
        const auto at = static_cast<std::size_t>(begins[static_cast<std::size_t>(each.bin)]++);
        rays[at] = each.ray;
        whose[at] = each.surface;
    }
    std::vector<unsigned char> blocked(rays.size());
    occludedAll(m_occluders, rays.data(), rays.size(), blocked.data());
    for (std::size_t i = 0; i < rays.size(); ++i)
        sums[whose[i]] += blocked[i] != 0 ? 0.0F : 1.0F;
}

V3f OcclusionSampler::bentSum(const Surface& surface, int first, int last,
                              std::uint32_t pixelHash) const noexcept {
    const Turned t = turnedAt(surface, pixelHash);
    const float to = m_settings.reach > 0.0F ? m_settings.reach : kNothingHit;
    V3f sum(0.0F);
    for (int i = first; i < last; ++i) {
        const V3f& d = t.directions[i];
        const V3f world = t.tangent * d.x + t.bitangent * d.y + t.normal * d.z;
        if (world.dot(surface.geometricNormal) > 0.0F &&
            !m_occluders.occluded(t.origin, world, m_settings.skip, to))
            sum += world;
    }
    return sum;
}

void OcclusionSampler::visitRays(
    const Surface& surface, int first, int last, std::uint32_t pixelHash,
    const std::function<void(const V3f&, const V3f&, float, float)>& visit) const {
    const Turned t = turnedAt(surface, pixelHash);
    const float to = m_settings.reach > 0.0F ? m_settings.reach : kNothingHit;
    for (int i = first; i < last; ++i) {
        const V3f& d = t.directions[i];
        const V3f world = t.tangent * d.x + t.bitangent * d.y + t.normal * d.z;
        if (world.dot(surface.geometricNormal) > 0.0F)
            visit(t.origin, world, m_settings.skip, to);
    }
}

float OcclusionSampler::openByNearest(const Surface& s, const Turned& t, int first,
                                      int last) const noexcept {
    const float to = m_settings.reach > 0.0F ? m_settings.reach : kNothingHit;
    float open = 0.0F;
    for (int i = first; i < last; ++i) {
        const V3f& d = t.directions[i];
        const V3f world = t.tangent * d.x + t.bitangent * d.y + t.normal * d.z;
        if (world.dot(s.geometricNormal) <= 0.0F)
            continue;
        const Hit hit = m_occluders.intersect(t.origin, world, m_settings.skip, to);
        open += hit.any() ? 1.0F - std::exp(-hit.distance / m_settings.fade) : 1.0F;
    }
    return open;
}

float suggestedReach(const Image& depth) {
    const std::array<float, 1> middle{0.5F};
    const std::vector<float> found = percentilesOf(depth, 0, middle);
    if (found.empty() || !(found[0] > 0.0F))
        return 0.0F;
    const float wanted = found[0] / 12.0F;
    const float step = std::pow(10.0F, std::floor(std::log10(wanted)));
    return std::max(1.0F, std::round(wanted / step)) * step;
}

}  // namespace noctis
