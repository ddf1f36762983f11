#pragma once

#include "core/recipe/recipe.h"

#include <map>

namespace noctis {

/// What is amiss with the order of the steps that run, by their ids: a step that is followed by one of those it
/// declares it shouldn't be.
std::map<std::string, std::string> orderNotes(const Recipe& recipe, const Catalogue& catalogue);

/// Moves a step behind all others, out of its group.
void moveLast(Steps& steps, std::string_view id);

}  // namespace noctis
