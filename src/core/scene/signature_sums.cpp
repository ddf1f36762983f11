#include "core/scene/signature_sums.h"

#include "core/image/json_text.h"

#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

std::string textOf(const SignatureSums& sums) {
    return Json{{"objects", sums.objects},
                {"materials", sums.materials},
                {"lights", sums.lights},
                {"motion", sums.motion}}
        .dump(-1, ' ', true, Json::error_handler_t::replace);
}

std::optional<SignatureSums> signatureFrom(const std::string& text) {
    try {
        const Json json = parseJsonIfAny(text);
        return SignatureSums{json.at("objects").get<Things>(), json.at("materials").get<Things>(),
                             json.at("lights").get<Things>(), json.at("motion").get<Things>()};
    } catch (const Json::exception&) {
        return std::nullopt;
    }
}

}  // namespace noctis
