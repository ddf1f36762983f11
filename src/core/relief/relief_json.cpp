#include "core/image/error.h"
#include "core/recipe/file_settings.h"
#include "core/recipe/step_json.h"
#include "core/relief/relief.h"
#include "core/relief/sources.h"

#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

Json reliefToJson(const Relief& relief, const StepTypes& operations, const fs::path& folder) {
    Json json{{"id", relief.id},
              {"name", relief.name},
              {"from", relief.source},
              {"settings", settingsInFolder(relief.settings, folder)}};
    if (!relief.from.files.empty()) {
        Json files = Json::array();
        for (const fs::path& file : relief.from.files)
            files.push_back(relativeTo(file, folder));
        json["files"] = files;
    }
    if (!relief.from.view.empty()) {
        json["view"] = relief.from.view;
        json["size"] = {relief.from.width, relief.from.height};
    }
    json["operations"] = stepsToJson(relief.operations, {"operation", false, operations, folder});
    return json;
}

Relief reliefFromJson(const Json& json, const StepTypes& operations, const fs::path& folder) {
    Relief relief;
    relief.id = json.value("id", std::string());
    relief.name = json.value("name", std::string());
    relief.source = json.at("from").get<std::string>();
    relief.settings = settingsFromFolder(reliefSource(relief.source).parameters,
                                         json.value("settings", Json::object()), folder);
    for (const Json& file : json.value("files", Json::array()))
        relief.from.files.push_back(absoluteFrom(file.get<std::string>(), folder));
    relief.from.view = json.value("view", std::string());
    if (json.contains("size")) {
        relief.from.width = json["size"].at(0).get<int>();
        relief.from.height = json["size"].at(1).get<int>();
        requireCells(relief.from.width, relief.from.height);
    }
    relief.operations = stepsFromJson(json.value("operations", Json::array()),
                                      {"operation", false, operations, folder});
    return relief;
}

}  // namespace noctis
