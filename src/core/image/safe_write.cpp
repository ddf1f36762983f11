#include "core/image/safe_write.h"

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

[[noreturn]] void cannotWrite(const fs::path& target, const std::string& why) {
    throw Error(ErrorCode::FileAccess,
                fmt::format("{}: can't be written ({}); choose another folder "
                            "or free some space",
                            target.string(), why));
}

void syncToDisk(const fs::path& path) {
    const int file = ::open(path.c_str(), O_RDONLY);
    if (file < 0)
        return;
    ::fsync(file);
    ::close(file);
}

}  // namespace

void writeThenRename(const fs::path& target, const std::function<void(const fs::path&)>& write) {
    static std::atomic<unsigned> counter{0};
    const fs::path folder = target.has_parent_path() ? target.parent_path() : fs::path(".");
    if (!fs::is_directory(folder))
        cannotWrite(target, "there is no such folder");
    if (::access(folder.c_str(), W_OK) != 0)
        cannotWrite(target, "the folder is read-only");
    if (fs::is_directory(target))
        cannotWrite(target, "a folder has that name");
    // The ending stays last, because writers choose the format by it.
    const fs::path beside =
        folder / fmt::format(".{}.part-{}-{}{}", target.stem().string(), ::getpid(), counter++,
                             target.extension().string());
    try {
        write(beside);
        syncToDisk(beside);
        fs::rename(beside, target);
    } catch (const fs::filesystem_error& error) {
        std::error_code ignored;
        fs::remove(beside, ignored);
        cannotWrite(target, error.code().message());
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
        std::ofstream out(path, std::ios::binary);
        out.write(text.data(), static_cast<std::streamsize>(text.size()));
        out.close();
        if (!out)
            cannotWrite(target, std::strerror(errno));
    });
}

std::string readTextFile(const fs::path& path) {
    std::ifstream in(path, std::ios::binary);
    if (!in || fs::is_directory(path))
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{}: can't be read; check that it is there", path.string()));
    return {std::istreambuf_iterator<char>(in), {}};
}

}  // namespace noctis
