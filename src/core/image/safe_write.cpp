#include "core/image/safe_write.h"

#include "core/image/checked_file.h"
#include "core/image/error.h"

#include <atomic>
#include <cerrno>
#include <cstring>
#include <fstream>
#include <iterator>

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

fs::path folderOf(const fs::path& target) {
    return target.has_parent_path() ? target.parent_path() : fs::path(".");
}

void syncToDisk(const fs::path& path) {
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    const bool done = file >= 0 && ::fsync(file) == 0;
    const int failure = errno;
    if (file >= 0)
        ::close(file);
    if (!done)
        throwCannotWrite(path, std::strerror(failure));
}

}  // namespace

void throwCannotWrite(const fs::path& target, const std::string& why) {
    throw Error(ErrorCode::FileAccess,
                fmt::format("{} can't be written ({}); choose another folder "
                            "or free some space",
                            target.string(), why));
}

void requireNoInput(const fs::path& target, const std::vector<fs::path>& inputs) {
    for (const fs::path& input : inputs) {
        std::error_code unknown;
        if (fs::equivalent(target, input, unknown))
            throw Error(ErrorCode::BadSetting,
                        fmt::format("{} is read to make this picture, so the picture can't replace "
                                    "it; choose another name",
                                    target.string()));
    }
}

void requireWritable(const fs::path& target) {
    const fs::path folder = folderOf(target);
    std::error_code failed;
    if (!fs::is_directory(folder, failed))
        throwCannotWrite(target, "the folder doesn't exist");
    if (::access(folder.c_str(), W_OK) != 0)
        throwCannotWrite(target, "the folder is read-only");
    const fs::file_type there = fs::status(target, failed).type();
    if (there == fs::file_type::none)
        throwCannotWrite(target, failed.message());
    if (there == fs::file_type::directory)
        throwCannotWrite(target, "a folder has this name");
}

void writeThenRename(const fs::path& target, const std::function<void(const fs::path&)>& write) {
    static std::atomic<unsigned> counter{0};
    requireWritable(target);
    // The ending stays last, because writers choose the format by it.
    const fs::path beside =
        folderOf(target) / fmt::format(".{}.part-{}-{}{}", target.stem().string(), ::getpid(),
                                       counter++, target.extension().string());
    try {
        write(beside);
        syncToDisk(beside);
        fs::rename(beside, target);
    } catch (const Error& error) {
        std::error_code ignored;
        fs::remove(beside, ignored);
        // Messages name the file that was asked for.
        std::string text = error.what();
        if (const auto at = text.find(beside.string()); at != std::string::npos)
            text.replace(at, beside.string().size(), target.string());
        throw Error(error.code(), text);
    } catch (const fs::filesystem_error& error) {
        std::error_code ignored;
        fs::remove(beside, ignored);
        throwCannotWrite(target, error.code().message());
    } catch (...) {
        std::error_code ignored;
        fs::remove(beside, ignored);
        throw;
    }
}

void makeFolder(const fs::path& folder) {
    std::error_code failed;
    fs::create_directories(folder, failed);
    if (failed)
        throw Error(ErrorCode::FileAccess, fmt::format("{}: the folder can't be made ({})",
                                                       folder.string(), failed.message()));
}

void writeTextFile(const fs::path& target, std::string_view text) {
    writeThenRename(target, [&](const fs::path& path) {
        CheckedFile out(path);
        out.writeAt(0, text.data(), text.size());
        out.finish();
    });
}

std::string readTextFile(const fs::path& path) {
    std::ifstream in(path, std::ios::binary);
    if (!in || fs::is_directory(path))
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{} can't be read; check that it is there", path.string()));
    return {std::istreambuf_iterator<char>(in), {}};
}

}  // namespace noctis
