#pragma once

#include "core/image/input_file.h"
#include "core/image/output_file.h"

#include <filesystem>
#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace noctis {

/// Throws the Error(FileAccess) of a file that can't be written: why, as errno, and what to do.
[[noreturn]] void throwCannotWrite(const std::filesystem::path& target, int failure);
/// The same for a reason in words, with the usual remedy.
[[noreturn]] void throwCannotWrite(const std::filesystem::path& target, const std::string& why);

/// The folder of a file, "." if it names none.
std::filesystem::path folderOf(const std::filesystem::path& file);

/// Errors   Error(FileAccess) if target can't be written: its folder isn't there or is read-only, or it is a
///          folder. For long work, before it begins.
void requireWritable(const std::filesystem::path& target);

/// Everything that a command or an export is about to write, checked before any of it is: none of it may be one of the
/// inputs or of their sidecars, under whatever name. An input needn't be there yet: a later frame may be read where an
/// earlier one would be written.
/// Errors   Error(BadSetting).
void requireNoInput(const std::vector<std::filesystem::path>& outputs,
                    const std::vector<std::filesystem::path>& inputs);

/// A file to write, and what writes it.
struct FileToWrite {
    std::filesystem::path target;
    std::function<void(OutputFile&)> write;
};

/// Writes files beside their targets and puts them in place when all are whole: a half-written file never bears
/// the final name, and none comes without the others. When one throws, nothing is left.
/// Errors   as requireWritable; what write throws.
void writeTogether(const std::vector<FileToWrite>& files);

/// The same for a single file.
void writeThenRename(const std::filesystem::path& target,
                     const std::function<void(OutputFile&)>& write);

/// Makes a folder and those above it, if they aren't there.
/// Errors   Error(FileAccess) if it can't be.
void makeFolder(const std::filesystem::path& folder);

/// What writes a text, and what copies a file.
std::function<void(OutputFile&)> textWriter(std::string text);
std::function<void(OutputFile&)> copyWriter(std::shared_ptr<const InputFile> from);
void writeTextFile(const std::filesystem::path& target, std::string_view text);

}  // namespace noctis
