#include "disc.h"

#include <opencv2/imgproc.hpp>

namespace bench {

Disc::Disc(int width, int height)
    : m_kernel(65, 65, CV_32F, cv::Scalar(0.0)),
      m_from(height, width, CV_32FC3, cv::Scalar(0.3, 0.4, 0.5)) {
    cv::circle(m_kernel, {32, 32}, 32, cv::Scalar(1.0), cv::FILLED);
}

void Disc::filter() {
    cv::filter2D(m_from, m_to, -1, m_kernel, {-1, -1}, 0.0, cv::BORDER_REPLICATE);
}

}  // namespace bench
