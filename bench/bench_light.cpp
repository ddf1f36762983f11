#include "core/recipe/evaluator.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"
#include "core/steps/screen_shadow.h"
#include "disc.h"
#include "harness.h"
#include "quay.h"

#include <cstring>

#include <fmt/format.h>

namespace bench {

namespace {

using namespace noctis;

constexpr int kWidth = kQuayWidth;
constexpr int kHeight = kQuayHeight;

Row shadow(const PassSet& set, const std::string& name, float softness) {
    Disc disc(kWidth, kHeight);
    SceneLight light;
    light.towards = V3f(-0.75F, 0.45F, 0.35F);
    const SeenGeometry seen{set.cameraOrAssumed(),
                            set.find(PassKind::Depth)->image,
                            set.find(PassKind::Normal)->image,
                            {}};
    return run({name, [] { return std::string(); },
                [&] {
                    (void)screenShadow(seen, light,
                                       {.length = 1.0F, .thickness = 0.3F, .softness = softness});
                },
                [&] {
                    for (int i = 0; i < 2; ++i)
                        disc.filter();
                },
                1.0, false, "two of cv::filter2D's discs of radius 32", 5});
}

/// One light, and a second one, whose difference is what a light costs.
Row relight(const PassSet& set, const std::string& kind) {
    Evaluator evaluator(stepCatalogue(), 0);
    evaluator.setPasses(set);
    const auto lights = [&](int count) {
        std::string steps;
        for (int i = 0; i < count; ++i)
            steps += fmt::format(
                R"({}{{"step":"relight","settings":{{"kind":"{}","position":[0.{},2,-1]}}}})",
                i > 0 ? "," : "", kind, i + 1);
        return recipeFromText(R"({"format":"noctis-recipe","version":2,"steps":[)" + steps + "]}",
                              stepCatalogue());
    };
    const Recipe four = lights(4);
    const Image picture = set.find(PassKind::Beauty)->image.select({0, 1, 2});
    Image copy = Image::unset(kWidth, kHeight, {"R", "G", "B"});
    Row row =
        run({"relight, four of " + kind, [] { return std::string(); },
             [&] {
                 evaluator.setPasses(set);  // which drops the last result
                 (void)evaluator.evaluate(four);
             },
             [&] {
                 for (int i = 0; i < 4; ++i)
                     for (int c = 0; c < 3; ++c)
                         std::memcpy(copy.editPlane(c), picture.plane(c),
                                     sizeof(float) * static_cast<std::size_t>(picture.rowStride()) *
                                         kHeight);
             },
             6.0, false, "as many plain copies of the picture", 5});
    return row;
}

}  // namespace

void light(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    const std::vector<std::pair<std::string, float>> shadows{{"contact shadow, hard", 0.0F},
                                                             {"contact shadow, soft", 3.0F}};
    const std::vector<std::string> kinds{"sun", "point", "spot"};
    std::optional<PassSet> set;
    const auto passes = [&]() -> const PassSet& {
        if (!set)
            set = quay(demo);
        return *set;
    };
    for (const auto& [name, softness] : shadows)
        if (wanted(name))
            rows.push_back(shadow(passes(), name, softness));
    for (const std::string& kind : kinds)
        if (wanted("relight, four of " + kind))
            rows.push_back(relight(passes(), kind));
}

}  // namespace bench
