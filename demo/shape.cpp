#include "shape.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace demo {

namespace {

constexpr float kPi = 3.14159265F;

std::uint32_t mixed(std::uint32_t x) {
    x ^= x >> 16U;
    x *= 0x7feb352dU;
    x ^= x >> 15U;
    x *= 0x846ca68bU;
    return x ^ x >> 16U;
}

}  // namespace

void Shape::add(const Shape& other, const M44f& at) {
    const auto first = static_cast<std::uint32_t>(positions.size());
    colours.resize(positions.size(), {1, 1, 1});  // what had none is white
    const M44f forNormals = at.inverse().transposed();
    for (std::size_t i = 0; i < other.positions.size(); ++i) {
        positions.push_back(other.positions[i] * at);
        V3f n;
        forNormals.multDirMatrix(other.normals[i], n);
        normals.push_back(n.normalized());
        colours.push_back(other.colours.empty() ? LinearRgb{1, 1, 1} : other.colours[i]);
    }
    for (const auto& t : other.triangles)
        triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
}

void Shape::paint(const std::function<LinearRgb(const V3f&)>& colourAt) {
    colours.clear();
    for (const V3f& p : positions)
        colours.push_back(colourAt(p));
}

float random(int a, int b, int c) {
    const auto ua = static_cast<std::uint32_t>(a);
    const auto ub = static_cast<std::uint32_t>(b);
    const auto uc = static_cast<std::uint32_t>(c);
    return static_cast<float>(mixed(ua + mixed(ub + mixed(uc + 77U))) >> 8U) * 0x1p-24F;
}

float noise(const V3f& p) {
    const int x = static_cast<int>(std::floor(p.x));
    const int y = static_cast<int>(std::floor(p.y));
    const int z = static_cast<int>(std::floor(p.z));
    const auto ease = [](float t) { return t * t * (3.0F - 2.0F * t); };
    const float fx = ease(p.x - static_cast<float>(x));
    const float fy = ease(p.y - static_cast<float>(y));
    const float fz = ease(p.z - static_cast<float>(z));
    float sum = 0.0F;
    for (int i = 0; i < 8; ++i) {
        const int dx = i & 1;
        const int dy = i >> 1 & 1;
        const int dz = i >> 2 & 1;
        sum += random(x + dx, y + dy, z + dz) * (dx != 0 ? fx : 1.0F - fx) *
               (dy != 0 ? fy : 1.0F - fy) * (dz != 0 ? fz : 1.0F - fz);
    }
    return sum * 2.0F - 1.0F;
}

float fractal(const V3f& p, int octaves) {
    float sum = 0.0F;
    float weight = 0.5F;
    V3f at = p;
    for (int i = 0; i < octaves; ++i) {
        sum += noise(at) * weight;
        at = at * 2.03F + V3f(17.1F, 3.7F, 9.2F);
        weight *= 0.5F;
    }
    return sum;
}

M44f placed(const V3f& at, float turnY, float tiltX, float tiltZ, const V3f& scale) {
    M44f s;
    s.setScale(scale);
    M44f r;
    r.setEulerAngles(V3f(tiltX, turnY, tiltZ));
    M44f t;
    t.setTranslation(at);
    return s * r * t;
}

Shape box(const V3f& size, float bevel) {
    // A cube's faces, drawn in by the bevel and bridged: 3 x 3 points a face, corners rounded off.
    Shape shape;
    const V3f half = size * 0.5F;
    for (int axis = 0; axis < 3; ++axis)
        for (const float side : {-1.0F, 1.0F}) {
            const int a = (axis + 1) % 3;
            const int b = (axis + 2) % 3;
            const auto first = static_cast<std::uint32_t>(shape.positions.size());
            for (int j = 0; j < 4; ++j)
                for (int i = 0; i < 4; ++i) {
                    const auto along = [&](int k, int dimension) {
                        const float inner = half[dimension] - bevel;
                        const float at[4] = {-half[dimension], -inner, inner, half[dimension]};
                        return at[k];
                    };
                    V3f p;
                    p[axis] = side * half[axis];
                    p[a] = along(i, a);
                    p[b] = along(j, b);
                    V3f core;
                    for (int d = 0; d < 3; ++d)
                        core[d] = std::clamp(p[d], -(half[d] - bevel), half[d] - bevel);
                    V3f n = p - core;
                    if (n.length2() < 1e-14F) {
                        n = V3f(0.0F);
                        n[axis] = side;
                    }
                    n.normalize();
                    shape.positions.push_back(core + n * bevel);
                    shape.normals.push_back(n);
                }
            for (std::uint32_t j = 0; j < 3; ++j)
                for (std::uint32_t i = 0; i < 3; ++i) {
                    const std::uint32_t q = first + j * 4 + i;
                    if (side > 0.0F) {
                        shape.triangles.push_back({q, q + 1, q + 5});
                        shape.triangles.push_back({q, q + 5, q + 4});
                    } else {
                        shape.triangles.push_back({q, q + 5, q + 1});
                        shape.triangles.push_back({q, q + 4, q + 5});
                    }
                }
        }
    return shape;
}

