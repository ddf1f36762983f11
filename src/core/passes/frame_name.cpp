#include "core/passes/frame_name.h"

#include "core/image/error.h"

#include <algorithm>
#include <cctype>
#include <cstdint>
#include <map>
#include <set>
#include <string_view>

#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

std::vector<int> framesFrom(int first, int last) {
    const std::int64_t count = std::int64_t{last} - first + 1;
    if (count < 1)
        throw Error(ErrorCode::BadSetting, fmt::format("frames {}-{} aren't a range", first, last));
    if (count > kMostFrames)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("frames {}-{} are {}, and there may be at most {} at once; choose "
                                "a shorter range",
                                first, last, count, kMostFrames));
    // std::iota would count one past the last, which may be the largest number there is.
    std::vector<int> frames;
    frames.reserve(static_cast<std::size_t>(count));
    for (std::int64_t i = 0; i < count; ++i)
        frames.push_back(static_cast<int>(first + i));
    return frames;
}

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

namespace {

/// Where in a file's name the number of its frame stands.
struct FrameDigits {
    std::string before;
    std::string digits;  ///< empty: not a frame of a sequence
    std::string after;
};

/// The last number of a name is the frame's: "quay.0012.exr", "quay_012.png". "layer 2" is none.
FrameDigits digitsOf(const fs::path& file) {
    constexpr std::size_t kFewestDigits = 3;
    constexpr std::size_t kMostDigits = 9;
    const auto isDigit = [](char c) { return std::isdigit(static_cast<unsigned char>(c)) != 0; };
    const std::string name = file.stem().string();
    std::size_t end = name.size();
    while (end > 0 && !isDigit(name[end - 1]))
        --end;
    std::size_t from = end;
    while (from > 0 && isDigit(name[from - 1]))
        --from;
    const std::string ending = file.extension().string();
    if (end - from < kFewestDigits || end - from > kMostDigits)
        return {name + ending, {}, {}};
    return {name.substr(0, from), name.substr(from, end - from), name.substr(end) + ending};
}

}  // namespace

std::vector<fs::path> firstFrames(std::vector<fs::path> files, std::vector<fs::path>* left) {
    const auto withoutNumber = [](const fs::path& file) {
        const FrameDigits parts = digitsOf(file);
        return (file.parent_path() /
                (parts.before + (parts.digits.empty() ? "" : "#") + parts.after))
            .string();
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

std::optional<int> frameOf(const fs::path& file) {
    const FrameDigits parts = digitsOf(file);
    return parts.digits.empty() ? std::nullopt : std::optional(std::stoi(parts.digits));
}

fs::path atFrame(const fs::path& file, int frame) {
    const FrameDigits parts = digitsOf(file);
    if (parts.digits.empty())
        return file;
    return file.parent_path() /
           fmt::format("{}{:0{}}{}", parts.before, frame, parts.digits.size(), parts.after);
}

std::vector<int> framesBeside(const fs::path& file) {
    const FrameDigits own = digitsOf(file);
    std::vector<int> frames;
    if (own.digits.empty())
        return frames;
    std::error_code failed;
    for (const auto& entry : fs::directory_iterator(file.parent_path(), failed)) {
        const FrameDigits parts = digitsOf(entry.path());
        if (!parts.digits.empty() && parts.before == own.before && parts.after == own.after)
            frames.push_back(std::stoi(parts.digits));
    }
    std::sort(frames.begin(), frames.end());
    return frames;
}

std::string shotOf(const fs::path& file) {
    static const std::set<std::string_view> passWords{
        "ao",       "alpha",     "beauty",   "color",   "colour",       "combined", "composite",
        "coverage", "depth",     "diffuse",  "direct",  "distance",     "dpt",      "emission",
        "groups",   "id",        "indirect", "light",   "lights",       "linear",   "material",
        "mist",     "materials", "motion",   "n",       "nor",          "norm",     "normal",
        "normals",  "nrm",       "object",   "objects", "occlusion",    "p",        "pass",
        "passes",   "pos",       "position", "raw",     "render",       "rgba",     "roughness",
        "shadow",   "specular",  "surface",  "uv",      "transmission", "vectors",  "z",
        "zbuffer",  "zdepth"};
    std::string shot;
    std::string word;
    const auto end = [&] {
        const bool number =
            std::ranges::all_of(word, [](unsigned char c) { return std::isdigit(c) != 0; });
        if (!word.empty() && !number && !passWords.contains(word))
            shot += (shot.empty() ? "" : " ") + word;
        word.clear();
    };
    for (const char c : file.stem().string()) {
        const auto byte = static_cast<unsigned char>(c);
        // Letters of other scripts are beyond ASCII.
        if (std::isalnum(byte) == 0 && byte < 0x80)
            end();
        else
            word += static_cast<char>(std::tolower(byte));
    }
    end();
    return shot;
}

std::string fileNameOf(std::string name) {
    for (char& c : name)
        if (static_cast<unsigned char>(c) < 0x20 ||
            std::string_view("/\\:*?\"<>|").find(c) != std::string_view::npos)
            c = '_';
    return name;
}

}  // namespace noctis
