#include "core/image/psnr.h"

#include "core/image/colour.h"
#include "core/image/error.h"

#include <algorithm>
#include <cmath>

namespace noctis {

double psnrOf(const Image& a, const Image& b) {
    if (a.width() != b.width() || a.height() != b.height() || a.channels() != b.channels())
        throw Error(ErrorCode::ShapeMismatch, "pictures of different sizes can't be compared");
    const auto seen = [](float v) {
        return static_cast<double>(srgbFromLinear(std::clamp(v, 0.0F, 1.0F)));
    };
    double sum = 0.0;
    for (int c = 0; c < a.channels(); ++c)
        for (int y = 0; y < a.height(); ++y)
            for (int x = 0; x < a.width(); ++x)
                sum += std::pow(seen(a(x, y, c)) - seen(b(x, y, c)), 2.0);
    const double count = static_cast<double>(a.width()) * a.height() * a.channels();
    return -10.0 * std::log10(sum / count);
}

}  // namespace noctis
