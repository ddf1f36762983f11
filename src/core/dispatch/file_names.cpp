#include "core/dispatch/file_names.h"

#include "core/image/error.h"
#include "core/passes/frame_name.h"

#include <fmt/format.h>

namespace noctis {

namespace {

std::string valueOf(const std::string& name, const NameValues& values) {
    if (name == "project")
        return fileNameOf(values.project);
    if (name == "view")
        return fileNameOf(values.view.empty() ? "view" : values.view);
    if (name == "pass")
        return fileNameOf(values.pass);
    if (name == "set")
        return fileNameOf(values.set.empty() ? "all" : values.set);
    if (name == "frame")
        return fmt::format("{:04}", values.frame);
    throw Error(ErrorCode::BadSetting,
                fmt::format("{{{}}} stands for nothing in a file's name; there are {{project}}, "
                            "{{view}}, {{pass}}, {{set}} and {{frame}}",
                            name));
}

}  // namespace

bool hasPlaceholder(const std::filesystem::path& pattern, std::string_view name) {
    return pattern.string().find(fmt::format("{{{}}}", name)) != std::string::npos;
}

std::filesystem::path namedFile(const std::filesystem::path& pattern, const NameValues& values) {
    const std::string text = pattern.string();
    std::string out;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t begin = std::min(text.find('{', at), text.size());
        out += text.substr(at, begin - at);
        const std::size_t end = text.find('}', begin);
        if (begin == text.size() || end == std::string::npos) {
            out += text.substr(begin);
            break;
        }
        out += valueOf(text.substr(begin + 1, end - begin - 1), values);
        at = end + 1;
    }
    const std::filesystem::path file = out;
    const bool hashes = file.filename().string().find('#') != std::string::npos;
    return hashes || (values.numbered && !hasPlaceholder(pattern, "frame"))
               ? fileOfFrame(file, values.frame)
               : file;
}

}  // namespace noctis
