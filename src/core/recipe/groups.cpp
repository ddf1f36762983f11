#include "core/recipe/groups.h"

#include "core/image/error.h"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

namespace noctis {

namespace {

using Place = std::ptrdiff_t;

Place placeOf(const Steps& steps, std::string_view id) {
    const Step* step = findStep(steps, id);
    return step == nullptr ? -1 : step - steps.data();
}

/// One behind the last member of the group there; one behind the step there that is none.
Place endOf(const Steps& steps, Place at) {
    Place end = at + 1;
    if (steps[static_cast<std::size_t>(at)].type == kGroup)
        while (end < std::ssize(steps) &&
               steps[static_cast<std::size_t>(end)].group == steps[static_cast<std::size_t>(at)].id)
            ++end;
    return end;
}

void removeEmpty(Steps& steps, const std::string& group) {
    const bool empty = std::none_of(steps.begin(), steps.end(),
                                    [&](const Step& step) { return step.group == group; });
    if (empty)
        std::erase_if(steps, [&](const Step& step) { return step.id == group; });
}

/// Steps from one place to another, in front of the step that is there.
void move(Steps& steps, Place first, Place end, Place to) {
    const auto begin = steps.begin();
    if (to >= end)
        std::rotate(begin + first, begin + end, begin + to);
    else
        std::rotate(begin + to, begin + first, begin + end);
}

/// Makes the member there a step of its own, before or behind its group.
void leave(Steps& steps, Place at, int way) {
    const std::string group = std::exchange(steps[static_cast<std::size_t>(at)].group, {});
    // Behind the last member it already stands right.
    if (way < 0)
        move(steps, at, at + 1, placeOf(steps, group));
    removeEmpty(steps, group);
}

Step newGroup(const Steps& steps, const std::string& name) {
    Step group;
    group.type = kGroup;
    group.id = freeStepId(steps, kGroup);
    group.name = name;
    return group;
}

template <typename Map, typename Rename> void addNamed(Map& to, Map from, const Rename& renamed) {
    for (auto& [name, value] : from) {
        std::string free = name;
        for (int i = 2; to.contains(free) && !(to.at(free) == value); ++i)
            free = fmt::format("{} {}", name, i);
        if (free != name)
            renamed(name, free);
        to[free] = std::move(value);
    }
}

void renameSame(Where& where, const std::string& from, const std::string& to) {
    if (where.kind == Where::Kind::SameAs && where.name == from)
        where.name = to;
    for (Where& part : where.parts)
        renameSame(part, from, to);
}

void renameLight(Step& step, const Declaration& type, const std::string& from,
                 const std::string& to) {
    for (const Parameter& parameter : type.parameters)
        if (parameter.use == TextUse::Lights &&
            step.settings.get<std::string>(parameter.id) == from)
            step.settings.set(parameter.id, to);
}

}  // namespace

StepType groupType() {
    StepType type;
    type.id = kGroup;
    type.label = "Group";
    type.help = "Switches, mixes and limits the steps in it together.";
    type.point = [](const Settings&, const WorkingFrame&, const RunContext&) -> PointFunction {
        return [](const PointRow&) {};
    };
    return type;
}

Phase phaseOf(const Step& step, const Steps& steps, const Catalogue& catalogue) {
    const std::string& group = step.type == kGroup ? step.id : step.group;
    if (!group.empty())
        for (const Step& member : steps)
            if (member.group == group && member.usable())
                return catalogue.type(member.type).phase;
    return step.usable() && step.type != kGroup ? catalogue.type(step.type).phase : Phase::Finish;
}

std::string groupStep(Steps& steps, std::string_view id, const std::string& name) {
    const Place at = placeOf(steps, id);
    if (at < 0 || steps[static_cast<std::size_t>(at)].type == kGroup)
        return {};
    const Step group = newGroup(steps, name);
    steps[static_cast<std::size_t>(at)].group = group.id;
    steps.insert(steps.begin() + at, group);
    return group.id;
}

std::string groupPhase(Steps& steps, Phase phase, const std::string& name,
                       const Catalogue& catalogue) {
    Step group = newGroup(steps, name);
    Steps members;
    Steps others;
    std::size_t first = steps.size();
    for (Step& step : steps) {
        const bool its = step.type != kGroup && step.group.empty() && step.usable() &&
                         phaseOf(step, steps, catalogue) == phase;
        if (its)
            first = std::min(first, others.size());
        (its ? members : others).push_back(step);
    }
    if (members.empty())
        return {};
    for (Step& step : members)
        step.group = group.id;
    members.insert(members.begin(), group);
    others.insert(others.begin() + static_cast<Place>(first), members.begin(), members.end());
    steps = std::move(others);
    return group.id;
}

void ungroup(Steps& steps, std::string_view group) {
    for (Step& step : steps)
        if (step.group == group)
            step.group.clear();
    std::erase_if(steps, [&](const Step& step) { return step.id == group; });
}

void takeOut(Steps& steps, std::string_view id) {
    const Place at = placeOf(steps, id);
    if (at < 0 || steps[static_cast<std::size_t>(at)].group.empty())
        return;
    const Place group = placeOf(steps, steps[static_cast<std::size_t>(at)].group);
    const Place end = endOf(steps, group);
    move(steps, at, at + 1, end);
    leave(steps, end - 1, 1);
}

bool moveInPhase(Steps& steps, std::string_view id, int way, const Catalogue& catalogue) {
    const Place at = placeOf(steps, id);
    if (at < 0)
        return false;
    const auto step = [&](Place place) -> Step& { return steps[static_cast<std::size_t>(place)]; };
    const std::string group = step(at).group;
    if (!group.empty()) {
        const Place next = at + way;
        const bool sibling = next >= 0 && next < std::ssize(steps) && step(next).group == group;
        if (sibling)
            std::swap(step(at), step(next));
        else
            leave(steps, at, way);
        return true;
    }
    const Phase phase = phaseOf(step(at), steps, catalogue);
    const Place end = endOf(steps, at);
    const bool ofOne = step(at).type != kGroup;
    for (Place next = way < 0 ? at - 1 : end; next >= 0 && next < std::ssize(steps); next += way) {
        if (phaseOf(step(next), steps, catalogue) != phase)
            continue;
        // Up, this is a group's last member; down, the group itself.
        const std::string entered = step(next).type == kGroup ? step(next).id : step(next).group;
        if (entered.empty()) {
            move(steps, at, end, way < 0 ? next : next + 1);
            return true;
        }
        const Place header = placeOf(steps, entered);
        if (!ofOne) {
            move(steps, at, end, way < 0 ? header : endOf(steps, header));
            return true;
        }
        step(at).group = entered;
        move(steps, at, end, way < 0 ? next + 1 : header + 1);
        return true;
    }
    return false;
}

void settleGroups(Steps& steps, const Catalogue& catalogue) {
    Steps settled;
    const Steps all = steps;
    for (const Step& step : all) {
        if (step.type != kGroup) {
            if (step.group.empty() || findStep(all, step.group) == nullptr) {
                settled.push_back(step);
                settled.back().group.clear();
            }
            continue;
        }
        Steps members;
        for (const Step& member : all)
            if (member.group == step.id)
                members.push_back(member);
        // What can't be used stays with the first.
        std::optional<Phase> whole;
        for (const Step& member : members)
            if (member.usable() && !whole)
                whole = catalogue.type(member.type).phase;
        for (const Phase phase : {Phase::Light, Phase::Air, Phase::Lens, Phase::Finish}) {
            const auto its = [&](const Step& member) {
                return (member.usable() ? catalogue.type(member.type).phase
                                        : whole.value_or(Phase::Finish)) == phase;
            };
            if (std::none_of(members.begin(), members.end(), its))
                continue;
            Step group = step;
            const bool first = phase == whole.value_or(phase);
            if (!first) {
                Steps taken = all;
                taken.insert(taken.end(), settled.begin(), settled.end());
                group.id = freeStepId(taken, kGroup);
            }
            settled.push_back(group);
            for (const Step& member : members)
                if (its(member)) {
                    settled.push_back(member);
                    settled.back().group = group.id;
                }
        }
    }
    steps = std::move(settled);
}

void addAsGroups(Recipe& recipe, Recipe look, const std::string& name, const Catalogue& catalogue) {
    const auto forAll = [&](const auto& work) {
        for (Step& step : look.steps)
            work(step);
    };
    const NamedWheres wheres = std::exchange(look.wheres, {});
    addNamed(recipe.wheres, wheres, [&](const std::string& from, const std::string& to) {
        forAll([&](Step& step) { renameSame(step.where, from, to); });
    });
    addNamed(recipe.lights, std::exchange(look.lights, {}),
             [&](const std::string& from, const std::string& to) {
                 forAll([&](Step& step) {
                     if (step.usable())
                         renameLight(step, catalogue.type(step.type), from, to);
                 });
             });
    // A group holds no groups: those of the look stay beside those that are made here.
    for (const Phase phase : {Phase::Light, Phase::Air, Phase::Lens, Phase::Finish})
        (void)groupPhase(look.steps, phase, name, catalogue);
    if (recipe.steps.size() + look.steps.size() > kMostSteps)
        throw Error(ErrorCode::TooLarge, fmt::format("a recipe has at most {} steps", kMostSteps));
    for (const Step& step : look.steps) {
        Step added = step;
        added.id = freeStepId(recipe.steps, step.type);
        if (added.type == kGroup) {
            if (added.name == name)
                added.amount *= look.amount;
            forAll([&](Step& member) {
                if (member.group == step.id)
                    member.group = added.id;
            });
        }
        recipe.steps.push_back(std::move(added));
    }
}

}  // namespace noctis
