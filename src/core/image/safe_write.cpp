#include "core/image/safe_write.h"

#include "core/image/error.h"

#include <cerrno>
#include <cstring>
#include <memory>
#include <set>
#include <utility>

#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

[[noreturn]] void throwCannotWrite(const fs::path& target, const std::string& why,
                                   const char* remedy) {
    throw Error(ErrorCode::FileAccess,
                fmt::format("{} can't be written ({}); {}", target.string(), why, remedy));
}

/// Files by all the names they may have: those that are there by what they are, the others by their folder.
class FileSet {
public:
    void add(const fs::path& file) {
        if (file.empty())
            return;
        struct stat found {};
        if (::stat(file.c_str(), &found) == 0)
            m_there.emplace(found.st_dev, found.st_ino);
        m_names.insert(named(file));
    }
    [[nodiscard]] bool holds(const fs::path& file) const {
        struct stat found {};
        return (::stat(file.c_str(), &found) == 0 &&
                m_there.contains({found.st_dev, found.st_ino})) ||
               m_names.contains(named(file));
    }

private:
    static fs::path named(const fs::path& file) {
        std::error_code failed;
        const fs::path name = fs::weakly_canonical(fs::absolute(file), failed);
        return failed ? file : name;
    }

    std::set<std::pair<::dev_t, ::ino_t>> m_there;
    std::set<fs::path> m_names;
};

}  // namespace

void throwCannotWrite(const fs::path& target, int failure) {
    const bool full = failure == ENOSPC || failure == EFBIG || failure == EDQUOT;
    throwCannotWrite(target, std::strerror(failure),
                     full ? "free some space or choose another disk" : "choose another folder");
}

void throwCannotWrite(const fs::path& target, const std::string& why) {
    throwCannotWrite(target, why, "choose another folder");
}

fs::path folderOf(const fs::path& file) {
    return file.has_parent_path() ? file.parent_path() : fs::path(".");
}

void requireWritable(const fs::path& target) {
    const fs::path folder = folderOf(target);
    std::error_code failed;
    if (!fs::is_directory(folder, failed))
        throwCannotWrite(target, "the folder doesn't exist");
    if (::access(folder.c_str(), W_OK) != 0)
        throwCannotWrite(target, "the folder is read-only");
    const fs::file_status there = fs::status(target, failed);
    if (there.type() == fs::file_type::none)
        throwCannotWrite(target, failed.message(), "choose another name");
    if (fs::exists(there) && !fs::is_regular_file(there))
        throwCannotWrite(target,
                         fs::is_directory(there) ? "a folder has this name"
                                                 : "what has this name isn't a file",
                         "choose another name");
}

void requireNoInput(const std::vector<fs::path>& outputs, const std::vector<fs::path>& inputs) {
    FileSet read;
    for (const fs::path& input : inputs) {
        read.add(input);
        if (!input.empty())
            read.add(input.string() + ".json");
    }
    for (const fs::path& output : outputs)
        if (read.holds(output))
            throw Error(ErrorCode::BadSetting,
                        fmt::format("{} is read to make what would be written there, and can't be "
                                    "replaced by it; choose another name",
                                    output.string()));
}

void writeTogether(const std::vector<FileToWrite>& files) {
    std::vector<std::unique_ptr<OutputFile>> written;
    for (const FileToWrite& file : files)
        requireWritable(file.target);
    for (const FileToWrite& file : files) {
        written.push_back(std::make_unique<OutputFile>(file.target));
        file.write(*written.back());
        written.back()->finish();
    }
    try {
        for (const auto& file : written)
            file->putInPlace();
    } catch (...) {
        for (const auto& file : written)
            file->takeBack();
        throw;
    }
}

void writeThenRename(const fs::path& target, const std::function<void(OutputFile&)>& write) {
    writeTogether({{target, write}});
}

void makeFolder(const fs::path& folder) {
    std::error_code failed;
    fs::create_directories(folder, failed);
    if (failed)
        throw Error(ErrorCode::FileAccess, fmt::format("{}: the folder can't be made ({})",
                                                       folder.string(), failed.message()));
}

std::function<void(OutputFile&)> textWriter(std::string text) {
    return
        [text = std::move(text)](OutputFile& file) { file.writeAt(0, text.data(), text.size()); };
}

std::function<void(OutputFile&)> copyWriter(std::shared_ptr<const InputFile> from) {
    return [from = std::move(from)](OutputFile& file) {
        std::string piece(std::size_t{1} << 20U, '\0');
        std::uint64_t at = 0;
        while (const std::size_t found = from->readAt(at, piece.data(), piece.size())) {
            file.writeAt(at, piece.data(), found);
            at += found;
        }
        if (at != from->size())
            throwCannotWrite(file.target(), from->path().string() + " changed while it was copied");
    };
}

void writeTextFile(const fs::path& target, std::string_view text) {
    writeThenRename(target, textWriter(std::string(text)));
}

}  // namespace noctis
