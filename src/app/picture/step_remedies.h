#pragma once

#include "core/recipe/recipe.h"
#include "core/tracer/pass_state.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// What is wrong with the passes that a step reads, and which of them would have to be rendered.
struct StepRemedy {
    std::string
        text;  ///< "the occlusion pass is stale: the lights moved"; empty for those that are just missing
    std::vector<PassName> passes;
};

/// states: of the frame's passes, by name. Nothing for a step whose passes are as they should be, or that no render
/// can help.
std::optional<StepRemedy> remedyFor(const Step& step, const Recipe& recipe, const PassSet& passes,
                                    const std::map<std::string, PassState>& states);

}  // namespace noctis
