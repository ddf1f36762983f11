#include "core/tracer/ray_packets.h"

#include <algorithm>

#include <embree3/rtcore.h>

namespace noctis {

namespace {

constexpr std::size_t kPacket = 16;

template <typename Packet>
void fill(Packet& ray, int* valid, const PacketRay* rays, std::size_t count) noexcept {
    for (std::size_t i = 0; i < kPacket; ++i) {
        const PacketRay& from = rays[std::min(i, count - 1)];
        valid[i] = i < count && canTrace(from.origin, from.direction) ? -1 : 0;
        ray.org_x[i] = from.origin.x;
        ray.org_y[i] = from.origin.y;
        ray.org_z[i] = from.origin.z;
        ray.dir_x[i] = from.direction.x;
        ray.dir_y[i] = from.direction.y;
        ray.dir_z[i] = from.direction.z;
        ray.tnear[i] = from.from;
        ray.tfar[i] = from.to;
        ray.mask[i] = ~0U;
    }
}

RTCIntersectContext coherent() noexcept {
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
    return context;
}

}  // namespace

void intersectAll(const Accelerator& accelerator, const PacketRay* rays, std::size_t count,
                  Hit* hits, V3f* normals) noexcept {
    for (; count > 0; rays += kPacket, hits += kPacket) {
        const std::size_t now = std::min(count, kPacket);
        alignas(64) int valid[kPacket];
        RTCRayHit16 packet{};
        fill(packet.ray, valid, rays, now);
        std::fill_n(packet.hit.geomID, kPacket, RTC_INVALID_GEOMETRY_ID);
        std::fill_n(packet.hit.instID[0], kPacket, RTC_INVALID_GEOMETRY_ID);
        RTCIntersectContext context = coherent();
        rtcIntersect16(valid, accelerator.embree(), &context, &packet);
        for (std::size_t i = 0; i < now; ++i) {
            Hit hit;
            if (packet.hit.geomID[i] != RTC_INVALID_GEOMETRY_ID) {
                const unsigned instance = packet.hit.instID[0][i];
                hit.distance = packet.ray.tfar[i];
                hit.instance = static_cast<int>(
                    instance == RTC_INVALID_GEOMETRY_ID ? packet.hit.geomID[i] : instance);
                hit.triangle = packet.hit.primID[i];
                hit.u = packet.hit.u[i];
                hit.v = packet.hit.v[i];
            }
            hits[i] = hit;
            if (normals == nullptr || !hit.any())
                continue;
            const V3f across(packet.hit.Ng_x[i], packet.hit.Ng_y[i], packet.hit.Ng_z[i]);
            const V3f normal = accelerator.normalInWorld(
                hit, across, packet.hit.instID[0][i] != RTC_INVALID_GEOMETRY_ID);
            normals[i] = normal.dot(rays[i].direction) > 0.0F ? -normal : normal;
        }
        if (normals != nullptr)
            normals += now;
        count -= now;
    }
}

void occludedAll(const Accelerator& accelerator, const PacketRay* rays, std::size_t count,
                 unsigned char* blocked) noexcept {
    for (; count > 0; rays += kPacket, blocked += kPacket) {
        const std::size_t now = std::min(count, kPacket);
        alignas(64) int valid[kPacket];
        RTCRay16 packet{};
        fill(packet, valid, rays, now);
        RTCIntersectContext context = coherent();
        rtcOccluded16(valid, accelerator.embree(), &context, &packet);
        for (std::size_t i = 0; i < now; ++i)
            blocked[i] = packet.tfar[i] < 0.0F ? 1 : 0;
        count -= now;
    }
}

void raysOfTile(const Camera& camera, int width, int height, const Tile& tile, Traced traced,
                TileRays& out) {
    // A block has the rays of one packet.
    constexpr int kRows = 4;
    const int columns = traced == Traced::Every ? 4 : 8;
    const FrameRays frame(camera, width, height);
    out.rays.clear();
    out.pixels.clear();
    out.planar.clear();
    const auto add = [&](int x, int y) {
        const CameraRay ray =
            frame.through(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F);
        out.rays.push_back({ray.origin, ray.direction, kNothingHit, 0.0F});
        out.pixels.push_back((y - tile.y0) * tile.width() + x - tile.x0);
        out.planar.push_back(ray.planarPerDistance);
    };
    for (int y0 = tile.y0; y0 < tile.y1; y0 += kRows)
        for (int x0 = tile.x0; x0 < tile.x1; x0 += columns)
            for (int y = y0; y < std::min(y0 + kRows, tile.y1); ++y)
                for (int x = x0; x < std::min(x0 + columns, tile.x1); ++x)
                    if (isTraced(traced, x, y))
                        add(x, y);
}

}  // namespace noctis
