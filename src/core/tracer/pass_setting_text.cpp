// Settings of passes as they are written: on the command line and in files.
#include "core/image/error.h"
#include "core/settings/value_type.h"
#include "core/tracer/pass_settings.h"

#include <algorithm>
#include <map>

#include <fmt/format.h>

namespace noctis {

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
