#include "core/relief/field_filters.h"
#include "core/relief/relief_type.h"

#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

struct CropSettings {
    float left = 0.1F;
    float right = 0.9F;
    float top = 0.1F;
    float bottom = 0.9F;
};

Image part(const Image& image, int x0, int y0, int width, int height) {
    std::vector<std::string> names;
    for (int c = 0; c < image.channels(); ++c)
        names.push_back(image.channelName(c));
    Image out = Image::unset(width, height, names);
    for (int c = 0; c < image.channels(); ++c) {
        float* to = out.editPlane(c);
        for (int y = 0; y < height; ++y)
            std::copy_n(image.row(c, y0 + y) + x0, width, to + out.rowStride() * y);
    }
    return out;
}

}  // namespace

OperationType cropOperation() {
    using S = CropSettings;
    const std::string help = "The corners of the part to keep.";
    return OperationBuilder<S>("crop", "Crop")
        .help("Keeps a part of the map.")
        .number(&S::left, "left", "Left", Unit::Percent, {0.0F, 1.0F, 1.0F}, help)
        .number(&S::right, "right", "Right", Unit::Percent, {0.0F, 1.0F, 1.0F}, help)
        .number(&S::top, "top", "Top", Unit::Percent, {0.0F, 1.0F, 1.0F}, help)
        .number(&S::bottom, "bottom", "Bottom", Unit::Percent, {0.0F, 1.0F, 1.0F}, help)
        .apply([](const HeightField& field, const S& s, const OperationContext& context,
                  const RunContext&) {
            const auto edge = [](float at, int size) {
                return static_cast<int>(std::lround(at * static_cast<float>(size)));
            };
            const int w = field.width();
            const int h = field.height();
            const int x0 = std::min(edge(std::min(s.left, s.right), w), w - 1);
            const int y0 = std::min(edge(std::min(s.top, s.bottom), h), h - 1);
            const int x1 = std::max(edge(std::max(s.left, s.right), w), x0 + 1);
            const int y1 = std::max(edge(std::max(s.top, s.bottom), h), y0 + 1);
            HeightField out = field;
            const PassSet& set = context.input.passes;
            out.places =
                part(placesOf(field, set.empty() ? w : set.width, set.empty() ? h : set.height), x0,
                     y0, x1 - x0, y1 - y0);
            out.heights = part(field.heights, x0, y0, x1 - x0, y1 - y0);
            out.plane.origin +=
                field.plane.right * (static_cast<float>(x0) * field.metresPerPixel) -
                field.plane.up * (static_cast<float>(y0) * field.metresPerPixel);
            return out;
        })
        .summary([](const S& s) {
            return fmt::format("{:.0f} % by {:.0f} % of it", 100.0F * std::abs(s.right - s.left),
                               100.0F * std::abs(s.bottom - s.top));
        })
        .build();
}

}  // namespace noctis
