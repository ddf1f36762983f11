#include "core/image/resample.h"
#include "core/relief/field_filters.h"
#include "core/relief/relief_type.h"

#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

struct ResampleSettings {
    float metresPerPixel = 0.001F;
};

}  // namespace

OperationType resampleOperation() {
    using S = ResampleSettings;
    return OperationBuilder<S>("resample", "Resample")
        .help("Gives the map coarser or finer cells; its size on the plane stays.")
        .number(&S::metresPerPixel, "metres_a_pixel", "Metres per pixel", Unit::Metre,
                {1e-6F, 1000.0F, 0.05F}, "The size of a cell.")
        .apply([](const HeightField& field, const S& s, const OperationContext& context,
                  const RunContext&) {
            const double ratio = static_cast<double>(field.metresPerPixel) /
                                 static_cast<double>(s.metresPerPixel) / context.factor;
            const double across = std::max(1.0, std::round(field.width() * ratio));
            const double down = std::max(1.0, std::round(field.height() * ratio));
            requireCells(across, down);
            const int w = static_cast<int>(across);
            const int h = static_cast<int>(down);
            HeightField out = field;
            const Resampling how = ratio < 1.0 ? Resampling::Area : Resampling::Cubic;
            const PassSet& set = context.input.passes;
            const Image places = placesOf(field, set.empty() ? field.width() : set.width,
                                          set.empty() ? field.height() : set.height);
            // Holes must not spread: heights and holes are resampled by themselves.
            out.heights = resized(patchedHoles(field.heights), w, h, how);
            out.heights =
                withHolesOf(out.heights, resized(field.heights, w, h, Resampling::Nearest));
            out.places = resized(places, w, h, Resampling::Linear);
            out.metresPerPixel =
                field.metresPerPixel * static_cast<float>(field.width()) / static_cast<float>(w);
            return out;
        })
        .summary([](const S& s) {
            return fmt::format("{} a pixel", lengthText(static_cast<double>(s.metresPerPixel)));
        })
        .build();
}

}  // namespace noctis
