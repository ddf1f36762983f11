#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

namespace noctis {

/// Throws the Error(FileAccess) of a file that can't be written, and why.
[[noreturn]] void throwCannotWrite(const std::filesystem::path& target, const std::string& why);

/// Errors   Error(BadSetting) if target is one of these files, under whatever name: writing it would
///          replace what it is made from.
void requireNoInput(const std::filesystem::path& target,
                    const std::vector<std::filesystem::path>& inputs);

/// Errors   Error(FileAccess) if target can't be written: its folder isn't there or is read-only, or it is a
///          folder. For long work, before it begins.
void requireWritable(const std::filesystem::path& target);

/// Writes a file beside its target and renames it into place when it is whole, so that a half-
/// written file never bears the final name. write is given the path to write to; when it throws,
/// nothing is left.
/// Errors   as requireWritable; what write throws.
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
