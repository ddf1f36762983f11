#include "core/relief/solid_picture.h"

#include "core/image/tiles.h"
#include "core/relief/derived_maps.h"
#include "core/relief/relief.h"
#include "core/tracer/ray_packets.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace noctis {

namespace {

/// Cells a solid to look at has on its longer side at most.
constexpr int kMostCells = 400;
constexpr LinearRgb kStone{0.56F, 0.54F, 0.50F};
constexpr LinearRgb kSurround{0.1333F, 0.1333F, 0.1333F};  // as round the picture

HeightField asTraced(const HeightField& field) {
    const int longer = std::max(field.width(), field.height());
    return shrunk(field, (longer + kMostCells - 1) / kMostCells);
}

/// The picture's colour at each cell.
Image coloursOf(const HeightField& field, const Image& picture) {
    if (picture.empty())
        return {};
    Image colours = Image::unset(field.width(), field.height(), {"R", "G", "B"});
    for (int c = 0; c < 3; ++c) {
        float* to = colours.editPlane(c);
        for (int y = 0; y < field.height(); ++y)
            for (int x = 0; x < field.width(); ++x) {
                const float u = field.places.empty() ? (static_cast<float>(x) + 0.5F) *
                                                           static_cast<float>(picture.width()) /
                                                           static_cast<float>(field.width())
                                                     : field.places(x, y, 0);
                const float v = field.places.empty() ? (static_cast<float>(y) + 0.5F) *
                                                           static_cast<float>(picture.height()) /
                                                           static_cast<float>(field.height())
                                                     : field.places(x, y, 1);
                to[colours.rowStride() * y + x] =
                    std::isfinite(u) && std::isfinite(v)
                        ? picture(std::clamp(static_cast<int>(u), 0, picture.width() - 1),
                                  std::clamp(static_cast<int>(v), 0, picture.height() - 1), c)
                        : 0.5F;
            }
    }
    return colours;
}

float sampled(const Image& image, float x, float y, int channel, float otherwise) noexcept {
    const int u = std::clamp(static_cast<int>(x + 0.5F), 0, image.width() - 1);
    const int v = std::clamp(static_cast<int>(y + 0.5F), 0, image.height() - 1);
    const float value = image(u, v, channel);
    return std::isfinite(value) ? value : otherwise;
}

}  // namespace

Solid::Solid(const HeightField& field, const Image& picture)
    : m_field(asTraced(field)), m_open(openPartOf(m_field, 8)),
      m_colours(coloursOf(m_field, picture)) {
    const HeightStatistics statistics = heightStatisticsOf(m_field.heights);
    const float side =
        m_field.metresPerPixel * static_cast<float>(std::max(m_field.width(), m_field.height()));
    ReliefMeshSettings settings;
    settings.base = std::max(0.25F * statistics.range(), 0.03F * side);
    m_mesh = reliefMesh(m_field, settings);
    m_scene = sceneOf(m_mesh, "relief");
    m_accelerator = std::make_unique<Accelerator>(m_scene);
}

Camera Solid::camera(float turnDegrees, float upDegrees, float nearness, float aspect) const {
    constexpr float kDegree = 3.14159265F / 180.0F;
    constexpr float kAngle = 0.55F;
    constexpr float kRoom = 1.06F;
    const Box3f box = boundsOf(m_scene);
    const V3f centre = box.center();
    const float turn = turnDegrees * kDegree;
    const float up = std::clamp(upDegrees, 2.0F, 89.0F) * kDegree;
    const V3f towards(std::sin(turn) * std::cos(up), std::sin(up), std::cos(turn) * std::cos(up));
    const V3f right = V3f(0.0F, 1.0F, 0.0F).cross(towards).normalized();
    const V3f upwards = towards.cross(right);
    // So far off that every corner of its box is in the picture.
    const float down = std::tan(0.5F * kAngle);
    float away = 0.0F;
    for (int i = 0; i < 8; ++i) {
        const V3f corner =
            V3f((i & 1) != 0 ? box.max.x : box.min.x, (i & 2) != 0 ? box.max.y : box.min.y,
                (i & 4) != 0 ? box.max.z : box.min.z) -
            centre;
        const float out = std::max(std::abs(corner.dot(right)) / (down * aspect),
                                   std::abs(corner.dot(upwards)) / down);
        away = std::max(away, kRoom * out + corner.dot(towards));
    }
    return lookingAt(centre + towards * (away / std::max(nearness, 0.1F)), centre, kAngle);
}

