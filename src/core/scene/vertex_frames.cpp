#include "core/scene/vertex_frames.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <utility>

#include <Imath/ImathBox.h>

namespace noctis {

namespace {

constexpr float kRadians = 3.14159265F / 180.0F;
/// Triangles around a place that are looked at for each of them: fans of more are looked at in part.
constexpr std::size_t kMostAround = 512;
constexpr float kRounding = 1e-6F;  ///< of positions, as a part of the mesh's size
constexpr float kSame = 1e-8F;      ///< squared distance of normals that are one
constexpr std::uint32_t kNone = ~0U;

float angleAt(const Mesh& mesh, const std::array<std::uint32_t, 3>& triangle, std::size_t i) {
    const V3f& at = mesh.positions[triangle[i]];
    const V3f a = (mesh.positions[triangle[(i + 1) % 3]] - at).normalized();
    const V3f b = (mesh.positions[triangle[(i + 2) % 3]] - at).normalized();
    return std::acos(std::clamp(a.dot(b), -1.0F, 1.0F));
}

/// The vertices that a mesh has after it was split: each with the one it was.
class Split {
public:
    explicit Split(std::size_t vertices) : m_first(vertices, kNone) {}

    /// The new vertex of an old one for which fits(new one) holds; made if there is none.
    template <typename Fits> std::uint32_t vertex(std::uint32_t old, const Fits& fits) {
        for (std::uint32_t found = m_first[old]; found != kNone; found = m_next[found])
            if (fits(found))
                return found;
        const auto made = static_cast<std::uint32_t>(m_origins.size());
        m_next.push_back(std::exchange(m_first[old], made));
        m_origins.push_back(old);
        return made;
    }
    [[nodiscard]] std::size_t count() const noexcept { return m_origins.size(); }

