// What is shown of what moves in time.
#include "app/session/session.h"
#include "core/passes/frame_name.h"
#include "core/recipe/recipe_at.h"
#include "core/steps/registry.h"

#include <algorithm>

namespace noctis {

namespace {

/// A still with one key has room to set another.
constexpr int kLeastFrames = 48;

std::optional<int> numberOf(const Project& project) {
    for (const std::filesystem::path& file : project.passFiles)
        if (const auto number = frameOf(file))
            return number;
    return std::nullopt;
}

}  // namespace

double Session::framesPerSecond() const {
    return project().sequence ? project().sequence->rate : project().framesPerSecond;
}

FrameTime Session::time() const {
    const int number = numberOf(project()).value_or(m_still);
    const int first = project().sequence ? project().sequence->first : 1;
    return {number, (number - first) / framesPerSecond()};
}

std::pair<int, int> Session::frames() const {
    const Project& all = project();
    if (all.sequence)
        return {all.sequence->first, all.sequence->last};
    for (const std::filesystem::path& file : all.passFiles)
        if (frameOf(file))
            if (const std::vector<int> beside = framesBeside(file); !beside.empty())
                return {beside.front(), beside.back()};
    if (!moves(all.recipe))
        return {1, 1};
    const auto keyed = keyedFrames(all.recipe);
    return {std::min(1, keyed ? keyed->first : 1),
            std::max(kLeastFrames, keyed ? keyed->second : 1)};
}

void Session::goTo(int frame) {
    if (numberOf(project()))
        return showFrame(frame);
    if (m_still == frame)
        return;
    m_still = frame;
    Q_EMIT timeChanged();
}

Recipe Session::recipeNow() const { return recipeAt(project().recipe, stepCatalogue(), time()); }

void Session::changeRecipe(const QString& what, const QString& gesture,
                           const std::function<void(Recipe&)>& edit) {
    change(what, gesture,
           [&](Project& p) { p.recipe = editedAt(p.recipe, stepCatalogue(), time(), edit); });
}

}  // namespace noctis
