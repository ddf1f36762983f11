#include "core/passes/sidecar.h"

#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/image/safe_write.h"

#include <algorithm>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

constexpr std::string_view kOurs = "noctis.";

bool isOurs(const Json& json) {
    if (!json.is_object())
        return false;
    const auto& fields = json.get_ref<const Json::object_t&>();
    return std::any_of(fields.begin(), fields.end(),
                       [](const auto& field) { return field.first.starts_with(kOurs); });
}

}  // namespace

fs::path sidecarFileOf(const fs::path& picture) { return picture.string() + ".json"; }

Attributes sidecarOf(const fs::path& picture, std::vector<std::string>& warnings) {
    Attributes attributes;
    const fs::path file = sidecarFileOf(picture);
    std::error_code failed;
    if (!fs::exists(file, failed))
        return attributes;
    try {
        const Json json = parseJson(readTextFile(file));
        if (isOurs(json))
            for (const auto& [key, value] : json.items())
                if (key.starts_with(kOurs))
                    attributes[key] = value.is_string() ? value.get<std::string>() : value.dump();
    } catch (const Error& error) {
        const std::string name = file.filename().string();
        const std::string what = error.what();
        warnings.push_back(fmt::format(
            "{}; it isn't used", what.find(name) == std::string::npos ? name + " " + what : what));
    }
    return attributes;
}

void requireOwnSidecar(const fs::path& picture) {
    const fs::path file = sidecarFileOf(picture);
    std::error_code failed;
    if (!fs::exists(fs::symlink_status(file, failed)))
        return;
    bool ours = false;
    try {
        ours = isOurs(parseJson(readTextFile(file)));
    } catch (const Error&) {
        ours = false;
    }
    if (!ours)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{} belongs to something else, and {} would write its own there; "
                                "choose another name",
                                file.string(), picture.filename().string()));
}

void writeWithSidecar(const fs::path& picture, FilePart part, const Json& sidecar) {
    requireOwnSidecar(picture);
    // The picture last: where it is, its sidecar is.
    writeTogether({{sidecarFileOf(picture), textWriter(sidecar.dump(2) + "\n")},
                   {picture, imageWriter(picture, {std::move(part)})}});
}

}  // namespace noctis
