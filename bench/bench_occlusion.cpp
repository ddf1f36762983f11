#include "core/image/tiles.h"
#include "core/scene/import.h"
#include "core/tracer/directions.h"
#include "core/tracer/occlusion.h"
#include "core/tracer/sampler.h"
#include "harness.h"

#include <algorithm>
#include <cmath>

#include <embree3/rtcore.h>
#include <fmt/format.h>

namespace bench {

namespace {

using namespace noctis;

constexpr int kWidth = 192;
constexpr int kHeight = 108;
constexpr int kSamples = 64;

constexpr int kBlock = 8;  ///< pixels each way, whose rays are traced together, as renders do

/// The surfaces seen in a block of pixels.
struct Block {
    std::vector<Surface> surfaces;
    std::vector<std::uint32_t> hashes;
};

std::vector<Block> blocksOf(const Accelerator& accelerator, const Camera& camera) {
    std::vector<Block> blocks;
    for (const Tile& tile : tilesOf(kWidth, kHeight, kBlock, kBlock)) {
        Block& block = blocks.emplace_back();
        for (int y = tile.y0; y < tile.y1; ++y)
            for (int x = tile.x0; x < tile.x1; ++x) {
                const CameraRay ray = cameraRay(camera, static_cast<float>(x) + 0.5F,
                                                static_cast<float>(y) + 0.5F, kWidth, kHeight);
                const Hit hit = accelerator.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
                if (!hit.any())
                    continue;
                block.surfaces.push_back(accelerator.surfaceAt(hit, ray.origin, ray.direction));
                block.hashes.push_back(
                    hashCombine(static_cast<std::uint32_t>(x), static_cast<std::uint32_t>(y)));
            }
    }
    return blocks;
}

template <typename Packet, int N>
void packetQuery(RTCScene scene, const std::vector<RTCRay>& rays, std::size_t& open,
                 void (*query)(const int*, RTCScene, RTCIntersectContext*, Packet*)) {
    alignas(64) int valid[N];
    for (std::size_t i = 0; i < rays.size(); i += N) {
        Packet packet;
        for (int k = 0; k < N; ++k) {
            const std::size_t at = i + static_cast<std::size_t>(k);
            valid[k] = at < rays.size() ? -1 : 0;
            const RTCRay& r = rays[std::min(at, rays.size() - 1)];
            packet.org_x[k] = r.org_x;
            packet.org_y[k] = r.org_y;
            packet.org_z[k] = r.org_z;
            packet.tnear[k] = r.tnear;
            packet.dir_x[k] = r.dir_x;
            packet.dir_y[k] = r.dir_y;
            packet.dir_z[k] = r.dir_z;
            packet.time[k] = 0.0F;
            packet.tfar[k] = r.tfar;
            packet.mask[k] = ~0U;
            packet.id[k] = 0;
            packet.flags[k] = 0;
        }
        RTCIntersectContext context;
        rtcInitIntersectContext(&context);
        query(valid, scene, &context, &packet);
        for (int k = 0; k < N; ++k)
            open += valid[k] != 0 && !(packet.tfar[k] < 0.0F) ? 1 : 0;
    }
}

std::size_t singleQuery(RTCScene scene, const std::vector<RTCRay>& rays) {
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    std::size_t open = 0;
    for (const RTCRay& each : rays) {
        RTCRay ray = each;
        rtcOccluded1(scene, &context, &ray);
        open += ray.tfar < 0.0F ? 0 : 1;
    }
    return open;
}

}  // namespace

void occlusion(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    if (!wanted("occlusion rays"))
        return;
    const Scene scene = importScene(demo.folder / "saltern_quay.gltf");
    const Accelerator accelerator(scene);
    const std::vector<Block> blocks = blocksOf(accelerator, viewNamed(scene, "quay view").camera);
    const OcclusionSampler sampler(accelerator, {.samples = kSamples, .reach = 2.0F, .of = {}});
    // The very same rays, written down.
    std::vector<RTCRay> rays;
    for (const Block& block : blocks)
        for (std::size_t i = 0; i < block.surfaces.size(); ++i)
            sampler.visitRays(block.surfaces[i], 0, kSamples, block.hashes[i],
                              [&](const V3f& origin, const V3f& direction, float from, float to) {
                                  rays.push_back({origin.x, origin.y, origin.z, from, direction.x,
                                                  direction.y, direction.z, 0.0F, to, ~0U, 0, 0});
                              });
    double oursOpen = 0.0;
    std::vector<float> sums;
    const auto ours = [&] {
        oursOpen = 0.0;
        for (const Block& block : blocks) {
            sampler.openSums(block.surfaces, block.hashes, 0, kSamples, sums);
            for (const float sum : sums)
                oursOpen += static_cast<double>(sum);
        }
    };
    std::size_t open = 0;
    const auto single = [&] { open = singleQuery(accelerator.embree(), rays); };
    const auto eight = [&] {
        open = 0;
        packetQuery<RTCRay8, 8>(accelerator.embree(), rays, open, rtcOccluded8);
    };
    const auto sixteen = [&] {
        open = 0;
        packetQuery<RTCRay16, 16>(accelerator.embree(), rays, open, rtcOccluded16);
    };
    const auto check = [&](const std::function<void()>& reference) {
        return [&, reference] {
            ours();
            reference();
            return std::abs(oursOpen - static_cast<double>(open)) <
                           1e-6 * static_cast<double>(rays.size()) + 1.0
                       ? std::string()
                       : fmt::format("{} open rays, and Embree says {}", oursOpen, open);
        };
    };
    const auto add = [&](const std::string& name, const std::function<void()>& reference) {
        Row row = run({name, check(reference), ours, reference, 0.8, true,
                       fmt::format("bare Embree; {:.2f} M rays, one core",
                                   static_cast<double>(rays.size()) / 1e6),
                       7});
        rows.push_back(row);
    };
    add("occlusion rays, single", single);
    add("occlusion rays, 8 wide", eight);
    add("occlusion rays, 16 wide", sixteen);
}

}  // namespace bench