    /// What each new vertex has of its old one.
    template <typename Value> void take(std::vector<Value>& values) const {
        if (values.empty())
            return;
        std::vector<Value> taken;
        taken.reserve(m_origins.size());
        for (const std::uint32_t origin : m_origins)
            taken.push_back(values[origin]);
        values = std::move(taken);
    }

private:
    std::vector<std::uint32_t> m_first;  ///< of the new vertices of an old one
    std::vector<std::uint32_t> m_next;
    std::vector<std::uint32_t> m_origins;
};

/// For each vertex the number of its place, and how many there are: vertices share one that differ by rounding.
std::pair<std::vector<std::uint32_t>, std::uint32_t> placesOf(const std::vector<V3f>& positions) {
    using Cell = std::array<std::int32_t, 3>;
    Imath::Box3f bounds;
    for (const V3f& position : positions)
        bounds.extendBy(position);
    const V3f size = bounds.isEmpty() ? V3f(0.0F) : bounds.size();
    const float cell = std::max({size.x, size.y, size.z, 1e-30F}) * kRounding;
    std::vector<Cell> cells;
    cells.reserve(positions.size());
    for (const V3f& position : positions) {
        const V3f at = (position - bounds.min) / cell;
        cells.push_back({static_cast<std::int32_t>(std::lround(at.x)),
                         static_cast<std::int32_t>(std::lround(at.y)),
                         static_cast<std::int32_t>(std::lround(at.z))});
    }
    std::vector<std::uint32_t> order(positions.size());
    std::iota(order.begin(), order.end(), 0U);
    std::sort(order.begin(), order.end(),
              [&](std::uint32_t a, std::uint32_t b) { return cells[a] < cells[b]; });
    std::vector<std::uint32_t> places(positions.size());
    std::uint32_t count = 0;
    for (std::size_t i = 0; i < order.size(); ++i) {
        if (i == 0 || cells[order[i - 1]] != cells[order[i]])
            ++count;
        places[order[i]] = count - 1;
    }
    return {std::move(places), count};
}

/// Which corners, three a triangle, are at each place p: corners[first[p]] to corners[first[p + 1]].
struct Around {
    std::vector<std::uint32_t> first;
    std::vector<std::uint32_t> corners;
};

Around cornersAround(const Mesh& mesh) {
    const auto [places, count] = placesOf(mesh.positions);
    Around around;
    around.first.assign(count + 1, 0);
    for (const auto& triangle : mesh.triangles)
        for (const std::uint32_t vertex : triangle)
            ++around.first[places[vertex] + 1];
    std::partial_sum(around.first.begin(), around.first.end(), around.first.begin());
    around.corners.resize(3 * mesh.triangles.size());
    std::vector<std::uint32_t> next(around.first.begin(), around.first.end() - 1);
    std::uint32_t corner = 0;
    for (const auto& triangle : mesh.triangles)
        for (const std::uint32_t vertex : triangle)
            around.corners[next[places[vertex]]++] = corner++;
    return around;
}

/// The normal of each corner.
std::vector<V3f> smoothNormals(const Mesh& mesh, float creaseDegrees) {
    std::vector<V3f> flat;
    std::vector<float> angles;
    flat.reserve(mesh.triangles.size());
    angles.reserve(3 * mesh.triangles.size());
    for (const auto& triangle : mesh.triangles) {
        const V3f& at = mesh.positions[triangle[0]];
        flat.push_back((mesh.positions[triangle[1]] - at)
                           .cross(mesh.positions[triangle[2]] - at)
                           .normalized());
        for (std::size_t i = 0; i < 3; ++i)
            angles.push_back(angleAt(mesh, triangle, i));
    }
    const Around around = cornersAround(mesh);
    const float least = std::cos(creaseDegrees * kRadians);
    std::vector<V3f> normals(angles.size());
    for (std::size_t p = 0; p + 1 < around.first.size(); ++p) {
        const std::size_t from = around.first[p];
        const std::size_t to = around.first[p + 1];
        const std::size_t step = (to - from) / kMostAround + 1;
        for (std::size_t i = from; i < to; ++i) {
            const V3f& own = flat[around.corners[i] / 3];
            V3f sum(0.0F);
            for (std::size_t k = from; k < to; k += step) {
                const std::uint32_t other = around.corners[k];
                if (flat[other / 3].dot(own) >= least)
                    sum += flat[other / 3] * angles[other];
            }
            normals[around.corners[i]] = sum.length2() > 0.0F ? sum.normalized() : own;
        }
    }
    return normals;
}

V3f anyAcross(const V3f& normal) {
    const V3f axis = std::abs(normal.x) < 0.7F ? V3f(1, 0, 0) : V3f(0, 1, 0);
    return axis.cross(normal).normalized();
}

}  // namespace

void addSmoothNormals(Mesh& mesh, float creaseDegrees) {
    const std::vector<V3f> ofCorners = smoothNormals(mesh, creaseDegrees);
    Split split(mesh.positions.size());
    mesh.normals.clear();
    std::size_t corner = 0;
    for (auto& triangle : mesh.triangles)
        for (std::uint32_t& vertex : triangle) {
            const V3f& normal = ofCorners[corner++];
            vertex = split.vertex(vertex, [&](std::uint32_t made) {
                return (mesh.normals[made] - normal).length2() < kSame;
            });
            if (vertex == mesh.normals.size())
                mesh.normals.push_back(normal);
        }
    split.take(mesh.positions);
    split.take(mesh.texture);
    split.take(mesh.colours);
}

void addTangents(Mesh& mesh) {
    Split split(mesh.positions.size());
    std::vector<bool> mirroredThere;
    std::vector<V3f> along;   // the sums of the triangles' directions of u
    std::vector<V3f> across;  // and of v
    for (auto& triangle : mesh.triangles) {
        const V3f& at = mesh.positions[triangle[0]];
        const V3f one = mesh.positions[triangle[1]] - at;
        const V3f two = mesh.positions[triangle[2]] - at;
        const V2f u = mesh.texture[triangle[1]] - mesh.texture[triangle[0]];
        const V2f v = mesh.texture[triangle[2]] - mesh.texture[triangle[0]];
        const float area = u.x * v.y - v.x * u.y;
        const bool mirrored = area < 0.0F;
        const float sign = mirrored ? -1.0F : 1.0F;
        const V3f alongU = (one * v.y - two * u.y) * sign;
        const V3f alongV = (two * u.x - one * v.x) * sign;
        const float angles[3] = {angleAt(mesh, triangle, 0), angleAt(mesh, triangle, 1),
                                 angleAt(mesh, triangle, 2)};
        for (std::size_t i = 0; i < 3; ++i) {
            triangle[i] = split.vertex(
                triangle[i], [&](std::uint32_t made) { return mirroredThere[made] == mirrored; });
            if (triangle[i] == mirroredThere.size()) {
                mirroredThere.push_back(mirrored);
                along.emplace_back(0.0F);
                across.emplace_back(0.0F);
            }
            if (area == 0.0F || !std::isfinite(area))
                continue;
            along[triangle[i]] += alongU.normalized() * angles[i];
            across[triangle[i]] += alongV.normalized() * angles[i];
        }
    }
    split.take(mesh.positions);
    split.take(mesh.normals);
    split.take(mesh.texture);
    split.take(mesh.colours);
    mesh.tangents.clear();
    mesh.handedness.clear();
    for (std::size_t i = 0; i < split.count(); ++i) {
        const V3f& normal = mesh.normals[i];
        V3f tangent = along[i] - normal * normal.dot(along[i]);
        tangent = tangent.length2() > kSame ? tangent.normalized() : anyAcross(normal);
        mesh.tangents.push_back(tangent);
        mesh.handedness.push_back(normal.cross(tangent).dot(across[i]) < 0.0F ? -1.0F : 1.0F);
    }
}

}  // namespace noctis
