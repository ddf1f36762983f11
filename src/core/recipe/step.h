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
    std::string group{};  ///< id of the group it is a member of; empty: none
    bool on = true;
    float amount = 1.0F;  ///< 0..1
    Blend blend = Blend::Normal;
    Settings settings;
    Where where{};
    Tracks tracks{};  ///< of its settings, and of "amount" and "on"
    /// An unusable step of a newer or damaged file, as JSON: it never runs and is saved unchanged.
    std::shared_ptr<const std::string> kept{};
    std::string problem{};  ///< why it can't be used

    [[nodiscard]] bool usable() const noexcept { return kept == nullptr; }
    bool operator==(const Step&) const;
};

/// Whether a step's result stands as it is, where it works.
inline bool replacesAll(const Step& step) noexcept {
    return step.blend == Blend::Normal && step.amount == 1.0F;
}

using Steps = std::vector<Step>;

/// The type of a step that stands for the members after it: it switches, mixes and limits their common result. A
/// group has at least one member, all of one phase, right after it.
inline constexpr const char* kGroup = "group";

inline constexpr std::size_t kMostSteps = 1000;

/// None if there is none.
const Step* findStep(const Steps& steps, std::string_view id) noexcept;
Step* findStep(Steps& steps, std::string_view id) noexcept;

/// An unused id: the type's, with a number if needed.
std::string freeStepId(const Steps& steps, const std::string& type);

/// Moves a step by so many places, as far as there are others.
void moveStep(Steps& steps, std::string_view id, int by);

/// A copy right after a step; of a group, with copies of its members. title: of the copy.
/// Returns  its id; empty if there is no such step.
std::string duplicateStep(Steps& steps, std::string_view id, const std::string& title);

/// Removes a step; a group with its members, and a group whose last member it is.
void removeStep(Steps& steps, std::string_view id);

void addFilesOf(const Steps& steps, std::vector<std::filesystem::path>& files);

}  // namespace noctis