Shape sheet(int columns, int rows, const std::function<V3f(float, float)>& point) {
    Shape shape;
    for (int j = 0; j <= rows; ++j)
        for (int i = 0; i <= columns; ++i)
            shape.positions.push_back(point(static_cast<float>(i) / static_cast<float>(columns),
                                            static_cast<float>(j) / static_cast<float>(rows)));
    const auto across = static_cast<std::uint32_t>(columns + 1);
    for (std::uint32_t j = 0; j < static_cast<std::uint32_t>(rows); ++j)
        for (std::uint32_t i = 0; i < static_cast<std::uint32_t>(columns); ++i) {
            const std::uint32_t q = j * across + i;
            shape.triangles.push_back({q, q + 1, q + across + 1});
            shape.triangles.push_back({q, q + across + 1, q + across});
        }
    smooth(shape);
    return shape;
}

Shape lathe(const std::vector<std::array<float, 2>>& profile, int sides) {
    Shape shape;
    // Each piece of the profile stands alone, so that its edges stay crisp.
    for (std::size_t k = 0; k + 1 < profile.size(); ++k) {
        const auto& low = profile[k];
        const auto& high = profile[k + 1];
        shape.add(sheet(sides, 1, [&](float u, float v) {
            const float r = low[0] + (high[0] - low[0]) * v;
            const float y = low[1] + (high[1] - low[1]) * v;
            return V3f(r * std::cos(2.0F * kPi * u), y, -r * std::sin(2.0F * kPi * u));
        }));
    }
    return shape;
}

namespace {

/// The axis that a path runs along least: a frame built on it never flips over.
V3f axisAside(const std::vector<V3f>& path) {
    V3f best(0, 1, 0);
    float least = 2.0F;
    for (const V3f& axis : {V3f(0, 1, 0), V3f(0, 0, 1), V3f(1, 0, 0)}) {
        float most = 0.0F;
        for (std::size_t i = 0; i + 1 < path.size(); ++i)
            most = std::max(most, std::abs((path[i + 1] - path[i]).normalized().dot(axis)));
        if (most < least - 0.05F) {
            least = most;
            best = axis;
        }
    }
    return best;
}

}  // namespace

Shape tube(const std::vector<V3f>& path, const std::function<float(float)>& radius, int sides) {
    const auto last = static_cast<float>(path.size() - 1);
    const V3f aside = axisAside(path);
    return sheet(sides, static_cast<int>(path.size()) - 1, [&](float u, float v) {
        const auto i = static_cast<std::size_t>(v * last + 0.5F);
        const V3f along =
            (path[std::min(i + 1, path.size() - 1)] - path[i > 0 ? i - 1 : 0]).normalized();
        const V3f side = along.cross(aside).normalized();
        const V3f up = side.cross(along);
        const float angle = 2.0F * kPi * u;
        return path[i] + (side * std::cos(angle) + up * std::sin(angle)) * radius(v);
    });
}

Shape ball(int subdivisions, const std::function<float(const V3f&)>& radius) {
    Shape shape;
    const float t = 1.618034F;
    for (const V3f& p : {V3f(-1, t, 0), V3f(1, t, 0), V3f(-1, -t, 0), V3f(1, -t, 0), V3f(0, -1, t),
                         V3f(0, 1, t), V3f(0, -1, -t), V3f(0, 1, -t), V3f(t, 0, -1), V3f(t, 0, 1),
                         V3f(-t, 0, -1), V3f(-t, 0, 1)})
        shape.positions.push_back(p.normalized());
    shape.triangles = {{0, 11, 5}, {0, 5, 1},  {0, 1, 7},   {0, 7, 10}, {0, 10, 11},
                       {1, 5, 9},  {5, 11, 4}, {11, 10, 2}, {10, 7, 6}, {7, 1, 8},
                       {3, 9, 4},  {3, 4, 2},  {3, 2, 6},   {3, 6, 8},  {3, 8, 9},
                       {4, 9, 5},  {2, 4, 11}, {6, 2, 10},  {8, 6, 7},  {9, 8, 1}};
    for (int s = 0; s < subdivisions; ++s) {
        std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t> middles;
        const auto middle = [&](std::uint32_t a, std::uint32_t b) {
            const auto key = std::minmax(a, b);
            const auto [found, isNew] = middles.try_emplace(
                {key.first, key.second}, static_cast<std::uint32_t>(shape.positions.size()));
            if (isNew)
                shape.positions.push_back((shape.positions[a] + shape.positions[b]).normalized());
            return found->second;
        };
        std::vector<std::array<std::uint32_t, 3>> finer;
        for (const auto& c : shape.triangles) {
            const std::uint32_t ab = middle(c[0], c[1]);
            const std::uint32_t bc = middle(c[1], c[2]);
            const std::uint32_t ca = middle(c[2], c[0]);
            finer.insert(finer.end(),
                         {{c[0], ab, ca}, {c[1], bc, ab}, {c[2], ca, bc}, {ab, bc, ca}});
        }
        shape.triangles = std::move(finer);
    }
    for (V3f& p : shape.positions)
        p *= radius(p);
    smooth(shape);
    return shape;
}

void smooth(Shape& shape) {
    shape.normals.assign(shape.positions.size(), V3f(0.0F));
    for (const auto& c : shape.triangles) {
        const V3f n = (shape.positions[c[1]] - shape.positions[c[0]])
                          .cross(shape.positions[c[2]] - shape.positions[c[0]]);
        for (const std::uint32_t corner : c)
            shape.normals[corner] += n;
    }
    for (V3f& n : shape.normals)
        n = n.length2() > 0.0F ? n.normalized() : V3f(0, 1, 0);
}

}  // namespace demo
