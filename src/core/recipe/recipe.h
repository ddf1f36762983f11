#pragma once

#include "core/passes/scene_light.h"
#include "core/recipe/criterion_type.h"
#include "core/recipe/step.h"
#include "core/recipe/step_type.h"

#include <functional>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace noctis {

/// Steps in the artist's order; they run phase by phase, in that order within each.
struct Recipe {
    Steps steps;
    NamedWheres wheres{};
    NamedLights lights{};                         ///< made by the artist; steps use them by name
    std::map<std::string, Tracks> lightTracks{};  ///< of the artist's lights, by name
    float amount = 1.0F;  ///< 0..1: the result's share, mixed with the picture of the files
    std::shared_ptr<const std::string>
        unknown{};  ///< fields of the file that are not known, as JSON
    bool operator==(const Recipe&) const;

    /// None if there is none.
    [[nodiscard]] const Step* find(std::string_view id) const noexcept {
        return findStep(steps, id);
    }
    [[nodiscard]] Step* find(std::string_view id) noexcept { return findStep(steps, id); }
};

/// All types of steps and criteria. Callers that evaluate pass it in, so that core/recipe depends on none of
/// them.
class Catalogue {
public:
    Catalogue(std::vector<StepType> steps, std::vector<CriterionType> criteria)
        : m_types(std::move(steps)), m_criteria(std::move(criteria)) {}

    [[nodiscard]] const std::vector<StepType>& types() const noexcept { return m_types; }
    [[nodiscard]] const std::vector<CriterionType>& criteria() const noexcept { return m_criteria; }
    /// Of a step; also of a group, which isn't one of types().
    /// Errors   Error(UnknownName), naming those there are.
    [[nodiscard]] const StepType& type(std::string_view id) const;
    [[nodiscard]] const CriterionType& criterion(std::string_view id) const;
    /// A new step of that type, with an id and a title unused in the recipe.
    [[nodiscard]] Step newStep(std::string_view id, const Recipe& recipe = {}) const;
    [[nodiscard]] Where newCriterion(std::string_view id) const;
    /// The same with settings that suit what is around.
    [[nodiscard]] Step newStep(std::string_view id, const Recipe& recipe,
                               const Surroundings& around) const;
    [[nodiscard]] Where newCriterion(std::string_view id, const Surroundings& around) const;
    /// Indices of the steps that are on, in groups that are, usable and have an amount, in the order they run;
    /// without groups.
    [[nodiscard]] std::vector<std::size_t> runningOrder(const Recipe& recipe) const;

private:
    std::vector<StepType> m_types;
    std::vector<CriterionType> m_criteria;
};

/// The declarations of a list's steps, and of the criteria in their Wheres.
struct StepTypes {
    StepTypes(const Catalogue& catalogue)  // NOLINT: a catalogue is these, for a recipe
        : type([&catalogue](std::string_view id) -> const Declaration& {
              return catalogue.type(id);
          }),
          criteria(catalogue) {}
    StepTypes(std::function<const Declaration&(std::string_view)> types, const Catalogue& catalogue)
        : type(std::move(types)), criteria(catalogue) {}

    /// Errors   Error(UnknownName), naming those there are.
    std::function<const Declaration&(std::string_view id)> type;
    const Catalogue& criteria;
};

/// A step's title: its name, or its type's label.
std::string titleOf(const Step& step, const StepTypes& types);

/// An unused title: the wanted one, with another number if needed.
std::string freeTitle(const Steps& steps, const StepTypes& types, const std::string& wanted);

/// Every file that a recipe's steps and Wheres name.
std::vector<std::filesystem::path> filesOf(const Recipe& recipe);

/// Passes a Where reads.
std::vector<PassNeed> needsOf(const Where& plain, const Catalogue& catalogue);

/// What a Where limits to, in a few words: "boats only", "beyond 12 m"; empty for everywhere.
std::string summaryOf(const Where& where, const Catalogue& catalogue, const ShownFrame& frame = {});

}  // namespace noctis
