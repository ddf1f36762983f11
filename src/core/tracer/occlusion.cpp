#include "core/tracer/occlusion.h"

#include "core/passes/statistics.h"
#include "core/tracer/directions.h"
#include "core/tracer/sampler.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

#include <embree3/rtcore.h>

namespace noctis {

namespace {

/// Tables that differ in where within each ring its sample lies, so that rings leave no bias.
constexpr int kTables = 16;
constexpr double kGoldenAngle = 2.399963229728653;

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

std::vector<V3f> spiral(int samples, float spread, double within) {
    const double widest = std::sin(static_cast<double>(spread) * static_cast<double>(kPi) / 2.0);
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
        m_tables.push_back(spiral(settings.samples, settings.spread, (i + 0.5) / kTables));
}

OcclusionSampler::Turned OcclusionSampler::turnedAt(const Surface& surface,
                                                    std::uint32_t pixelHash) const noexcept {
    const float turn = 2.0F * kPi * unitFloat(pixelHash);
    const Frame frame(surface.normal);
    Turned turned;
    turned.tangent = frame.tangent * std::cos(turn) + frame.bitangent * std::sin(turn);
    turned.bitangent = frame.bitangent * std::cos(turn) - frame.tangent * std::sin(turn);
    turned.normal = surface.normal;
    turned.origin = surface.position + surface.geometricNormal * surface.offset;
    turned.directions = m_tables[hash32(pixelHash) % kTables].data();
    return turned;
}

float OcclusionSampler::openSum(const Surface& surface, int first, int last,
                                std::uint32_t pixelHash) const noexcept {
    const Turned turned = turnedAt(surface, pixelHash);
    return m_settings.falloff > 0.0F ? openByNearest(surface, turned, first, last)
                                     : openByShadowRays(surface, turned, first, last);
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

float OcclusionSampler::openByShadowRays(const Surface& s, const Turned& t, int first,
                                         int last) const noexcept {
    // Sixteen at a time: rays of one origin share the way down the tree.
    constexpr int kWide = 16;
    const RTCScene scene = m_occluders.embree();
    const float to = m_settings.reach > 0.0F ? m_settings.reach : kNothingHit;
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    alignas(64) int valid[kWide];
    alignas(64) RTCRay16 rays;
    int open = 0;
    for (int i = first; i < last;) {
        int count = 0;
        for (; count < kWide && i < last; ++i) {
            const V3f& d = t.directions[i];
            const V3f world = t.tangent * d.x + t.bitangent * d.y + t.normal * d.z;
            // Where the shading normal leans, some directions go below the true surface: closed.
            if (world.dot(s.geometricNormal) <= 0.0F)
                continue;
            rays.org_x[count] = t.origin.x;
            rays.org_y[count] = t.origin.y;
            rays.org_z[count] = t.origin.z;
            rays.dir_x[count] = world.x;
            rays.dir_y[count] = world.y;
            rays.dir_z[count] = world.z;
            rays.tnear[count] = m_settings.skip;
            rays.tfar[count] = to;
            rays.time[count] = 0.0F;
            rays.mask[count] = ~0U;
            rays.id[count] = 0;
            rays.flags[count] = 0;
            ++count;
        }
        for (int k = 0; k < kWide; ++k)
            valid[k] = k < count ? -1 : 0;
        rtcOccluded16(valid, scene, &context, &rays);
        for (int k = 0; k < count; ++k)
            open += rays.tfar[k] < 0.0F ? 0 : 1;
    }
    return static_cast<float>(open);
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
        open += hit.any() ? 1.0F - std::exp(-m_settings.falloff * hit.distance) : 1.0F;
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
