#pragma once

#include <filesystem>
#include <functional>
#include <string_view>

namespace noctis {

/// Writes a file beside its target and renames it into place when it is whole, so that a half-
/// written file never bears the final name. write is given the path to write to; when it throws,
/// nothing is left.
/// Errors   Error(FileAccess) if the folder can't be written; what write throws.
void writeThenRename(const std::filesystem::path& target,
                     const std::function<void(const std::filesystem::path&)>& write);

/// Makes a folder and those above it, if they aren't there.
/// Errors   Error(FileAccess) if it can't be.
void makeFolder(const std::filesystem::path& folder);

/// Writes a text as writeThenRename does.
void writeTextFile(const std::filesystem::path& target, std::string_view text);

/// Errors   Error(FileAccess) if it can't be read.
std::string readTextFile(const std::filesystem::path& path);

}  // namespace noctis
