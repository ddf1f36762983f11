#include "core/passes/frame_name.h"

#include <algorithm>
#include <cctype>
#include <map>
#include <string_view>

#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

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

std::vector<fs::path> firstFrames(std::vector<fs::path> files, std::vector<fs::path>* left) {
    // The last number of a name is the frame's: "quay.0012.exr", "quay_12.png".
    const auto withoutNumber = [](const fs::path& file) {
        std::string name = file.stem().string();
        std::size_t end = name.size();
        while (end > 0 && std::isdigit(static_cast<unsigned char>(name[end - 1])) == 0)
            --end;
        std::size_t from = end;
        while (from > 0 && std::isdigit(static_cast<unsigned char>(name[from - 1])) != 0)
            --from;
        // "layer 2" is no frame; "0012" is.
        constexpr std::size_t kFewestDigits = 3;
        if (end - from < kFewestDigits)
            return file.string();
        return (file.parent_path() / name.replace(from, end - from, "#")).string() +
               file.extension().string();
    };
    std::vector<fs::path> sorted = files;
    std::sort(sorted.begin(), sorted.end());
    std::map<std::string, fs::path> firsts;
    for (const fs::path& file : sorted)
        firsts.emplace(withoutNumber(file), file);
    std::erase_if(files, [&](const fs::path& file) {
        const bool later = firsts.at(withoutNumber(file)) != file;
        if (later && left != nullptr)
            left->push_back(file);
        return later;
    });
    return files;
}

std::string fileNameOf(std::string name) {
    for (char& c : name)
        if (static_cast<unsigned char>(c) < 0x20 ||
            std::string_view("/\\:*?\"<>|").find(c) != std::string_view::npos)
            c = '_';
    return name;
}

}  // namespace noctis
