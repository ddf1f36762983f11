#include "step_cases.h"

#include "core/recipe/evaluator.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"
#include "disc.h"
#include "quay.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <optional>

#include <fmt/format.h>

namespace bench {

namespace {

using namespace noctis;

/// Copies four planes: three of the picture, and one that a step reads.
class FourPlanes {
public:
    FourPlanes(int width, int height)
        : m_from(Image::filled(width, height, 4, 0.5F)),
          m_to(Image::filled(width, height, 4, 0.0F)) {}
    void copy() {
        for (int c = 0; c < 4; ++c)
            std::memcpy(m_to.editPlane(c), m_from.plane(c),
                        sizeof(float) *
                            static_cast<std::size_t>(m_from.rowStride() * m_from.height()));
    }

private:
    Image m_from;
    Image m_to;
};

/// As if the camera went by: near things fast, far ones slowly.
Pass passingBy(const PassSet& set, float pixels) {
    constexpr float kNear = 4.0F;  // m
    const Image& depth = set.find(PassKind::Depth)->image;
    Pass pass = *set.find(PassKind::Depth);
    pass.kind = PassKind::Vectors;
    pass.image = Image(depth.width(), depth.height(), {"PX", "PY", "NX", "NY"});
    float* const before = pass.image.editPlane(0);
    float* const after = pass.image.editPlane(2);
    for (int y = 0; y < depth.height(); ++y)
        for (int x = 0; x < depth.width(); ++x) {
            const std::ptrdiff_t at = pass.image.rowStride() * y + x;
            after[at] = pixels * std::min(kNear / depth(x, y, 0), 1.0F);
            before[at] = -after[at];
        }
    return pass;
}

}  // namespace

void stepCases(const Demo& demo, const std::vector<StepCase>& cases, const Filter& wanted,
               std::vector<Row>& rows) {
    std::optional<PassSet> set;
    int made = 0;  // at which scale
    for (const StepCase& one : cases) {
        if (!wanted(one.name))
            continue;
        const int width = one.scale * kQuayWidth;
        const int height = one.scale * kQuayHeight;
        if (std::exchange(made, one.scale) != one.scale)
            set = quay(demo, width, height);
        PassSet passes = *set;
        if (one.moves != 0.0F)
            passes.put(passingBy(passes, one.moves));
        Evaluator evaluator(stepCatalogue(), 1);
        evaluator.setPasses(passes);
        int variant = 0;
        const auto evaluate = [&] {
            return evaluator.evaluate(recipeFromText(
                fmt::format(R"({{"format":"noctis-recipe","version":2,"steps":[{}]}})",
                            fmt::format(fmt::runtime(one.step), ++variant, demo.folder.string())),
                stepCatalogue()));
        };
        const auto check = [&] {
            const Image out = evaluate();
            const Image& in = set->find(PassKind::Beauty)->image;
            float most = 0.0F;
            for (int y = 0; y < height; y += 10)
                for (int x = 0; x < width; x += 10)
                    most = std::max(most, std::abs(out(x, y, 0) - in(x, y, 0)));
            return std::string(most > 1e-4F ? "" : "the picture stays as it was");
        };
        if (one.discs == 0) {
            FourPlanes planes(width, height);
            rows.push_back(run({one.name, check, [&] { (void)evaluate(); }, [&] { planes.copy(); },
                                one.target, false, "copying four planes", 5}));
        } else {
            Disc disc(width, height);
            const auto discs = [&] {
                for (int i = 0; i < one.discs; ++i)
                    disc.filter();
            };
            rows.push_back(
                run({one.name, check, [&] { (void)evaluate(); }, discs, one.target, false,
                     fmt::format("{} of cv::filter2D's discs of radius 32", one.discs), 3}));
        }
    }
}

}  // namespace bench
