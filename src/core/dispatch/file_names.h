#pragma once

#include <filesystem>
#include <optional>
#include <string>

namespace noctis {

/// What the placeholders of a name stand for.
struct NameValues {
    std::string project{};
    std::string view{};
    std::string pass{};
    std::string set{};
    int frame = 1;
    bool numbered =
        false;  ///< one of several frames: a name without a place for the number gets one
};

/// A file's name of a pattern: {project}, {view}, {pass}, {set} and {frame} become their values, with characters that no file's
/// name has as _; a run of # becomes the frame's number, as wide as the run; {frame} has four digits.
/// Errors   Error(BadSetting) for a placeholder that there isn't, naming those there are.
std::filesystem::path namedFile(const std::filesystem::path& pattern, const NameValues& values);

/// Whether a name has a placeholder, as "pass".
bool hasPlaceholder(const std::filesystem::path& pattern, std::string_view name);

}  // namespace noctis
