#include "core/recipe/step_order.h"

#include "core/recipe/groups.h"

#include <algorithm>

#include <fmt/format.h>

namespace noctis {

std::map<std::string, std::string> orderNotes(const Recipe& recipe, const Catalogue& catalogue) {
    std::map<std::string, std::string> notes;
    const std::vector<std::size_t> order = catalogue.runningOrder(recipe);
    for (std::size_t i = 0; i < order.size(); ++i) {
        const Step& step = recipe.steps[order[i]];
        const OrderRule& rule = catalogue.type(step.type).notBefore;
        for (std::size_t k = i + 1; k < order.size() && !rule.types.empty(); ++k) {
            const Step& later = recipe.steps[order[k]];
            if (std::ranges::find(rule.types, later.type) == rule.types.end())
                continue;
            notes[step.id] =
                fmt::format("{} comes after it: {}", titleOf(later, catalogue), rule.why);
            break;
        }
    }
    return notes;
}

void moveLast(Steps& steps, std::string_view id) {
    takeOut(steps, id);
    const auto at = std::ranges::find(steps, id, &Step::id);
    if (at != steps.end())
        std::rotate(at, at + 1, steps.end());
}

}  // namespace noctis
