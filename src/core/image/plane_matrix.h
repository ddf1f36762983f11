#pragma once

#include "core/image/image.h"

#include <opencv2/core.hpp>

namespace noctis {

/// Samples of a plane as OpenCV's matrix, which shares them; plane: of that image.
inline cv::Mat matrixOf(const Image& image, float* plane) {
    return {image.height(), image.width(), CV_32F, plane,
            sizeof(float) * static_cast<std::size_t>(image.rowStride())};
}

/// The same of a channel that is only read, which OpenCV can't say.
inline cv::Mat readMatrixOf(const Image& image, int channel) {
    return matrixOf(image, const_cast<float*>(image.plane(channel)));
}

}  // namespace noctis
