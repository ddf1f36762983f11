#pragma once

#include "core/image/tiles.h"
#include "core/relief/height_field.h"

#include <cmath>

namespace noctis {

/// Changes every known height: change(height, x, y).
template <typename Change> void forEachHeight(HeightField& field, const Change& change) {
    float* plane = field.heights.editPlane(0);
    const std::ptrdiff_t stride = field.heights.rowStride();
    forEachBand(field.height(), 32, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < field.width(); ++x)
                if (float& h = plane[stride * y + x]; std::isfinite(h))
                    h = change(h, x, y);
    });
}

}  // namespace noctis
