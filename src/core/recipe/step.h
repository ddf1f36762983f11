#pragma once

#include "core/recipe/blend.h"
#include "core/recipe/where.h"
#include "core/settings/value.h"

#include <cstddef>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace noctis {

/// Something declared, as it stands in a list: a step of a recipe, or an operation on the heights of a relief. type
/// is the id of its declaration.
struct Step {
    std::string id{};    ///< unique in its list; stays through moving, undo and saving
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

using Steps = std::vector<Step>;

inline constexpr std::size_t kMostSteps = 1000;

/// None if there is none.
const Step* findStep(const Steps& steps, std::string_view id) noexcept;
Step* findStep(Steps& steps, std::string_view id) noexcept;

/// An unused id: the type's, with a number if needed.
std::string freeStepId(const Steps& steps, const std::string& type);

/// Moves a step by so many places, as far as there are others.
void moveStep(Steps& steps, std::string_view id, int by);

void addFilesOf(const Steps& steps, std::vector<std::filesystem::path>& files);

}  // namespace noctis
