#include "core/recipe/key_edits.h"

#include "core/recipe/recipe_at.h"
#include "core/settings/keys_json.h"

#include <algorithm>
#include <functional>
#include <set>
#include <utility>

#include <fmt/format.h>

namespace noctis {

namespace {

bool isOfMix(const TrackPlace& place) {
    return place.criterion.empty() && (place.setting == "amount" || place.setting == "on");
}

const Where* criterionOf(const Recipe& recipe, const TrackPlace& place) {
    const Step* step = recipe.find(place.step);
    return step == nullptr ? nullptr : criterionAt(step->where, place.criterion);
}

/// Changes the setting as it stands.
void changeAt(Recipe& recipe, const TrackPlace& place,
              const std::function<Value(const Value&)>& change) {
    Step* step = recipe.find(place.step);
    if (step == nullptr)
        return;
    if (!place.criterion.empty()) {
        if (Where* criterion = criterionAt(step->where, place.criterion))
            changeAtPath(criterion->settings, place.setting, change);
    } else if (isOfMix(place)) {
        Settings mix{{"amount", step->amount}, {"on", step->on}};
        changeAtPath(mix, place.setting, change);
        step->amount = mix.number("amount");
        step->on = mix.get<bool>("on");
    } else {
        changeAtPath(step->settings, place.setting, change);
    }
}

void addPlaces(const Tracks& tracks, const std::string& step, const std::string& criterion,
               std::vector<TrackPlace>& places) {
    std::set<std::string> settings;
    for (const auto& [setting, keys] : tracks.keys)
        settings.insert(setting);
    for (const auto& [setting, flicker] : tracks.flicker)
        settings.insert(setting);
    for (const std::string& setting : settings)
        places.push_back({step, setting, criterion});
}

/// Calls f with each Where's tracks and the path to it.
template <typename Part, typename F> void eachPart(Part& where, const std::string& path, F& f) {
    f(where.tracks, path);
    for (std::size_t i = 0; i < where.parts.size(); ++i)
        eachPart(where.parts[i], fmt::format("{}/{}", path, i), f);
}

}  // namespace

const Tracks* tracksAt(const Recipe& recipe, const TrackPlace& place) {
    const Step* step = recipe.find(place.step);
    if (step == nullptr || !step->usable())
        return nullptr;
    if (place.criterion.empty())
        return &step->tracks;
    const Where* criterion = criterionOf(recipe, place);
    return criterion == nullptr ? nullptr : &criterion->tracks;
}

Tracks* tracksAt(Recipe& recipe, const TrackPlace& place) {
    return const_cast<Tracks*>(tracksAt(std::as_const(recipe), place));
}

const Parameter& movingParameter(const Recipe& recipe, const Catalogue& catalogue,
                                 const TrackPlace& place) {
    if (isOfMix(place))
        return movingParameter(mixParameters(), place.setting);
    if (!place.criterion.empty()) {
        const Where* criterion = criterionOf(recipe, place);
        static const std::vector<Parameter> none;
        return movingParameter(
            criterion == nullptr ? none : catalogue.criterion(criterion->name).parameters,
            place.setting);
    }
    const Step* step = recipe.find(place.step);
    static const std::vector<Parameter> none;
    return movingParameter(step == nullptr ? none : catalogue.type(step->type).parameters,
                           place.setting);
}

std::vector<TrackPlace> trackPlacesOf(const Step& step) {
    std::vector<TrackPlace> places;
    addPlaces(step.tracks, step.id, {}, places);
    const auto add = [&](const Tracks& tracks, const std::string& path) {
        // A Where that is a criterion itself has an empty path, which here names the step.
        if (!tracks.empty())
            addPlaces(tracks, step.id, path.empty() ? "/" : path, places);
    };
    eachPart(step.where, {}, add);
    return places;
}

std::vector<int> keyFramesOf(const Step& step) {
    std::set<int> frames;
    const auto add = [&](const Tracks& tracks, const std::string&) {
        for (const auto& [setting, keys] : tracks.keys)
            for (const Key& key : keys)
                frames.insert(key.frame);
    };
    add(step.tracks, {});
    eachPart(step.where, {}, add);
    return {frames.begin(), frames.end()};
}

Value valueNow(const Recipe& recipe, const Catalogue& catalogue, const FrameTime& time,
               const TrackPlace& place) {
    Value found = movingParameter(recipe, catalogue, place).initial;
    Recipe now = recipeAt(recipe, catalogue, time);
    changeAt(now, place, [&](const Value& here) { return found = here; });
    return found;
}

void toggleKey(Recipe& recipe, const Catalogue& catalogue, const FrameTime& time,
               const TrackPlace& place) {
    const Tracks* tracks = tracksAt(std::as_const(recipe), place);
    if (tracks == nullptr)
        return;
    const Value value = valueNow(recipe, catalogue, time, place);
    const auto found = tracks->keys.find(place.setting);
    KeyList keys = found == tracks->keys.end() ? KeyList() : found->second;
    if (std::erase_if(keys, [&](const Key& key) { return key.frame == time.number; }) == 0)
        keyAt(keys, time.number, value);
    setKeys(recipe, catalogue, time, place, std::move(keys));
}

void setKeys(Recipe& recipe, const Catalogue& catalogue, const FrameTime& time,
             const TrackPlace& place, KeyList keys) {
    Tracks* tracks = tracksAt(recipe, place);
    if (tracks == nullptr)
        return;
    if (!keys.empty()) {
        tracks->keys[place.setting] = std::move(keys);
        return;
    }
    // What flickers stands at the value under the flicker.
    const auto former = tracks->keys.find(place.setting);
    if (former == tracks->keys.end())
        return;
    const Value value =
        valueAt(former->second, time.number, movingParameter(recipe, catalogue, place));
    tracks->keys.erase(former);
    changeAt(recipe, place, [&](const Value&) { return value; });
}

void setFlicker(Recipe& recipe, const TrackPlace& place, const Flicker& flicker) {
    Tracks* tracks = tracksAt(recipe, place);
    if (tracks == nullptr)
        return;
    if (flicker.amount > 0.0F)
        tracks->flicker[place.setting] = flicker;
    else
        tracks->flicker.erase(place.setting);
}

void moveKeys(Step& step, int from, int to, bool copies) {
    const auto move = [&](Tracks& tracks, const std::string&) {
        for (auto& [setting, keys] : tracks.keys)
            keys = rearranged(
                keys, {from}, [to](int) { return to; }, copies);
    };
    move(step.tracks, {});
    eachPart(step.where, {}, move);
}

}  // namespace noctis
