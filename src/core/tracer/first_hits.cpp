#include "core/tracer/first_hits.h"

#include <algorithm>

#include <embree3/rtcore.h>

namespace noctis {

void firstHits(const Accelerator& accelerator, const Camera& camera, int width, int height,
               const Tile& tile, Hit* hits) noexcept {
    constexpr int kSide = 4;  // packets are squares, whose rays run alike
    for (int y0 = tile.y0; y0 < tile.y1; y0 += kSide)
        for (int x0 = tile.x0; x0 < tile.x1; x0 += kSide) {
            alignas(64) int valid[16];
            RTCRayHit16 packet{};
            for (int i = 0; i < 16; ++i) {
                const int x = x0 + i % kSide;
                const int y = y0 + i / kSide;
                const bool inside = x < tile.x1 && y < tile.y1;
                valid[i] = inside ? -1 : 0;
                const CameraRay ray = cameraRay(camera, static_cast<float>(x) + 0.5F,
                                                static_cast<float>(y) + 0.5F, width, height);
                packet.ray.org_x[i] = ray.origin.x;
                packet.ray.org_y[i] = ray.origin.y;
                packet.ray.org_z[i] = ray.origin.z;
                packet.ray.dir_x[i] = ray.direction.x;
                packet.ray.dir_y[i] = ray.direction.y;
                packet.ray.dir_z[i] = ray.direction.z;
                packet.ray.tfar[i] = kNothingHit;
                packet.ray.mask[i] = ~0U;
                packet.hit.geomID[i] = RTC_INVALID_GEOMETRY_ID;
                packet.hit.instID[0][i] = RTC_INVALID_GEOMETRY_ID;
            }
            RTCIntersectContext context;
            rtcInitIntersectContext(&context);
            context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
            rtcIntersect16(valid, accelerator.embree(), &context, &packet);
            for (int i = 0; i < 16; ++i) {
                if (valid[i] == 0)
                    continue;
                Hit hit;
                if (packet.hit.geomID[i] != RTC_INVALID_GEOMETRY_ID) {
                    hit.distance = packet.ray.tfar[i];
                    hit.instance =
                        static_cast<int>(packet.hit.instID[0][i] == RTC_INVALID_GEOMETRY_ID
                                             ? packet.hit.geomID[i]
                                             : packet.hit.instID[0][i]);
                    hit.triangle = packet.hit.primID[i];
                    hit.u = packet.hit.u[i];
                    hit.v = packet.hit.v[i];
                }
                hits[static_cast<std::ptrdiff_t>(y0 + i / kSide - tile.y0) * tile.width() +
                     (x0 + i % kSide - tile.x0)] = hit;
            }
        }
}

}  // namespace noctis
