#include "core/relief/field_filters.h"
#include "core/relief/relief_type.h"

#include <cmath>

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

namespace noctis {

namespace {

struct DespikeSettings {
    float higher = 0.002F;
};

}  // namespace

OperationType despikeOperation() {
    using S = DespikeSettings;
    return OperationBuilder<S>("despike", "Despike")
        .help("Removes single cells that stick out or in.")
        .number(&S::higher, "higher", "By more than", Unit::Metre, {0.0F, 1000.0F, 0.05F},
                "Cells that differ from the median of their neighbours by more than this take the "
                "median.")
        .apply([](const HeightField& field, const S& s) {
            HeightField out = field;
            const Image patched = patchedHoles(field.heights);
            cv::Mat all(field.height(), field.width(), CV_32F);
            for (int y = 0; y < field.height(); ++y)
                std::copy_n(patched.row(0, y), field.width(), all.ptr<float>(y));
            cv::Mat median;
            cv::medianBlur(all, median, 5);
            float* to = out.heights.editPlane(0);
            for (int y = 0; y < field.height(); ++y)
                for (int x = 0; x < field.width(); ++x) {
                    float& h = to[out.heights.rowStride() * y + x];
                    if (std::isfinite(h) && std::abs(h - median.at<float>(y, x)) > s.higher)
                        h = median.at<float>(y, x);
                }
            return out;
        })
        .summary([](const S& s) {
            return fmt::format("cells that stick out by more than {}",
                               lengthText(static_cast<double>(s.higher)));
        })
        .build();
}

}  // namespace noctis
