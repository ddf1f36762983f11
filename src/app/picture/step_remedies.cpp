#include "app/picture/step_remedies.h"

#include "core/image/error.h"
#include "core/steps/registry.h"
#include "core/tracer/pass_settings.h"

#include <algorithm>

#include <fmt/format.h>

namespace noctis {

namespace {

/// Whatever a step and its Where read, as far as they say.
std::vector<PassNeed> needsOf(const Step& step, const Recipe& recipe) {
    const StepType& type = stepCatalogue().type(step.type);
    std::vector<PassNeed> needs = type.reads ? type.reads(step.settings) : std::vector<PassNeed>{};
    try {
        for (PassNeed& need :
             noctis::needsOf(plainWhere(step.where, recipe.wheres), stepCatalogue()))
            needs.push_back(std::move(need));
    } catch (const Error&) {
        // The step says so itself.
    }
    return needs;
}

/// The passes of a frame that a need stands for: those from which it is derived, where it isn't there.
std::vector<PassName> sourcesOf(const PassName& name, const PassSet& passes) {
    if (passes.find(nameOf(name)) != nullptr)
        return {name};
    switch (name.kind) {
    case PassKind::Distance:
    case PassKind::Position:
    case PassKind::Mist:
    case PassKind::Normal:
        return {{PassKind::Depth, {}}};
    default:
        return {name};
    }
}

}  // namespace

std::optional<StepRemedy> remedyFor(const Step& step, const Recipe& recipe, const PassSet& passes,
                                    const std::map<std::string, PassState>& states) {
    if (!step.usable() || !step.on)
        return std::nullopt;
    StepRemedy remedy;
    for (const PassNeed& need : needsOf(step, recipe)) {
        if (need.pass.subject == kEach || !canRender(need.pass.kind))
            continue;
        for (const PassName& source : sourcesOf(need.pass, passes)) {
            const std::string name = nameOf(source);
            if (std::ranges::any_of(remedy.passes,
                                    [&](const PassName& p) { return nameOf(p) == name; }))
                continue;
            const auto state = states.find(name);
            const bool stale =
                state != states.end() && state->second.kind == PassState::Kind::Stale;
            const bool missing = !need.optional && !canResolve(passes, need.pass.kind) &&
                                 passes.find(name) == nullptr;
            if (!stale && !missing)
                continue;
            remedy.passes.push_back(source);
            if (stale && remedy.text.empty())
                remedy.text = fmt::format("{} is stale: {}", labelOf(source), state->second.why);
        }
    }
    return remedy.passes.empty() ? std::nullopt : std::optional(remedy);
}

}  // namespace noctis
