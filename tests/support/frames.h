#pragma once

#include "core/passes/pass_set.h"
#include "core/recipe/evaluator.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"

#include <functional>

namespace noctis::test {

/// A pass of a kind, each sample value(x, y, channel).
inline Pass passOf(const PassName& name, int width, int height,
                   const std::function<float(int, int, int)>& value) {
    Pass pass;
    pass.name = nameOf(name);
    pass.kind = name.kind;
    std::vector<std::string> channels = passKindInfo(name.kind).channels;
    if (channels.empty())
        channels = {"R", "G", "B"};
    pass.image = Image(width, height, channels);
    for (int c = 0; c < pass.image.channels(); ++c) {
        float* plane = pass.image.editPlane(c);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x)
                plane[pass.image.rowStride() * y + x] = value(x, y, c);
    }
    return pass;
}

/// A frame of one grey picture, seen by a level camera at the origin.
inline PassSet greyFrame(int width, int height, float value = 0.5F) {
    PassSet set;
    set.camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.7F);
    set.put(passOf({PassKind::Beauty, {}}, width, height, [=](int, int, int) { return value; }));
    return set;
}

inline Recipe recipeOf(const std::string& steps, const std::string& more = {}) {
    return recipeFromText(R"({"format":"noctis-recipe","version":2,"steps":[)" + steps + "]" +
                              more + "}",
                          stepCatalogue());
}

/// The Where of the first step, as one channel.
inline Image whereOf(const PassSet& set, const std::string& where, const std::string& more = {}) {
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(set);
    const Recipe recipe = recipeOf(
        R"({"step":"grade","id":"g","settings":{"exposure":1},"where":)" + where + "}", more);
    return evaluator.where(recipe, "g");
}

inline Image finished(const PassSet& set, const Recipe& recipe, EvaluateOptions options = {}) {
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(set);
    return evaluator.evaluate(recipe, options);
}

}  // namespace noctis::test
