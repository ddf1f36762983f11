#pragma once

#include "core/recipe/frame_context.h"
#include "core/recipe/recipe.h"

#include <functional>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace noctis {

/// The parameters of a step's own amount and whether it is on, as keys move them.
const std::vector<Parameter>& mixParameters();
/// Those of a light.
const std::vector<Parameter>& lightParameters();

/// Whether anything of it moves in time by keys or flicker.
bool moves(const Recipe& recipe);
/// Whether a step that is on makes another picture at another time by itself: sparks, drifting fog, grain.
bool readsTime(const Recipe& recipe, const Catalogue& catalogue);

/// The recipe as it is at a time, without keys and flicker: what an evaluator runs. A setting with keys has their
/// value; flicker works on top.
/// Exact    the recipe itself where nothing moves.
Recipe recipeAt(const Recipe& recipe, const Catalogue& catalogue, const FrameTime& time);

/// A recipe edited as it is at a time: what the edit changes of a setting with keys becomes a key at that frame, with
/// the ease of the key before it; all else changes as it stands. Keys themselves aren't edited so.
Recipe editedAt(const Recipe& recipe, const Catalogue& catalogue, const FrameTime& time,
                const std::function<void(Recipe&)>& edit);

/// The first and the last frame that has a key; none where there are none.
std::optional<std::pair<int, int>> keyedFrames(const Recipe& recipe);

}  // namespace noctis
