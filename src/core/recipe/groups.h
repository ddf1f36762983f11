#pragma once

#include "core/recipe/recipe.h"

#include <string>
#include <string_view>

namespace noctis {

/// Groups have no settings: just what every step has.
StepType groupType();

/// The phase of a step, or of a group's members; the last for one that can't be used.
Phase phaseOf(const Step& step, const Steps& steps, const Catalogue& catalogue);

/// Puts a step into a new group of that name. Returns the group's id.
std::string groupStep(Steps& steps, std::string_view id, const std::string& name);

/// Puts all steps of a phase that are in no group into a new one. Returns its id; empty where there are none.
std::string groupPhase(Steps& steps, Phase phase, const std::string& name,
                       const Catalogue& catalogue);

/// Removes a group and leaves its members where they are.
void ungroup(Steps& steps, std::string_view group);

/// Takes a step out of its group, to stand behind it.
void takeOut(Steps& steps, std::string_view step);

/// Moves a step or a group past its neighbour of the same phase, up (-1) or down (1). A step enters a group as its
/// last or first member, and leaves it at its end.
/// Returns  whether there was one.
bool moveInPhase(Steps& steps, std::string_view id, int way, const Catalogue& catalogue);

/// Makes a group per phase of each whose members have several, and puts members right after their group.
void settleGroups(Steps& steps, const Catalogue& catalogue);

/// A recipe added to another: its steps as a group per phase of that name, its Wheres and lights beside those there
/// are, under free names.
/// Errors   Error(TooLarge) for more than kMostSteps.
void addAsGroups(Recipe& recipe, Recipe look, const std::string& name, const Catalogue& catalogue);

}  // namespace noctis