Image Solid::seen(const Camera& camera, const V3f& towardsLight, int width, int height,
                  const RunContext& run) const {
    Image out = Image::unset(width, height, {"R", "G", "B"});
    float* to[3] = {out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    // The mesh has y off the plane and z down the picture.
    const V3f light = V3f(towardsLight.x, towardsLight.z, -towardsLight.y).normalized();
    const float m = m_field.metresPerPixel;
    const HeightStatistics statistics = heightStatisticsOf(m_field.heights);
    forEachTile(tilesOf(width, height, 64, 32), run, [&](const Tile& tile) {
        TileRays seen;
        raysOfTile(camera, width, height, tile, Traced::Every, seen);
        std::vector<Hit> hits(seen.rays.size());
        intersectAll(*m_accelerator, seen.rays.data(), seen.rays.size(), hits.data());
        for (std::size_t r = 0; r < hits.size(); ++r) {
            const int pixel = seen.pixels[r];
            const std::ptrdiff_t i =
                out.rowStride() * (tile.y0 + pixel / tile.width()) + tile.x0 + pixel % tile.width();
            const Hit& hit = hits[r];
            const PacketRay& ray = seen.rays[r];
            if (!hit.any()) {
                to[0][i] = kSurround.r;
                to[1][i] = kSurround.g;
                to[2][i] = kSurround.b;
                continue;
            }
            const V3f p = ray.origin + ray.direction * hit.distance;
            const auto& corner = m_mesh.triangles[hit.triangle];
            const V3f& a = m_mesh.positions[corner[0]];
            V3f normal = (m_mesh.positions[corner[1]] - a)
                             .cross(m_mesh.positions[corner[2]] - a)
                             .normalized();
            const float u = p.x / m + 0.5F * static_cast<float>(m_field.width()) - 0.5F;
            const float v = p.z / m + 0.5F * static_cast<float>(m_field.height()) - 0.5F;
            const bool top = normal.y > 0.0F && p.y > statistics.lowest - 1e-6F;
            float open = 0.75F;
            LinearRgb colour = kStone;
            if (top) {
                // The map's own slope, so that triangles don't show.
                const float right =
                    heightAt(m_field.heights, u + 0.5F, v) - heightAt(m_field.heights, u - 0.5F, v);
                const float down =
                    heightAt(m_field.heights, u, v + 0.5F) - heightAt(m_field.heights, u, v - 0.5F);
                if (std::isfinite(right) && std::isfinite(down))
                    normal = V3f(-right / m, 1.0F, -down / m).normalized();
                open = sampled(m_open, u, v, 0, 1.0F);
                if (!m_colours.empty())
                    colour = {sampled(m_colours, u, v, 0, 0.5F), sampled(m_colours, u, v, 1, 0.5F),
                              sampled(m_colours, u, v, 2, 0.5F)};
            }
            float direct = std::max(0.0F, normal.dot(light));
            const V3f start = p + normal * (0.02F * m) - ray.direction * (0.02F * m);
            if (direct > 0.0F && m_accelerator->occluded(start, light, 0.0F, kNothingHit))
                direct = 0.0F;
            // Light as it is shown: no tones are mapped here.
            const float shade =
                std::sqrt(std::min(0.20F * open + 0.85F * direct, 1.4F)) * (top ? 1.0F : 0.6F);
            to[0][i] = std::min(colour.r * shade, 1.0F);
            to[1][i] = std::min(colour.g * shade, 1.0F);
            to[2][i] = std::min(colour.b * shade, 1.0F);
        }
    });
    return out;
}

}  // namespace noctis
