#include "core/image/error.h"
#include "core/passes/normal_reading.h"
#include "core/relief/slopes.h"
#include "core/relief/sources.h"
#include "core/relief/torn.h"

#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

struct NormalSourceSettings {
    NormalAxes axes = NormalAxes::Guess;
    NormalCoding coding = NormalCoding::Guess;
    bool flipY = false;
    FieldEdges edges = FieldEdges::Free;
    float metresPerPixel = 0.0F;
    bool torn = true;
    bool pinned = false;
};

constexpr float kUnknownScale = 0.001F;

}  // namespace

NormalsInInput normalsIn(const ReliefInput& input) {
    const NormalReading open{NormalAxes::Guess, NormalCoding::Guess, GreenWay::Up};
    if (const Pass* normal = input.passes.find(PassKind::Normal)) {
        if (normal->normals && !normal->raw.empty())
            return {normal->raw, normal->space, *normal->normals};
        return {normal->image, normal->space, open};
    }
    if (input.stored.channels() >= 3)
        return {input.stored.select({0, 1, 2}, {"X", "Y", "Z"}), {}, open};
    throw Error(ErrorCode::MissingPass,
                "there are no normals: the file needs three channels, or a normal pass");
}

SettledNormals settledNormals(const NormalsInInput& normals, const std::optional<Camera>& camera,
                              NormalAxes axes, NormalCoding coding, bool greenDown) {
    NormalReading wanted = normals.reading;
    if (axes != NormalAxes::Guess)
        wanted.axes = axes;
    if (coding != NormalCoding::Guess)
        wanted.coding = coding;
    if (greenDown)
        wanted.green = GreenWay::Down;
    return settleNormals(normals.image, {normals.space, camera, {}}, wanted);
}

ReliefSourceType normalSource() {
    using S = NormalSourceSettings;
    return ReliefSourceBuilder<S>("normal", "Normals")
        .help("Heights summed up from slopes: true in shape, but free to drift unless pinned.")
        .choice(&S::axes, "space", "Space",
                {{"guess", "From the values"}, {"camera", "Camera or tangent"}, {"world", "World"}},
                "Which axes the normals are in.")
        .choice(&S::coding, "coding", "Coding",
                {{"guess", "From the values"}, {"plain", "-1 to 1"}, {"encoded", "0 to 1"}},
                "How directions are stored.")
        .toggle(&S::flipY, "flip_y", "Green is down",
                "Corrects hills that come out as valleys along the picture's height.")
        .choice(&S::edges, "edges", "Edges", {{"free", "Free"}, {"periodic", "Repeating"}},
                "Repeating makes the right edge meet the left one, and the bottom the top.")
        .number(&S::metresPerPixel, "metres_a_pixel", "Metres per pixel", Unit::Metre,
                {0.0F, 1000.0F, 0.01F},
                "The size of a pixel; heights grow with it. 0 uses the camera's.")
        .unsetIs("camera's")
        .toggle(&S::torn, "torn", "Keep steps apart",
                "Where depth or objects show a step, the two sides are summed up separately.")
        .toggle(&S::pinned, "pinned", "Pin to depth",
                "Large forms follow the depth pass, where there is one.")
        .suits([](const ReliefInput& input) {
            return input.passes.find(PassKind::Normal) != nullptr || input.stored.channels() >= 3;
        })
        .make([](const ReliefInput& input, const S& s, const RunContext& run) {
            const NormalsInInput normals = normalsIn(input);
            const std::optional<Camera>& camera = input.passes.camera;
            requireCells(normals.image.width(), normals.image.height());
            const SettledNormals settled =
                settledNormals(normals, camera, s.axes, s.coding, s.flipY);
            const Image seen = cameraNormals(normals.image, settled.reading, camera);
            Slopes slopes = slopesOfNormals(seen, run);
            HeightField field;
            field.notes = settled.reasons;
            const bool parallel = camera && camera->orthographic();
            field.metresPerPixel =
                s.metresPerPixel > 0.0F ? s.metresPerPixel
                : parallel ? camera->orthographicHeight / static_cast<float>(input.passes.height)
                           : kUnknownScale;
            if (s.metresPerPixel <= 0.0F && !parallel)
                field.warnings.push_back(
                    fmt::format("No scale came with the normals: {} a pixel is assumed; heights "
                                "are proportional to it.",
                                lengthText(static_cast<double>(kUnknownScale))));
            if (camera && !parallel)
                field.warnings.emplace_back("The view is in perspective: slopes off its middle are "
                                            "approximate; depth gives a truer map.");
            if (const double doubt = greenDoubt(seen); doubt > 1.5)
                field.warnings.emplace_back(
                    "The green channel seems flipped: slopes across and along the picture "
                    "contradict each other; set Green is down (--flip-y).");
            if (s.torn)
                tear(slopes, input.passes, field.metresPerPixel);
            IntegrationSettings how;
            how.edges = s.edges;
            how.metresPerPixel = field.metresPerPixel;
            if (s.pinned) {
                const HeightField known = reliefSource("depth").make(
                    input, initialSettings(reliefSource("depth").parameters), run);
                if (!known.places.empty())
                    throw Error(ErrorCode::BadSetting,
                                "heights can be pinned only to the depth of a parallel view; join "
                                "them with Detail from normals instead");
                how.anchor = known.heights;
                field.plane = known.plane;
                field.level = known.level;
            } else {
                field.plane.up = V3f(0.0F, 1.0F, 0.0F);
                field.plane.normal = V3f(0.0F, 0.0F, 1.0F);
                field.level = "the mean height";
            }
            field.heights = heightsFromSlopes(slopes, how, run);
            return field;
        })
        .build();
}

}  // namespace noctis
