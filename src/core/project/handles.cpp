#include "core/project/handles.h"

#include "core/image/error.h"

#include <algorithm>
#include <charconv>
#include <utility>

#include <fmt/format.h>

namespace noctis {

namespace {

// The owner is the step's id, and for a criterion of its Where that, this mark and the way through the
// parts: "fog#/1/0".
constexpr char kWhere = '#';

/// m; a light on its highlight's surface would not show there.
constexpr float kNearestLamp = 0.05F;

void addWhere(const Where& where, const Catalogue& catalogue, const Step& step,
              const std::string& owner, std::vector<HandleGroup>& groups) {
    if (where.kind == Where::Kind::Criterion) {
        const CriterionType& type = catalogue.criterion(where.name);
        if (!type.handles.empty() || type.hasLane())
            groups.push_back({owner, fmt::format("{}, where", titleOf(step, catalogue)),
                              type.hasLane() ? &type.lane : nullptr, &type.handles, where.settings,
                              step.on});
    }
    for (std::size_t i = 0; i < where.parts.size(); ++i)
        addWhere(where.parts[i], catalogue, step, fmt::format("{}/{}", owner, i), groups);
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

const Handle& HandleGroup::handle(std::string_view id) const {
    if (handles != nullptr)
        for (const Handle& handle : *handles)
            if (handle.id == id)
                return handle;
    throw Error(ErrorCode::UnknownName, fmt::format("{} has no handle {}", owner, id));
}

std::vector<HandleGroup> handleGroups(const Recipe& recipe, const Catalogue& catalogue,
                                      const ShownFrame& frame) {
    std::vector<HandleGroup> groups;
    for (const Step& step : recipe.steps) {
        if (!step.usable())
            continue;
        const StepType& type = catalogue.type(step.type);
        if (!type.handles.empty() || type.hasLane())
            groups.push_back({step.id, titleOf(step, catalogue),
                              type.hasLane() ? &type.lane : nullptr, &type.handles, step.settings,
                              step.on});
        addWhere(step.where, catalogue, step, step.id + kWhere, groups);
    }
    for (HandleGroup& group : groups)
        group.frame = frame;
    return groups;
}

std::string stepOfOwner(const std::string& owner) { return owner.substr(0, owner.rfind(kWhere)); }

std::string ownerOfCriterion(const std::string& step, const std::string& way) {
    return fmt::format("{}{}{}", step, kWhere, way);
}

const Where* criterionAt(const Where& where, std::string_view way) {
    const Where* at = &where;
    while (!way.empty()) {
        std::size_t index = 0;
        const char* end = way.data() + way.size();
        const auto [rest, error] = std::from_chars(way.data() + 1, end, index);
        if (error != std::errc() || index >= at->parts.size())
            return nullptr;
        at = &at->parts[index];
        way = std::string_view(rest, static_cast<std::size_t>(end - rest));
    }
    return at->kind == Where::Kind::Criterion ? at : nullptr;
}

Where* criterionAt(Where& where, std::string_view way) {
    return const_cast<Where*>(criterionAt(std::as_const(where), way));
}

const Where* criterionOf(const Recipe& recipe, const std::string& owner) {
    const auto mark = owner.rfind(kWhere);
    const Step* step = recipe.find(stepOfOwner(owner));
    return mark == std::string::npos || step == nullptr
               ? nullptr
               : criterionAt(step->where, std::string_view(owner).substr(mark + 1));
}

Where* criterionOf(Recipe& recipe, const std::string& owner) {
    return const_cast<Where*>(criterionOf(std::as_const(recipe), owner));
}

void moveHandle(Recipe& recipe, const Catalogue& catalogue, const std::string& owner,
                const std::string& handle, const HandleValue& to, const ShownFrame& frame) {
    Step* step = recipe.find(stepOfOwner(owner));
    if (step == nullptr || !step->usable())
        return;
    Settings* settings = &step->settings;
    const std::vector<Handle>* handles = &catalogue.type(step->type).handles;
    if (owner.rfind(kWhere) != std::string::npos) {
        Where* part = criterionOf(recipe, owner);
        if (part == nullptr)
            return;
        settings = &part->settings;
        handles = &catalogue.criterion(part->name).handles;
    }
    for (const Handle& each : *handles)
        if (each.id == handle)
            each.moveTo(*settings, to, frame);
}

bool placeHighlight(Recipe& recipe, const Catalogue& catalogue, const std::string& step,
                    const V3f& surface, const V3f& towardsLight, const ShownFrame& frame) {
    Step* lit = recipe.find(step);
    if (lit == nullptr || !lit->usable())
        return false;
    bool placed = false;
    for (const Handle& handle : catalogue.type(lit->type).handles) {
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
