// Settings of passes as they are written: on the command line, in files, and under names they once had.
#include "core/image/error.h"
#include "core/settings/value_type.h"
#include "core/tracer/pass_settings.h"

#include <algorithm>
#include <map>

#include <fmt/format.h>

namespace noctis {

std::vector<std::string> formerIds(PassKind kind) {
    return kind == PassKind::Mist ? std::vector<std::string>{"start", "length", "falloff"}
                                  : std::vector<std::string>();
}

const Parameter* formerParameter(PassKind kind, const std::string& id) {
    static const std::map<std::string, Parameter> ofMist = [] {
        std::map<std::string, Parameter> all;
        for (const std::string& each : formerIds(PassKind::Mist)) {
            Parameter parameter = parameterNamed(passParameters(PassKind::Mist), "begins");
            parameter.id = each;
            all[each] = parameter;
        }
        return all;
    }();
    const auto found = ofMist.find(id);
    return kind == PassKind::Mist && found != ofMist.end() ? &found->second : nullptr;
}

void setByFormerName(PassRequest& request, const std::string& id, float value) {
    MistSettings mist = mistSettings(request.settings);
    const float length = std::max(mist.full - mist.begins, 1e-6F);
    const float share = (mist.half - mist.begins) / length;
    if (id == "start")
        mist = {value, value + share * length, value + length};
    else if (id == "length")
        mist = {mist.begins, mist.begins + share * value, mist.begins + value};
    else
        mist.half = mist.begins + length * std::pow(0.5F, 1.0F / std::max(value, 0.05F));
    request.settings.set("begins", mist.begins);
    request.settings.set("half", mist.half);
    request.settings.set("full", mist.full);
}

void applyPassSetting(std::vector<PassRequest>& requests, const std::string& assignment) {
    const auto dot = assignment.find('.');
    const auto equals = assignment.find('=');
    if (dot == std::string::npos || equals == std::string::npos || dot > equals)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("'{}' must be of the form pass.setting=value", assignment));
    // The pass's name may hold a dot itself.
    const auto last = assignment.rfind('.', equals);
    const std::string name = assignment.substr(0, last);
    bool found = false;
    for (PassRequest& request : requests) {
        // A kind's name sets all of them.
        if (request.name() != name && passKindInfo(request.kind).id != name)
            continue;
        const std::string id = assignment.substr(last + 1, equals - last - 1);
        const std::string value = assignment.substr(equals + 1);
        found = true;
        if (const Parameter* former = formerParameter(request.kind, id)) {
            setByFormerName(request, id, std::get<float>(valueFromText(*former, value)));
            continue;
        }
        const Parameter& parameter = parameterNamed(passParameters(request.kind), id);
        request.settings.set(parameter.id, valueFromText(parameter, value));
    }
    if (!found)
        throw Error(ErrorCode::UnknownName,
                    fmt::format("pass {} isn't among those to render", name));
}

std::map<std::string, std::string> settingsAsText(const PassRequest& request,
                                                  const std::vector<PassRequest>& all) {
    if (isMadeWithBeauty(request.kind)) {
        for (const PassRequest& other : all)
            if (other.kind == PassKind::Beauty)
                return settingsAsText(other, all);
        return settingsAsText(passRequest(PassKind::Beauty), all);
    }
    std::map<std::string, std::string> text;
    for (const auto& [id, value] : request.settings)
        text[id] = textFromValue(value);
    return text;
}

}  // namespace noctis
