#include "core/project/project_file.h"

#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/image/safe_write.h"
#include "core/project/project_fields.h"
#include "core/recipe/recipe_json.h"

#include <algorithm>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

bool isKnown(const std::string& key) {
    return key == "format" || key == "version" ||
           std::any_of(projectFields().begin(), projectFields().end(),
                       [&](const ProjectField& field) { return field.key == key; });
}

void fill(Project& project, const Json& json, const FieldContext& context) {
    for (const ProjectField& field : projectFields())
        if (const auto found = json.find(field.key); found != json.end())
            field.read(project, *found, context);
    if (!json.contains("passes"))
        project.passes = usualPasses();
    Json unknown = Json::object();
    for (const auto& [key, value] : json.items())
        if (!isKnown(key))
            unknown[key] = value;
    if (!unknown.empty())
        project.unknown = std::make_shared<const std::string>(unknown.dump());
}

}  // namespace

std::string projectToText(const Project& project, const fs::path& folder,
                          const Catalogue& catalogue) {
    Json json = project.unknown ? Json::parse(*project.unknown) : Json::object();
    json["format"] = "noctis-project";
    json["version"] = kProjectVersion;
    for (const ProjectField& field : projectFields())
        if (Json value = field.write(project, {folder, catalogue}); !value.is_null())
            json[std::string(field.key)] = std::move(value);
    return json.dump(2) + "\n";
}

Project projectFromText(const std::string& text, const fs::path& folder,
                        const Catalogue& catalogue) {
    const Json json = parseJson(text);
    if (!json.is_object() || json.value("format", Json()) != "noctis-project")
        throw Error(ErrorCode::BadFile,
                    "is not a Noctis project: its format is not noctis-project");
    if (json.value("version", Json(1)).is_number() &&
        json.value("version", Json(1)).get<double>() > kProjectVersion)
        throw Error(ErrorCode::NewerVersion,
                    "was written by a newer version of Noctis; open it there");
    Project project;
    try {
        fill(project, json, {folder, catalogue});
    } catch (const Json::exception&) {
        throw Error(ErrorCode::BadFile,
                    "has a field of the wrong type; correct it, or open an older copy");
    }
    return project;
}

void saveProject(const Project& project, const fs::path& path, const Catalogue& catalogue) {
    const fs::path absolute = fs::absolute(path);
    writeTextFile(absolute, projectToText(project, absolute.parent_path(), catalogue));
}

Project openProject(const fs::path& path, const Catalogue& catalogue, std::string* text) {
    const fs::path absolute = fs::absolute(path);
    std::string read = readTextFile(absolute);
    try {
        Project project = projectFromText(read, absolute.parent_path(), catalogue);
        if (text != nullptr)
            *text = std::move(read);
        return project;
    } catch (const Error& error) {
        throw Error(error.code(), fmt::format("{}: {}", path.string(), error.what()));
    }
}

fs::path autosavePath(const fs::path& projectPath, const fs::path& folderForUnsaved,
                      const std::string& run) {
    // The longest names that disks hold have no room for more.
    constexpr std::size_t kLongestName = 100;
    if (projectPath.empty())
        return folderForUnsaved / fmt::format("unsaved-{}.noctis-autosave", run);
    std::string name = projectPath.stem().string();
    const auto isWithin = [](char c) { return (static_cast<unsigned char>(c) & 0xC0U) == 0x80U; };
    std::size_t length = std::min(name.size(), kLongestName);
    while (length > 0 && length < name.size() && isWithin(name[length]))
        --length;  // not within a letter
    name.resize(length);
    return projectPath.parent_path() / fmt::format(".{}-{}.noctis-autosave", name, run);
}

}  // namespace noctis
