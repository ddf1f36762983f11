#include "core/passes/frame_name.h"

#include <string_view>

#include <fmt/format.h>

namespace noctis {

std::filesystem::path fileOfFrame(const std::filesystem::path& pattern, int frame) {
    std::string name = pattern.filename().string();
    std::size_t first = name.find('#');
    std::size_t count = 0;
    if (first == std::string::npos) {
        first = name.size() - pattern.extension().string().size();
        name.insert(first, ".####");
        ++first;
    }
    while (first + count < name.size() && name[first + count] == '#')
        ++count;
    name.replace(first, count, fmt::format("{:0{}}", frame, count));
    return pattern.parent_path() / name;
}

std::string fileNameOf(std::string name) {
    for (char& c : name)
        if (static_cast<unsigned char>(c) < 0x20 ||
            std::string_view("/\\:*?\"<>|").find(c) != std::string_view::npos)
            c = '_';
    return name;
}

}  // namespace noctis
