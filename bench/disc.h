#pragma once

#include <opencv2/core.hpp>

namespace bench {

/// A reference of what a neighbourhood costs: cv::filter2D with a disc of radius 32 over three channels.
class Disc {
public:
    Disc(int width, int height);
    void filter();

private:
    cv::Mat m_kernel;
    cv::Mat m_from;
    cv::Mat m_to;
};

}  // namespace bench
