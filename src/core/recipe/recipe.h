#pragma once

#include "core/passes/scene_light.h"
#include "core/recipe/blend.h"
#include "core/recipe/criterion_type.h"
#include "core/recipe/step_type.h"
#include "core/recipe/where.h"

#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// A step of a recipe. type is an id of the catalogue.
struct Step {
    std::string id{};    ///< unique in its recipe; stays through moving, undo and saving
    std::string name{};  ///< the artist's; empty: the type's label
    std::string type;
    bool on = true;
    float amount = 1.0F;  ///< 0..1
    Blend blend = Blend::Normal;
    Settings settings;
    Where where{};
    /// An unusable step of a newer or damaged file, as JSON: it never runs and is saved unchanged.
    std::shared_ptr<const std::string> kept{};
    std::string problem{};  ///< why it can't be used

    [[nodiscard]] bool usable() const noexcept { return kept == nullptr; }
    bool operator==(const Step&) const;
};

inline constexpr std::size_t kMostSteps = 1000;

/// Steps in the artist's order; they run phase by phase, in that order within each.
struct Recipe {
    std::vector<Step> steps;
    NamedWheres wheres{};
    NamedLights lights{};  ///< made by the artist; steps use them by name
    std::shared_ptr<const std::string>
        unknown{};  ///< fields of the file that are not known, as JSON
    bool operator==(const Recipe&) const;

    /// None if there is none.
    [[nodiscard]] const Step* find(std::string_view id) const noexcept;
    [[nodiscard]] Step* find(std::string_view id) noexcept;
    /// An unused id: the type's, with a number if needed.
    [[nodiscard]] std::string freeId(const std::string& type) const;
};

/// All types of steps and criteria. Callers that evaluate pass it in, so that core/recipe depends on none of
/// them.
class Catalogue {
public:
    Catalogue(std::vector<StepType> steps, std::vector<CriterionType> criteria)
        : m_types(std::move(steps)), m_criteria(std::move(criteria)) {}

    [[nodiscard]] const std::vector<StepType>& types() const noexcept { return m_types; }
    [[nodiscard]] const std::vector<CriterionType>& criteria() const noexcept { return m_criteria; }
    /// Errors   Error(UnknownName), naming those there are.
    [[nodiscard]] const StepType& type(std::string_view id) const;
    [[nodiscard]] const CriterionType& criterion(std::string_view id) const;
    /// A new step of that type, with an id and a title unused in the recipe, and settings suited to its input
    /// passes.
    [[nodiscard]] Step newStep(std::string_view id, const Recipe& recipe = {},
                               const PassSet& passes = {}) const;
    [[nodiscard]] Where newCriterion(std::string_view id) const;
    /// Indices of the steps that are on, usable and have an amount, in the order they run.
    [[nodiscard]] std::vector<std::size_t> runningOrder(const Recipe& recipe) const;

private:
    std::vector<StepType> m_types;
    std::vector<CriterionType> m_criteria;
};

/// A step's title: its name, or its type's label.
std::string titleOf(const Step& step, const Catalogue& catalogue);

/// An unused title: the wanted one, with another number if needed.
std::string freeTitle(const Recipe& recipe, const Catalogue& catalogue, const std::string& wanted);

/// Every file that a recipe's steps and Wheres name.
std::vector<std::filesystem::path> filesOf(const Recipe& recipe);

/// Passes a Where reads.
std::vector<PassNeed> needsOf(const Where& plain, const Catalogue& catalogue);

/// What a Where limits to, in a few words: "boats only", "beyond 12 m"; empty for everywhere.
std::string summaryOf(const Where& where, const Catalogue& catalogue, const ShownFrame& frame = {});

}  // namespace noctis
