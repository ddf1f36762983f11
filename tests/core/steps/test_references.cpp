#include "core/image/image_file.h"
#include "core/image/safe_write.h"
#include "core/passes/pass_file.h"
#include "core/recipe/evaluator.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"
#include "support/frames.h"
#include "support/worse.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>

#include <catch2/catch.hpp>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

using namespace noctis;
using Json = nlohmann::json;

// Small pictures of what recipes looked like when they were kept, so that a change of the machinery is no
// change of a look. `scripts/generate` makes those that are missing.

namespace {

const std::filesystem::path kFolder = NOCTIS_REFERENCES;

/// Of each sample: 1/500 of it or of white, whichever is more; half floats are within 1/2000.
constexpr float kTolerance = 0.002F;

struct Look {
    std::string name;
    Json recipe;
};

Image lookOf(Evaluator& evaluator, const Json& recipe) {
    return evaluator.evaluate(recipeFromText(recipe.dump(), stepCatalogue())).select({0, 1, 2});
}

void keep(const std::filesystem::path& path, const std::vector<Look>& looks, Evaluator& evaluator) {
    std::vector<FilePart> parts;
    for (const Look& look : looks) {
        FilePart part;
        part.name = part.layer = look.name;
        part.image = lookOf(evaluator, look.recipe);
        part.type = SampleType::Half;
        parts.push_back(std::move(part));
    }
    writeImageFile(path, parts);
}

void compare(const std::filesystem::path& path, const std::vector<Look>& looks,
             Evaluator& evaluator) {
    INFO("scripts/generate makes references that are missing");
    const FileInfo info = readFileInfo(path);
    for (const Look& look : looks) {
        std::vector<int> channels;
        for (const char* c : {".R", ".G", ".B"})
            for (int i = 0; i < static_cast<int>(info.channels.size()); ++i)
                if (info.channels[static_cast<std::size_t>(i)].name == look.name + c)
                    channels.push_back(i);
        INFO(path.filename().string() << ": " << look.name);
        REQUIRE(channels.size() == 3);
        const Image wanted = readFileChannels(info, channels);
        const Image found = lookOf(evaluator, look.recipe);
        REQUIRE(found.sameSize(wanted));
        float worst = 0.0F;
        for (int c = 0; c < 3; ++c)
            for (int y = 0; y < found.height(); ++y)
                for (int x = 0; x < found.width(); ++x) {
                    const float is = wanted(x, y, c);
                    worst = test::worse(worst, std::abs(found(x, y, c) - is) /
                                                   std::max(1.0F, std::abs(is)));
                }
        CHECK(worst <= kTolerance);
    }
}

bool writes() { return std::getenv("NOCTIS_WRITE_REFERENCES") != nullptr; }

/// Makes the file if it is missing and that is asked for; compares with it.
void hold(const std::string& file, const std::vector<Look>& looks) {
    Evaluator evaluator(stepCatalogue());
    PassSet set = readPasses({kFolder / "passes.exr"});
    // A camera that drives on, for steps that read how the picture moves.
    Camera next = set.cameraOrAssumed();
    next.cameraToWorld[3][0] += 0.3F;
    set.cameraAfter = next;
    // Passes that the file has not, for steps that read no others.
    for (const PassKind kind : {PassKind::SpecularDirect, PassKind::GroundShadow})
        set.put(test::passOf({kind, {}}, set.width, set.height, [&](int x, int y, int c) {
            return static_cast<float>((x * (c + 2) + y * 3) % 97) / 97.0F;
        }));
    evaluator.setPasses(set);
    if (writes() && !std::filesystem::exists(kFolder / file))
        keep(kFolder / file, looks, evaluator);
    compare(kFolder / file, looks, evaluator);
}

}  // namespace

TEST_CASE("every step looks as it did, as it starts and in each preset", "[steps][references]") {
    for (const StepType& type : stepCatalogue().types()) {
        std::vector<Look> looks;
        const auto add = [&](const std::string& name, const Settings& settings) {
            Recipe recipe;
            Step step = stepCatalogue().newStep(type.id);
            step.settings = settings;
            recipe.steps.push_back(step);
            looks.push_back({name, recipeToJson(recipe, stepCatalogue())});
        };
        add("as it starts", initialSettings(type.parameters));
        for (const Preset& preset : type.presets)
            add(preset.label, settingsWith(type, preset.values));
        hold(type.id + ".exr", looks);
    }
}
