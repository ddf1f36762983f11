#include "core/image/tiles.h"
#include "core/recipe/evaluator.h"
#include "core/steps/registry.h"
#include "harness.h"

#include <cstring>

namespace bench {

namespace {

using namespace noctis;

constexpr int kWidth = 3840;
constexpr int kHeight = 2160;
constexpr int kSteps = 10;

PassSet frame() {
    PassSet set;
    set.camera = lookingAt(V3f(0, 2, 0), V3f(0, 1, -8), 0.7F);
    const auto add = [&](PassKind kind) {
        Pass pass;
        pass.name = passKindInfo(kind).id;
        pass.kind = kind;
        pass.image = Image(kWidth, kHeight, passKindInfo(kind).channels);
        for (int c = 0; c < pass.image.channels(); ++c) {
            float* plane = pass.image.editPlane(c);
            for (std::ptrdiff_t i = 0; i < pass.image.rowStride() * kHeight; ++i)
                plane[i] = kind == PassKind::Distance || kind == PassKind::Depth
                               ? 1.0F + static_cast<float>(i % 3001) * 0.1F
                               : static_cast<float>(i % 257) / 257.0F;
        }
        set.put(std::move(pass));
    };
    add(PassKind::Beauty);
    add(PassKind::Distance);
    add(PassKind::Depth);
    add(PassKind::Occlusion);
    return set;
}

/// Five occlusion and five fog steps in turn, none of them a mere copy.
Recipe tenSteps(int variant) {
    Recipe recipe;
    for (int i = 0; i < kSteps; ++i) {
        const bool fog = i % 2 == 1;
        Step step = stepCatalogue().newStep(fog ? "fog" : "occlusion");
        step.settings =
            fog ? settingsWith(stepCatalogue().type("fog"),
                               {{"density", 0.002F + 0.0001F * static_cast<float>(variant)}})
                : settingsWith(stepCatalogue().type("occlusion"),
                               {{"strength", 0.3F + 0.001F * static_cast<float>(variant % 100)}});
        recipe.steps.push_back(step);
    }
    return recipe;
}

/// The same, each in a soft band of depth.
Recipe tenLimited(int variant) {
    Recipe recipe = tenSteps(variant);
    for (Step& step : recipe.steps) {
        step.where = stepCatalogue().newCriterion("depth");
        step.where.settings.set("span", Span{.from = 20.0F, .to = 250.0F});
        step.where.settings.set("soft", 15.0F);
    }
    return recipe;
}

/// A text 400 pixels high at most, among the picture's distances.
Recipe oneStandee(int variant, float metresHigh = 4.0F) {
    Recipe recipe;
    Step step = stepCatalogue().newStep("standee");
    step.settings = settingsWith(stepCatalogue().type("standee"),
                                 {{"text", std::string("Quay")},
                                  {"height", metresHigh},
                                  {"distance", 30.0F + 0.001F * static_cast<float>(variant)},
                                  {"at", V2f(0.5F * kWidth, 0.6F * kHeight)}});
    recipe.steps.push_back(step);
    return recipe;
}

/// What a standee writes: three planes of the picture, and depth.
struct FourPlanes {
    Image from = Image::filled(kWidth, kHeight, 4, 0.5F);
    Image to = Image::filled(kWidth, kHeight, 4, 0.0F);
    void copy() {
        for (int c = 0; c < 4; ++c)
            std::memcpy(to.editPlane(c), from.plane(c),
                        sizeof(float) * static_cast<std::size_t>(from.rowStride() * kHeight));
    }
};

}  // namespace

void pointSteps(const Filter& wanted, std::vector<Row>& rows) {
    const std::string separateName = "ten point steps, fused";
    const std::string copyName = "ten point steps, copy";
    const std::string whereName = "ten point steps, each with a Where";
    const std::string standeeName = "a standee";
    const std::string smallName = "a standee of a few pixels";
    const std::vector<std::string> names{separateName, copyName, whereName, standeeName, smallName};
    if (std::none_of(names.begin(), names.end(), wanted))
        return;
    const PassSet set = frame();
    Evaluator fused(stepCatalogue(), 1);
    Evaluator apart(stepCatalogue(), 1);
    fused.setPasses(set);
    apart.setPasses(set);
    EvaluateOptions separate;
    separate.fused = false;
    // Other settings each time, so that no kept result is taken for work.
    int variant = 0;
    const auto ours = [&] { (void)fused.evaluate(tenSteps(++variant)); };
    const auto check = [&] {
        const Image a = fused.evaluate(tenSteps(0));
        const Image b = apart.evaluate(tenSteps(0), separate);
        for (int y = 0; y < kHeight; y += 7)
            if (std::memcmp(a.row(1, y), b.row(1, y), sizeof(float) * kWidth) != 0)
                return std::string("fused and separate steps differ");
        return std::string();
    };
    if (wanted(separateName))
        rows.push_back(run({separateName, check, ours,
                            [&] { (void)apart.evaluate(tenSteps(++variant), separate); }, 0.5,
                            false, "the same ten as separate passes", 7}));
    if (wanted(whereName)) {
        const auto checkWhere = [&] {
            const Image a = fused.evaluate(tenLimited(0));
            const Image b = apart.evaluate(tenLimited(0), separate);
            const bool same = std::memcmp(a.row(1, 9), b.row(1, 9), sizeof(float) * kWidth) == 0;
            return std::string(same ? "" : "fused and separate steps differ");
        };
        rows.push_back(
            run({whereName, checkWhere, [&] { (void)fused.evaluate(tenLimited(++variant)); }, ours,
                 1.5, false, "the same ten everywhere", 7}));
    }
    if (wanted(standeeName)) {
        FourPlanes planes;
        const auto checkStandee = [&] {
            const Image out = fused.evaluate(oneStandee(0));
            const Image& before = set.passes[0].image;
            int changed = 0;
            for (int x = 0; x < kWidth; ++x)
                changed += out(x, kHeight / 2, 0) != before(x, kHeight / 2, 0) ? 1 : 0;
            return std::string(changed > 0 ? "" : "the standee is not to be seen");
        };
        rows.push_back(
            run({standeeName, checkStandee, [&] { (void)fused.evaluate(oneStandee(++variant)); },
                 [&] { planes.copy(); }, 3.0, false, "one copy of the four planes it writes", 7}));
    }
    if (wanted(smallName)) {
        FourPlanes planes;
        const auto checkSmall = [&] {
            const Image out = fused.evaluate(oneStandee(0, 0.1F));
            const bool rest = std::memcmp(out.row(0, 9), set.passes[0].image.row(0, 9),
                                          sizeof(float) * kWidth) == 0;
            return std::string(rest ? "" : "it changed what is far from it");
        };
        rows.push_back(
            run({smallName, checkSmall, [&] { (void)fused.evaluate(oneStandee(++variant, 0.1F)); },
                 [&] { planes.copy(); }, 1.1, false, "one copy of the four planes it writes", 7}));
    }
    if (wanted(copyName)) {
        const Image from = set.passes[0].image;
        Image to = Image::unset(kWidth, kHeight, {"R", "G", "B"});
        float* planes[3] = {to.editPlane(0), to.editPlane(1), to.editPlane(2)};
        const auto copy = [&] {
            forEachBand(kHeight, 64, {}, [&](int y0, int y1) {
                for (int c = 0; c < 3; ++c)
                    std::memcpy(planes[c] + to.rowStride() * y0, from.row(c, y0),
                                sizeof(float) *
                                    static_cast<std::size_t>(to.rowStride() * (y1 - y0)));
            });
        };
        rows.push_back(
            run({copyName, check, ours, copy, 3.5, false, "one two-core copy of the picture", 7}));
    }
}

}  // namespace bench
