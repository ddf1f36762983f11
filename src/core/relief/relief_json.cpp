#include "core/image/error.h"
#include "core/recipe/recipe_json.h"
#include "core/relief/relief.h"
#include "core/relief/sources.h"
#include "core/settings/value_type.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

Json settingsIn(const Settings& settings, const fs::path& folder) {
    return settingsToJson(withFiles(
        settings, [&](const fs::path& file) { return fs::path(relativeTo(file, folder)); }));
}

Settings settingsFrom(const std::vector<Parameter>& parameters, const Json& json,
                      const fs::path& folder) {
    return withFiles(settingsFromJson(parameters, json),
                     [&](const fs::path& file) { return absoluteFrom(file.string(), folder); });
}

Shaping shapingFromJson(const Json& json, const ReliefCatalogue& catalogue, const Catalogue& steps,
                        const Relief& relief, const fs::path& folder) {
    Shaping shaping;
    shaping.type = json.at("operation").get<std::string>();
    shaping.id = json.value("id", std::string());
    if (shaping.id.empty() || relief.find(shaping.id) != nullptr)
        shaping.id = relief.freeId(shaping.type);
    shaping.on = json.value("on", true);
    shaping.settings = settingsFrom(catalogue.shaping(shaping.type).parameters,
                                    json.value("settings", Json::object()), folder);
    if (json.contains("where"))
        shaping.where = whereFromJson(json["where"], steps, folder);
    return shaping;
}

}  // namespace

Json reliefToJson(const Relief& relief, const fs::path& folder) {
    Json json{{"id", relief.id},
              {"name", relief.name},
              {"from", relief.source},
              {"settings", settingsIn(relief.settings, folder)}};
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
    Json operations = Json::array();
    for (const Shaping& shaping : relief.shapings) {
        Json each{{"id", shaping.id},
                  {"operation", shaping.type},
                  {"on", shaping.on},
                  {"settings", settingsIn(shaping.settings, folder)}};
        if (!shaping.where.everywhere())
            each["where"] = whereToJson(shaping.where, folder);
        operations.push_back(std::move(each));
    }
    json["operations"] = operations;
    return json;
}

Relief reliefFromJson(const Json& json, const ReliefCatalogue& catalogue, const Catalogue& steps,
                      const fs::path& folder) {
    Relief relief;
    relief.id = json.value("id", std::string());
    relief.name = json.value("name", std::string());
    relief.source = json.at("from").get<std::string>();
    relief.settings = settingsFrom(reliefSource(relief.source).parameters,
                                   json.value("settings", Json::object()), folder);
    for (const Json& file : json.value("files", Json::array()))
        relief.from.files.push_back(absoluteFrom(file.get<std::string>(), folder));
    relief.from.view = json.value("view", std::string());
    if (json.contains("size")) {
        relief.from.width = json["size"].at(0).get<int>();
        relief.from.height = json["size"].at(1).get<int>();
        requireCells(relief.from.width, relief.from.height);
    }
    for (const Json& each : json.value("operations", Json::array()))
        relief.shapings.push_back(shapingFromJson(each, catalogue, steps, relief, folder));
    return relief;
}

}  // namespace noctis
