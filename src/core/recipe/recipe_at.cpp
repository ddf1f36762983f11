#include "core/recipe/recipe_at.h"

#include "core/settings/keys_json.h"
#include "core/settings/settings_builder.h"

#include <algorithm>
#include <set>

namespace noctis {

namespace {

struct Mix {
    float amount = 1.0F;
    bool on = true;
};

/// Brings settings to what their tracks say, by these parameters.
void bring(Settings& settings, const Tracks& tracks, const std::vector<Parameter>& parameters,
           const FrameTime& time) {
    for (const auto& [path, keys] : tracks.keys)
        changeAtPath(settings, path, [&](const Value&) {
            return valueAt(keys, time.number, movingParameter(parameters, path));
        });
    for (const auto& [path, flicker] : tracks.flicker)
        changeAtPath(settings, path, [&](const Value& value) {
            return flickering(value, flickerAt(flicker, time.seconds), flicker.amount,
                              movingParameter(parameters, path));
        });
}

Tracks withMix(const Tracks& tracks, bool ofMix) {
    const auto isOther = [ofMix](const auto& track) {
        return (track.first == "amount" || track.first == "on") != ofMix;
    };
    Tracks part = tracks;
    std::erase_if(part.keys, isOther);
    std::erase_if(part.flicker, isOther);
    return part;
}

void bring(Where& where, const Catalogue& catalogue, const FrameTime& time) {
    if (!where.tracks.empty() && where.kind == Where::Kind::Criterion)
        bring(where.settings, where.tracks, catalogue.criterion(where.name).parameters, time);
    where.tracks = {};
    for (Where& part : where.parts)
        bring(part, catalogue, time);
}

void bring(Step& step, const Catalogue& catalogue, const FrameTime& time) {
    bring(step.where, catalogue, time);
    if (step.tracks.empty() || !step.usable())
        return;
    Settings mix{{"amount", step.amount}, {"on", step.on}};
    bring(mix, withMix(step.tracks, true), mixParameters(), time);
    step.amount = mix.number("amount");
    step.on = mix.get<bool>("on");
    bring(step.settings, withMix(step.tracks, false), catalogue.type(step.type).parameters, time);
    step.tracks = {};
}

void bring(SceneLight& light, const Tracks& tracks, const FrameTime& time) {
    Settings settings{{"strength", light.strength}, {"colour", light.colour},
                      {"towards", light.towards},   {"position", light.position},
                      {"inner", light.inner},       {"outer", light.outer},
                      {"size", light.size}};
    bring(settings, tracks, lightParameters(), time);
    light.strength = settings.number("strength");
    light.colour = settings.get<LinearRgb>("colour");
    light.towards = settings.get<V3f>("towards");
    light.position = settings.get<V3f>("position");
    light.inner = settings.number("inner");
    light.outer = settings.number("outer");
    light.size = settings.number("size");
}

bool moves(const Where& where) {
    return !where.tracks.empty() ||
           std::ranges::any_of(where.parts, [](const Where& part) { return moves(part); });
}

/// Gives settings that were edited at a time their movement back.
/// now: as they are edited; then: as they were at that time; base: as they stand in the recipe.
void giveBack(Settings& now, const Settings& then, const Settings& base, Tracks& tracks, int frame,
              const std::vector<Parameter>& parameters) {
    std::set<std::string> paths;
    for (const auto& [path, keys] : tracks.keys)
        paths.insert(path);
    for (const auto& [path, flicker] : tracks.flicker)
        paths.insert(path);
    const auto valueIn = [](const Settings& settings, const std::string& path) {
        std::optional<Value> found;
        Settings copy = settings;
        changeAtPath(copy, path, [&](const Value& value) {
            found = value;
            return value;
        });
        return found;
    };
    for (const std::string& path : paths) {
        const std::optional<Value> edited = valueIn(now, path);
        const std::optional<Value> was = valueIn(base, path);
        if (!edited || !was)
            continue;
        const bool changed = valueIn(then, path) != edited;
        const auto keys = tracks.keys.find(path);
        if (changed && keys != tracks.keys.end() && !movingParameter(parameters, path).still)
            keyAt(keys->second, frame, *edited);
        // What only flickers takes what it is set to; what has keys keeps what stands beneath them.
        if (!changed || keys != tracks.keys.end())
            changeAtPath(now, path, [&](const Value&) { return *was; });
    }
}

void giveBack(Where& now, const Where& then, const Where& base, int frame,
              const Catalogue& catalogue) {
    if (now.kind != base.kind || now.name != base.name || now.parts.size() != base.parts.size())
        return;  // another Where
    now.tracks = base.tracks;
    if (now.kind == Where::Kind::Criterion && !now.tracks.empty())
        giveBack(now.settings, then.settings, base.settings, now.tracks, frame,
                 catalogue.criterion(now.name).parameters);
    for (std::size_t i = 0; i < now.parts.size(); ++i)
        giveBack(now.parts[i], then.parts[i], base.parts[i], frame, catalogue);
}

void giveBack(Step& now, const Step& then, const Step& base, int frame,
              const Catalogue& catalogue) {
    giveBack(now.where, then.where, base.where, frame, catalogue);
    if (base.tracks.empty() || now.type != base.type)
        return;
    const auto mixOf = [](const Step& step) {
        return Settings{{"amount", step.amount}, {"on", step.on}};
    };
    Settings mix = mixOf(now);
    Tracks ofMix = withMix(base.tracks, true);
    giveBack(mix, mixOf(then), mixOf(base), ofMix, frame, mixParameters());
    now.amount = mix.number("amount");
    now.on = mix.get<bool>("on");
    now.tracks = withMix(base.tracks, false);
    giveBack(now.settings, then.settings, base.settings, now.tracks, frame,
             catalogue.type(now.type).parameters);
    now.tracks.keys.merge(ofMix.keys);
    now.tracks.flicker.merge(ofMix.flicker);
}

void addKeyFrames(const Tracks& tracks, std::set<int>& frames) {
    for (const auto& [path, keys] : tracks.keys)
        for (const Key& key : keys)
            frames.insert(key.frame);
}

void addKeyFrames(const Where& where, std::set<int>& frames) {
    addKeyFrames(where.tracks, frames);
    for (const Where& part : where.parts)
        addKeyFrames(part, frames);
}

}  // namespace

const std::vector<Parameter>& mixParameters() {
    static const std::vector<Parameter> parameters = [] {
        SettingsBuilder<Mix> b;
        b.number(&Mix::amount, "amount", "Amount", Unit::Percent, {0.0F, 1.0F, 1.0F},
                 "How much of the step shows.")
            .toggle(&Mix::on, "on", "On", "Whether the step works.");
        return b.binding().parameters();
    }();
    return parameters;
}

const std::vector<Parameter>& lightParameters() {
    static const std::vector<Parameter> parameters = [] {
        using L = SceneLight;
        SettingsBuilder<L> b;
        b.number(&L::strength, "strength", "Strength", Unit::None, {0.0F, 1e6F, 10.0F},
                 "How bright it is.")
            .colour(&L::colour, "colour", "Colour", "Its colour.")
            .direction(&L::towards, "towards", "Towards", "From the scene to the light.")
            .position(&L::position, "position", "Position", "Where it is.")
            .number(&L::inner, "inner", "Inner", Unit::Degree, {0.0F, 90.0F, 60.0F},
                    "Within this angle of its axis a spot shines at full strength.")
            .number(&L::outer, "outer", "Outer", Unit::Degree, {0.0F, 90.0F, 60.0F},
                    "Beyond this angle a spot gives no light.")
            .number(&L::size, "size", "Size", Unit::Metre, {0.001F, 1e4F, 5.0F},
                    "The side of the square that shines.");
        return b.binding().parameters();
    }();
    return parameters;
}

bool moves(const Recipe& recipe) {
    return !recipe.lightTracks.empty() || std::ranges::any_of(recipe.steps, [](const Step& step) {
        return !step.tracks.empty() || moves(step.where);
    }) || std::ranges::any_of(recipe.wheres, [](const auto& named) { return moves(named.second); });
}

bool readsTime(const Recipe& recipe, const Catalogue& catalogue) {
    return std::ranges::any_of(catalogue.types(), [&](const StepType& type) {
        return type.readsTime && std::ranges::any_of(recipe.steps, [&](const Step& step) {
                   return step.on && step.type == type.id && type.readsTime(step.settings);
               });
    });
}

Recipe recipeAt(const Recipe& recipe, const Catalogue& catalogue, const FrameTime& time) {
    if (!moves(recipe))
        return recipe;
    Recipe now = recipe;
    for (Step& step : now.steps)
        bring(step, catalogue, time);
    for (auto& [name, where] : now.wheres)
        bring(where, catalogue, time);
    for (const auto& [name, tracks] : now.lightTracks)
        if (const auto light = now.lights.find(name); light != now.lights.end())
            bring(light->second, tracks, time);
    now.lightTracks.clear();
    return now;
}

Recipe editedAt(const Recipe& recipe, const Catalogue& catalogue, const FrameTime& time,
                const std::function<void(Recipe&)>& edit) {
    const Recipe then = recipeAt(recipe, catalogue, time);
    Recipe now = then;
    edit(now);
    if (!moves(recipe))
        return now;
    for (Step& step : now.steps) {
        const Step* base = recipe.find(step.id);
        const Step* was = then.find(step.id);
        if (base != nullptr && was != nullptr && step.usable())
            giveBack(step, *was, *base, time.number, catalogue);
    }
    for (auto& [name, where] : now.wheres)
        if (const auto base = recipe.wheres.find(name); base != recipe.wheres.end())
            giveBack(where, then.wheres.at(name), base->second, time.number, catalogue);
    // Lights are edited as they stand.
    now.lights = recipe.lights;
    now.lightTracks = recipe.lightTracks;
    return now;
}

std::optional<std::pair<int, int>> keyedFrames(const Recipe& recipe) {
    std::set<int> frames;
    for (const Step& step : recipe.steps) {
        addKeyFrames(step.tracks, frames);
        addKeyFrames(step.where, frames);
    }
    for (const auto& [name, where] : recipe.wheres)
        addKeyFrames(where, frames);
    for (const auto& [name, tracks] : recipe.lightTracks)
        addKeyFrames(tracks, frames);
    if (frames.empty())
        return std::nullopt;
    return std::pair(*frames.begin(), *frames.rbegin());
}

}  // namespace noctis
