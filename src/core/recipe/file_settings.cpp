#include "core/recipe/file_settings.h"

#include "core/settings/value_type.h"

#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

std::string relativeTo(const fs::path& path, const fs::path& folder) {
    const fs::path relative = folder.empty() ? path : path.lexically_relative(folder);
    return (relative.empty() ? path : relative).generic_string();
}

fs::path absoluteFrom(const std::string& text, const fs::path& folder) {
    const fs::path path(text);
    return (path.is_absolute() ? path : folder / path).lexically_normal();
}

Json settingsInFolder(const Settings& settings, const fs::path& folder) {
    return settingsToJson(
        withFiles(settings, [&](const fs::path& p) { return fs::path(relativeTo(p, folder)); }));
}

Settings settingsFromFolder(const std::vector<Parameter>& parameters, const Json& json,
                            const fs::path& folder) {
    return withFiles(settingsFromJson(parameters, json),
                     [&](const fs::path& p) { return absoluteFrom(p.string(), folder); });
}

std::shared_ptr<const std::string> keptText(const Json& json) {
    return std::make_shared<const std::string>(
        json.dump(-1, ' ', false, Json::error_handler_t::replace));
}

}  // namespace noctis
