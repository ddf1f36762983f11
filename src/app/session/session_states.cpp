// What of the frame still is what would be rendered now.
#include "app/session/session.h"
#include "core/image/error.h"
#include "core/tracer/pass_settings.h"

#include <fmt/format.h>

namespace noctis {

namespace {

/// The request that a pass answers, as far as it records what it was made with.
PassRequest madeAs(const Pass& pass, const PassName& name) {
    std::vector<PassRequest> request{passRequest(name.kind, name.subject)};
    for (const auto& [key, value] : pass.settings)
        try {
            applyPassSetting(request, fmt::format("{}.{}={}", request[0].name(), key, value));
        } catch (const Error&) {
            continue;  // what is no setting: the scene, the moved lights
        }
    return request[0];
}

}  // namespace

std::map<std::string, PassState> Session::passStates() const {
    std::map<std::string, PassState> states;
    if (!m_scene)
        return states;
    const WantedFrame wanted = wantedFrame(view());
    const std::vector<PassState> each = noctis::passStates(m_frame.passes, wanted, m_comparisons);
    for (std::size_t i = 0; i < each.size(); ++i)
        states[wanted.passes[i].name()] = each[i];
    // Passes that aren't in the list are compared as they were made; parts of light, with a beauty made so.
    for (const Pass& pass : m_frame.passes.passes) {
        const auto name = passNamed(pass.name);
        if (!name || !canRender(name->kind) || pass.derived ||
            !pass.settings.contains(kSceneSetting) || passAsked(project(), pass.name) != nullptr)
            continue;
        WantedFrame alone = wanted;
        alone.passes = {madeAs(pass, *name)};
        if (isMadeWithBeauty(name->kind))
            alone.passes.push_back(madeAs(pass, {PassKind::Beauty, {}}));
        states[pass.name] = noctis::passStates(m_frame.passes, alone, m_comparisons).front();
    }
    return states;
}

}  // namespace noctis
