#pragma once

#include "core/recipe/frame_context.h"
#include "core/recipe/recipe.h"

#include <string>
#include <vector>

namespace noctis {

/// What a track moves: a setting of a step, "amount" and "on" being its own, or of a criterion of its Where by the path
/// through its parts ("/1/0").
struct TrackPlace {
    std::string step;
    std::string setting;
    std::string criterion{};
    bool operator==(const TrackPlace&) const = default;
};

/// The tracks among which a place is; none if there is no such step or criterion that can be used.
const Tracks* tracksAt(const Recipe& recipe, const TrackPlace& place);
Tracks* tracksAt(Recipe& recipe, const TrackPlace& place);

/// What it moves.
/// Errors   Error(UnknownName, BadSetting) for a setting that is none or never moves.
const Parameter& movingParameter(const Recipe& recipe, const Catalogue& catalogue,
                                 const TrackPlace& place);

/// Everything of a step, with its Where, that has keys or flickers.
std::vector<TrackPlace> trackPlacesOf(const Step& step);

/// The frames at which a step, with its Where, has keys; by rising number.
std::vector<int> keyFramesOf(const Step& step);

/// The value of a setting at a time.
/// Errors   as movingParameter.
Value valueNow(const Recipe& recipe, const Catalogue& catalogue, const FrameTime& time,
               const TrackPlace& place);

/// Sets a key at a time, to the value there; takes it where there is one. With the last key goes the movement: the
/// value stays.
/// Errors   as movingParameter.
void toggleKey(Recipe& recipe, const Catalogue& catalogue, const FrameTime& time,
               const TrackPlace& place);

/// Keys in the place of those there are. None: the value at that time stays.
void setKeys(Recipe& recipe, const Catalogue& catalogue, const FrameTime& time,
             const TrackPlace& place, KeyList keys);

/// Flicker in the place of what there is; an amount of 0: none.
void setFlicker(Recipe& recipe, const TrackPlace& place, const Flicker& flicker);

/// Moves all keys of a step, with its Where, that are at a frame to another, where they replace others; copies: they
/// stay, too.
void moveKeys(Step& step, int from, int to, bool copies);

}  // namespace noctis
