#include "core/image/error.h"
#include "core/operations/each_height.h"
#include "core/passes/normal_reading.h"
#include "core/relief/relief_type.h"
#include "core/relief/slopes.h"
#include "core/relief/torn.h"

#include <fmt/format.h>

namespace noctis {

namespace {

struct FromNormalsSettings {
    FilePath file{};
    float wavelength = 0.02F;
    float amount = 1.0F;
    NormalAxes axes = NormalAxes::Guess;
    bool flipY = false;
};

/// Slopes at the field's size: each cell has that of its nearest pixel.
Slopes atSizeOf(const Slopes& slopes, int width, int height) {
    if (slopes.right.width() == width && slopes.right.height() == height)
        return slopes;
    Slopes out{Image::unset(width, height, {"Y"}), Image::unset(width, height, {"Y"})};
    float* right = out.right.editPlane(0);
    float* up = out.up.editPlane(0);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const int u = static_cast<int>((static_cast<float>(x) + 0.5F) *
                                           static_cast<float>(slopes.right.width()) /
                                           static_cast<float>(width));
            const int v = static_cast<int>((static_cast<float>(y) + 0.5F) *
                                           static_cast<float>(slopes.right.height()) /
                                           static_cast<float>(height));
            right[out.right.rowStride() * y + x] = slopes.right(u, v, 0);
            up[out.right.rowStride() * y + x] = slopes.up(u, v, 0);
        }
    return out;
}

}  // namespace

OperationType fromNormalsOperation() {
    using S = FromNormalsSettings;
    return OperationBuilder<S>("from_normals", "Detail from normals")
        .help("Keeps large form, and takes what is finer than a wavelength from normals.")
        .file(&S::file, "file", "File", TextUse::PictureFile,
              "A picture of normals; empty uses the normals that came with the heights.")
        .number(
            &S::wavelength, "wavelength", "Finer than", Unit::Metre, {1e-6F, 1000.0F, 0.2F},
            "Where the two are joined: wider forms come from the map, finer ones from the normals.")
        .number(&S::amount, "amount", "Amount", Unit::Percent, {0.0F, 4.0F, 2.0F},
                "How strong the normals' detail is.")
        .choice(&S::axes, "space", "Space",
                {{"guess", "From the values"}, {"camera", "Camera or tangent"}, {"world", "World"}},
                "Which axes the normals are in.")
        .toggle(&S::flipY, "flip_y", "Green is down",
                "Corrects detail that comes out inverted along the picture's height.")
        .apply([](const HeightField& field, const S& s, const OperationContext& context,
                  const RunContext& run) {
            if (!field.places.empty())
                throw Error(ErrorCode::BadSetting,
                            "normals can only be joined to a map whose cells are the source's "
                            "pixels: a parallel view, not laid onto a plane and not cut");
            const bool own = s.file.path.empty();
            const ReliefInput other = own ? ReliefInput{} : readReliefInput({s.file.path});
            const ReliefInput& from = own ? context.input : other;
            const NormalsInInput normals = normalsIn(from);
            const std::optional<Camera>& camera = from.passes.camera;
            const SettledNormals settled =
                settledNormals(normals, camera, s.axes, NormalCoding::Guess, s.flipY);
            Slopes slopes =
                slopesOfNormals(cameraNormals(normals.image, settled.reading, camera), run);
            if (own && context.factor == 1)
                tear(slopes, context.input.passes, field.metresPerPixel);
            HeightField out = field;
            IntegrationSettings how;
            how.metresPerPixel = field.metresPerPixel;
            how.anchor = field.heights;
            how.anchorWavelength = s.wavelength;
            const Slopes sized = atSizeOf(slopes, field.width(), field.height());
            const Image joined = heightsFromSlopes(sized, how, run);
            forEachHeight(out, [&](float h, int x, int y) {
                const float fine = joined(x, y, 0);
                return std::isfinite(fine) ? h + (fine - h) * s.amount : h;
            });
            for (const std::string& reason : settled.reasons)
                out.notes.push_back(reason);
            return out;
        })
        .summary([](const S& s) {
            return fmt::format("{}, below {}",
                               s.file.path.empty() ? "its own" : s.file.path.filename().string(),
                               lengthText(static_cast<double>(s.wavelength)));
        })
        .build();
}

}  // namespace noctis
