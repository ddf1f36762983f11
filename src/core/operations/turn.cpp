#include "core/relief/field_filters.h"
#include "core/relief/relief_type.h"

namespace noctis {

namespace {

enum class TurnBy { Right, Half, Left };

struct TurnSettings {
    TurnBy by = TurnBy::Right;
};

/// A quarter to the right: the left edge becomes the top.
Image quarter(const Image& image) {
    std::vector<std::string> names;
    for (int c = 0; c < image.channels(); ++c)
        names.push_back(image.channelName(c));
    Image out = Image::unset(image.height(), image.width(), names);
    for (int c = 0; c < image.channels(); ++c) {
        float* to = out.editPlane(c);
        for (int y = 0; y < out.height(); ++y)
            for (int x = 0; x < out.width(); ++x)
                to[out.rowStride() * y + x] = image(y, image.height() - 1 - x, c);
    }
    return out;
}

HeightField quarter(const HeightField& field) {
    HeightField out = field;
    out.heights = quarter(field.heights);
    out.places = quarter(field.places);
    // What was the bottom left corner is the top left one.
    out.plane.origin = field.plane.origin -
                       field.plane.up * (static_cast<float>(field.height()) * field.metresPerPixel);
    out.plane.right = field.plane.up;
    out.plane.up = -field.plane.right;
    return out;
}

}  // namespace

OperationType turnOperation() {
    using S = TurnSettings;
    return OperationBuilder<S>("turn", "Turn")
        .help("Rotates the map by quarter turns.")
        .choice(&S::by, "by", "By",
                {{"right", "A quarter turn right"},
                 {"half", "Half a turn"},
                 {"left", "A quarter turn left"}},
                "How far to rotate the map.")
        .apply([](const HeightField& field, const S& s, const OperationContext& context,
                  const RunContext&) {
            HeightField out = field;
            const PassSet& set = context.input.passes;
            out.places = placesOf(field, set.empty() ? field.width() : set.width,
                                  set.empty() ? field.height() : set.height);
            for (int i = 0; i <= static_cast<int>(s.by); ++i)
                out = quarter(out);
            return out;
        })
        .summary([](const S& s) {
            return std::string(s.by == TurnBy::Right  ? "a quarter turn right"
                               : s.by == TurnBy::Half ? "half a turn"
                                                      : "a quarter turn left");
        })
        .build();
}

}  // namespace noctis
