#pragma once

#include "core/recipe/blend.h"
#include "core/recipe/step_type.h"

#include <string>
#include <vector>

namespace noctis {

/// A step as it stands in a recipe. type is an id of the catalogue.
struct Step {
    std::string type;
    bool on = true;
    float amount = 1.0F;  ///< 0..1
    Blend blend = Blend::Normal;
    Settings settings;

    bool operator==(const Step&) const = default;
};

/// Steps in the artist's order; they run phase by phase, in that order within each.
struct Recipe {
    std::vector<Step> steps;
    bool operator==(const Recipe&) const = default;
};

/// The kinds of steps there are. Held by whoever evaluates, so that recipe needs none of them.
class Catalogue {
public:
    explicit Catalogue(std::vector<StepType> types) : m_types(std::move(types)) {}

    [[nodiscard]] const std::vector<StepType>& types() const noexcept { return m_types; }
    /// Errors   Error(UnknownName), naming those there are.
    [[nodiscard]] const StepType& type(std::string_view id) const;
    /// A step of that type as it first stands.
    [[nodiscard]] Step newStep(std::string_view id) const;
    /// Indices of the steps that are on and have an amount, in the order they run.
    [[nodiscard]] std::vector<std::size_t> runningOrder(const Recipe& recipe) const;

private:
    std::vector<StepType> m_types;
};

}  // namespace noctis
