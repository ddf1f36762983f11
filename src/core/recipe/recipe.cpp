#include "core/recipe/recipe.h"

#include "core/image/error.h"
#include "core/recipe/groups.h"
#include "core/settings/value_type.h"

#include <algorithm>
#include <utility>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

namespace {

template <typename Type>
const Type& named(const std::vector<Type>& types, std::string_view id, const char* what) {
    const auto found =
        std::find_if(types.begin(), types.end(), [&](const Type& t) { return t.id == id; });
    if (found != types.end())
        return *found;
    std::vector<std::string> ids;
    for (const Type& type : types)
        ids.push_back(type.id);
    throw Error(ErrorCode::UnknownName,
                fmt::format("there is no {} {}; there are {}", what, id, fmt::join(ids, ", ")));
}

bool sameText(const std::shared_ptr<const std::string>& a,
              const std::shared_ptr<const std::string>& b) {
    return a == b || (a && b && *a == *b);
}

void collectNeeds(const Where& where, const Catalogue& catalogue, std::vector<PassNeed>& needs) {
    if (where.kind == Where::Kind::Criterion) {
        const CriterionType& type = catalogue.criterion(where.name);
        if (type.reads)
            for (PassNeed& need : type.reads(where.settings))
                needs.push_back(std::move(need));
    }
    for (const Where& part : where.parts)
        collectNeeds(part, catalogue, needs);
}

}  // namespace

bool Recipe::operator==(const Recipe& other) const {
    return steps == other.steps && wheres == other.wheres && lights == other.lights &&
           lightTracks == other.lightTracks && amount == other.amount &&
           sameText(unknown, other.unknown);
}

const StepType& Catalogue::type(std::string_view id) const {
    static const StepType group = groupType();
    return id == kGroup ? group : named(m_types, id, "step");
}

const CriterionType& Catalogue::criterion(std::string_view id) const {
    return named(m_criteria, id, "criterion");
}

Step Catalogue::newStep(std::string_view id, const Recipe& recipe) const {
    Step step;
    step.type = id;
    step.id = freeStepId(recipe.steps, step.type);
    const StepType& kind = type(id);
    step.settings = initialSettings(kind.parameters);
    if (const std::string title = freeTitle(recipe.steps, *this, kind.label); title != kind.label)
        step.name = title;
    return step;
}

Where Catalogue::newCriterion(std::string_view id) const {
    Where where;
    where.kind = Where::Kind::Criterion;
    where.name = id;
    where.settings = initialSettings(criterion(id).parameters);
    return where;
}

Step Catalogue::newStep(std::string_view id, const Recipe& recipe,
                        const Surroundings& around) const {
    Step step = newStep(id, recipe);
    if (const auto& suit = type(id).suit)
        suit(step.settings, around);
    return step;
}

Where Catalogue::newCriterion(std::string_view id, const Surroundings& around) const {
    Where where = newCriterion(id);
    if (const auto& suit = criterion(id).suit)
        suit(where.settings, around);
    return where;
}

std::vector<std::size_t> Catalogue::runningOrder(const Recipe& recipe) const {
    std::vector<std::size_t> order;
    const auto runs = [](const Step& step) { return step.on && step.amount > 0.0F; };
    const Step* group = nullptr;
    for (std::size_t i = 0; i < recipe.steps.size(); ++i) {
        const Step& step = recipe.steps[i];
        if (step.type == kGroup)
            group = &step;
        else if (runs(step) && step.usable() &&
                 (step.group.empty() || group == nullptr || runs(*group)))
            order.push_back(i);
    }
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        return type(recipe.steps[a].type).phase < type(recipe.steps[b].type).phase;
    });
    return order;
}

std::string titleOf(const Step& step, const StepTypes& types) {
    if (!step.name.empty())
        return step.name;
    return step.usable() ? types.type(step.type).label : step.type;
}

std::string freeTitle(const Steps& steps, const StepTypes& types, const std::string& wanted) {
    const auto taken = [&](const std::string& title) {
        return std::any_of(steps.begin(), steps.end(),
                           [&](const Step& step) { return titleOf(step, types) == title; });
    };
    std::string base = wanted;
    const auto digits = base.find_last_not_of("0123456789");
    if (digits != std::string::npos && digits + 1 < base.size() && base[digits] == ' ')
        base.resize(digits);
    std::string title = wanted;
    for (int i = 2; taken(title); ++i)
        title = fmt::format("{} {}", base, i);
    return title;
}

std::vector<std::filesystem::path> filesOf(const Recipe& recipe) {
    std::vector<std::filesystem::path> files;
    addFilesOf(recipe.steps, files);
    for (const auto& [name, where] : recipe.wheres)
        addFilesOf(where, files);
    return files;
}

std::vector<PassNeed> needsOf(const Where& plain, const Catalogue& catalogue) {
    std::vector<PassNeed> needs;
    collectNeeds(plain, catalogue, needs);
    return needs;
}

std::string summaryOf(const Where& where, const Catalogue& catalogue, const ShownFrame& frame) {
    switch (where.kind) {
    case Where::Kind::SameAs:
        return where.name;
    case Where::Kind::Unknown:
        return "unknown";
    case Where::Kind::Not:
        return where.parts.empty() ? ""
                                   : "all but " + summaryOf(where.parts.front(), catalogue, frame);
    case Where::Kind::Criterion: {
        const CriterionType& type = catalogue.criterion(where.name);
        return type.summary ? type.summary(where.settings, frame) : type.label;
    }
    case Where::Kind::All:
    case Where::Kind::Any:
        break;
    }
    std::vector<std::string> parts;
    for (const Where& part : where.parts)
        parts.push_back(summaryOf(part, catalogue, frame));
    return fmt::format("{}", fmt::join(parts, where.kind == Where::Kind::All ? ", " : " or "));
}

}  // namespace noctis
