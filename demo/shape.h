#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"

#include <array>
#include <cstdint>
#include <functional>
#include <vector>

namespace demo {

using Imath::M44f;
using Imath::V3f;
using noctis::LinearRgb;

/// Triangles being modelled. Colours multiply the material's.
struct Shape {
    std::vector<V3f> positions;
    std::vector<V3f> normals;
    std::vector<LinearRgb> colours;
    std::vector<std::array<std::uint32_t, 3>> triangles;

    void add(const Shape& other, const M44f& at = M44f());
    void paint(const std::function<LinearRgb(const V3f&)>& colourAt);
};

/// A number in 0..1 that belongs to these integers.
float random(int a, int b = 0, int c = 0);
/// Smooth noise about -1..1.
float noise(const V3f& p);
/// Several octaves of it.
float fractal(const V3f& p, int octaves);

M44f placed(const V3f& at, float turnY = 0.0F, float tiltX = 0.0F, float tiltZ = 0.0F,
            const V3f& scale = V3f(1.0F));

/// A box about the origin with softened edges.
Shape box(const V3f& size, float bevel);
/// A surface of revolution about +Y: radii at heights.
Shape lathe(const std::vector<std::array<float, 2>>& radiusAndHeight, int sides);
/// A tube along a path.
Shape tube(const std::vector<V3f>& path, const std::function<float(float)>& radius, int sides);
/// A grid: point(u, v) for u, v in 0..1. Normals from the grid, upwards as u x v turns.
Shape sheet(int columns, int rows, const std::function<V3f(float, float)>& point);
/// A ball, its radius changed by direction.
Shape ball(int subdivisions, const std::function<float(const V3f&)>& radius);
/// Normals from triangles, shared at corners.
void smooth(Shape& shape);

}  // namespace demo
