#include "core/project/handles.h"

#include "core/image/error.h"
#include "core/recipe/key_edits.h"
#include "core/recipe/recipe_at.h"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

namespace noctis {

namespace {

// The owner is the step's id, and for a criterion of its Where that, this mark and the path through the
// parts: "fog#/1/0".
constexpr char kWhere = '#';

/// m; a light on its highlight's surface would not show there.
constexpr float kNearestLamp = 0.05F;

void addWhere(const Where& where, const StepTypes& types, const Step& step,
              const std::string& owner, std::vector<HandleGroup>& groups) {
    if (where.kind == Where::Kind::Criterion) {
        const CriterionType& type = types.criteria.criterion(where.name);
        if (!type.handles.empty() || type.hasLane())
            groups.push_back({owner, fmt::format("{}, where", titleOf(step, types)),
                              type.hasLane() ? &type.lane : nullptr, &type.handles, where.settings,
                              step.on});
    }
    for (std::size_t i = 0; i < where.parts.size(); ++i)
        addWhere(where.parts[i], types, step, fmt::format("{}/{}", owner, i), groups);
}

}  // namespace

std::vector<const Handle*> HandleGroup::shown(HandleKind kind) const {
    std::vector<const Handle*> found;
    if (handles != nullptr)
        for (const Handle& handle : *handles)
            if (handle.kind == kind && (!handle.shown || handle.shown(settings)))
                found.push_back(&handle);
    return found;
}

std::vector<HandleValue> HandleGroup::course(const Handle& handle) const {
    std::vector<HandleValue> places;
    for (const Settings& then : overTime)
        places.push_back(handle.at(then, frame));
    const auto isFirst = [&](const HandleValue& place) { return place == places.front(); };
    return std::ranges::all_of(places, isFirst) ? std::vector<HandleValue>() : places;
}

const Handle& HandleGroup::handle(std::string_view id) const {
    if (handles != nullptr)
        for (const Handle& handle : *handles)
            if (handle.id == id)
                return handle;
    throw Error(ErrorCode::UnknownName, fmt::format("{} has no handle {}", owner, id));
}

std::vector<HandleGroup> handleGroups(const Steps& steps, const StepTypes& types,
                                      const ShownFrame& frame) {
    std::vector<HandleGroup> groups;
    for (const Step& step : steps) {
        if (!step.usable())
            continue;
        const Declaration& type = types.type(step.type);
        if (!type.handles.empty() || type.hasLane())
            groups.push_back({step.id, titleOf(step, types), type.hasLane() ? &type.lane : nullptr,
                              &type.handles, step.settings, step.on});
        addWhere(step.where, types, step, step.id + kWhere, groups);
    }
    for (HandleGroup& group : groups)
        group.frame = frame;
    return groups;
}

void addCourses(std::vector<HandleGroup>& groups, const Recipe& recipe, const Catalogue& catalogue,
                const std::string& step, const std::vector<FrameTime>& times) {
    const Step* moving = recipe.find(step);
    if (moving == nullptr || trackPlacesOf(*moving).empty())
        return;
    Recipe alone;
    alone.steps = {*moving};
    alone.steps.front().group.clear();
    alone.wheres = recipe.wheres;
    for (const FrameTime& time : times) {
        const Recipe then = recipeAt(alone, catalogue, time);
        for (const HandleGroup& at : handleGroups(then.steps, catalogue))
            for (HandleGroup& group : groups)
                if (group.owner == at.owner)
                    group.overTime.push_back(at.settings);
    }
}

std::string stepOfOwner(const std::string& owner) { return owner.substr(0, owner.rfind(kWhere)); }

std::string ownerOfCriterion(const std::string& step, const std::string& path) {
    return fmt::format("{}{}{}", step, kWhere, path);
}

const Where* criterionOf(const Steps& steps, const std::string& owner) {
    const auto mark = owner.rfind(kWhere);
    const Step* step = findStep(steps, stepOfOwner(owner));
    return mark == std::string::npos || step == nullptr
               ? nullptr
               : criterionAt(step->where, std::string_view(owner).substr(mark + 1));
}

Where* criterionOf(Steps& steps, const std::string& owner) {
    return const_cast<Where*>(criterionOf(std::as_const(steps), owner));
}

void moveHandle(Steps& steps, const StepTypes& types, const std::string& owner,
                const std::string& handle, const HandleValue& to, const ShownFrame& frame) {
    Step* step = findStep(steps, stepOfOwner(owner));
    if (step == nullptr || !step->usable())
        return;
    Settings* settings = &step->settings;
    const std::vector<Handle>* handles = &types.type(step->type).handles;
    if (owner.rfind(kWhere) != std::string::npos) {
        Where* part = criterionOf(steps, owner);
        if (part == nullptr)
            return;
        settings = &part->settings;
        handles = &types.criteria.criterion(part->name).handles;
    }
    for (const Handle& each : *handles)
        if (each.id == handle)
            each.moveTo(*settings, to, frame);
}

bool placeHighlight(Steps& steps, const StepTypes& types, const std::string& step,
                    const V3f& surface, const V3f& towardsLight, const ShownFrame& frame) {
    Step* lit = findStep(steps, step);
    if (lit == nullptr || !lit->usable())
        return false;
    bool placed = false;
    for (const Handle& handle : types.type(lit->type).handles) {
        if (!handle.highlights || (handle.shown && !handle.shown(lit->settings)))
            continue;
        placed = true;
        if (handle.kind == HandleKind::Direction) {
            handle.moveTo(lit->settings, towardsLight, frame);
            continue;
        }
        const V3f lamp = std::get<V3f>(handle.at(lit->settings, frame));
        const float away = std::max((lamp - surface).length(), kNearestLamp);
        handle.moveTo(lit->settings, V3f(surface + towardsLight * away), frame);
    }
    return placed;
}

}  // namespace noctis
