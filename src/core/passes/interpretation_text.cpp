#include "core/passes/interpretation_text.h"

#include "core/image/json_text.h"

#include <cmath>

#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

std::string textFromInterpretation(const Interpretation& i) {
    Json json{{"coding", depthCodingName(i.coding)},
              {"scale", i.scale},
              {"near", i.nearDistance},
              {"far", i.farDistance},
              {"near_bright", i.nearBright},
              {"radial", i.radial}};
    if (std::isfinite(i.backgroundFrom))
        json["background_from"] = i.backgroundFrom;
    return json.dump();
}

std::optional<Interpretation> interpretationFromText(const std::string& text) {
    try {
        const Json json = parseJsonIfAny(text);
        const auto coding = depthCodingNamed(json.at("coding").get<std::string>());
        if (!coding)
            return std::nullopt;
        Interpretation i;
        i.coding = *coding;
        i.scale = json.value("scale", i.scale);
        i.nearDistance = json.value("near", i.nearDistance);
        i.farDistance = json.value("far", i.farDistance);
        i.nearBright = json.value("near_bright", i.nearBright);
        i.radial = json.value("radial", i.radial);
        i.backgroundFrom = json.value("background_from", i.backgroundFrom);
        return i;
    } catch (const Json::exception&) {
        return std::nullopt;
    }
}

}  // namespace noctis
