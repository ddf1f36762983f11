#include "core/recipe/recipe.h"

#include "core/image/error.h"

#include <algorithm>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

const StepType& Catalogue::type(std::string_view id) const {
    const auto found =
        std::find_if(m_types.begin(), m_types.end(), [&](const StepType& t) { return t.id == id; });
    if (found != m_types.end())
        return *found;
    std::vector<std::string> ids;
    for (const StepType& type : m_types)
        ids.push_back(type.id);
    throw Error(ErrorCode::UnknownName,
                fmt::format("there is no step {}; there are {}", id, fmt::join(ids, ", ")));
}

Step Catalogue::newStep(std::string_view id) const {
    Step step;
    step.type = id;
    step.settings = initialSettings(type(id).parameters);
    return step;
}

std::vector<std::size_t> Catalogue::runningOrder(const Recipe& recipe) const {
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < recipe.steps.size(); ++i)
        if (recipe.steps[i].on && recipe.steps[i].amount > 0.0F)
            order.push_back(i);
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        return type(recipe.steps[a].type).phase < type(recipe.steps[b].type).phase;
    });
    return order;
}

}  // namespace noctis
