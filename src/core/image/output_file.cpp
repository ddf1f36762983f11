#include "core/image/output_file.h"

#include "core/image/safe_write.h"

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <mutex>
#include <random>
#include <set>
#include <string>
#include <string_view>

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr std::string_view kPartName = ".noctis-part-";
constexpr int kTries = 100;

/// A process holds a lock on each part that it writes; the system drops it with the process.
bool lock(int file) noexcept { return ::flock(file, LOCK_EX | LOCK_NB) == 0; }

void removeIfLeft(const fs::path& part) noexcept {
    const int file = ::open(part.c_str(), O_RDWR | O_NOFOLLOW | O_NONBLOCK | O_CLOEXEC);
    if (file < 0)
        return;
    if (lock(file))
        ::unlink(part.c_str());
    ::close(file);
}

/// Once for each folder: it may hold a long sequence.
void removeLeftParts(const fs::path& folder) {
    static std::mutex mutex;
    static std::set<fs::path> seen;
    {
        const std::scoped_lock guard(mutex);
        if (!seen.insert(fs::absolute(folder)).second)
            return;
    }
    std::error_code failed;
    for (const auto& entry : fs::directory_iterator(folder, failed))
        if (entry.path().filename().string().starts_with(kPartName))
            removeIfLeft(entry.path());
}

std::string randomName() {
    std::random_device random;
    return fmt::format("{}{:08x}{:08x}", kPartName, random(), random());
}

void syncFolder(const fs::path& folder) noexcept {
    const int file = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    if (file < 0)
        return;
    (void)::fsync(file);  // some file systems can't
    ::close(file);
}

}  // namespace

OutputFile::OutputFile(fs::path target) : m_target(std::move(target)) {
    const fs::path folder = folderOf(m_target);
    removeLeftParts(folder);
    for (int i = 0; i < kTries; ++i) {
        m_part = folder / randomName();
        m_file = ::open(m_part.c_str(), O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0644);
        if (m_file < 0 && errno == EEXIST)
            continue;
        if (m_file < 0)
            throwCannotWrite(m_target, errno);
        // Between the two calls another process may have taken it for one that was left.
        struct stat found {};
        if (!lock(m_file) && errno == EWOULDBLOCK)
            ::flock(m_file, LOCK_EX);
        if (::fstat(m_file, &found) == 0 && found.st_nlink > 0)
            return;
        ::close(m_file);
        m_file = -1;
    }
    throwCannotWrite(m_target, EEXIST);
}

OutputFile::~OutputFile() {
    if (!m_placed || m_exchanged)
        ::unlink(m_part.c_str());
    ::close(m_file);
}

fs::path OutputFile::handle() const { return fmt::format("/proc/self/fd/{}", m_file); }

int OutputFile::readingDescriptor() const noexcept {
    return ::open(handle().c_str(), O_RDONLY | O_CLOEXEC);
}

bool OutputFile::writeAt(std::uint64_t at, const void* bytes, std::size_t count) noexcept {
    const auto* from = static_cast<const char*>(bytes);
    m_size = std::max<std::uint64_t>(m_size, at + count);
    while (count > 0 && m_failure == 0) {
        const ::ssize_t written = ::pwrite(m_file, from, count, static_cast<::off_t>(at));
        if (written < 0 && errno == EINTR)
            continue;
        if (written <= 0) {
            m_failure = written < 0 ? errno : ENOSPC;
            break;
        }
        from += written;
        at += static_cast<std::uint64_t>(written);
        count -= static_cast<std::size_t>(written);
    }
    return m_failure == 0;
}

std::size_t OutputFile::readAt(std::uint64_t at, void* bytes, std::size_t count) noexcept {
    const ::ssize_t found = ::pread(m_file, bytes, count, static_cast<::off_t>(at));
    return found < 0 ? 0 : static_cast<std::size_t>(found);
}

void OutputFile::finish() {
    if (m_failure == 0 && ::fsync(m_file) != 0)
        m_failure = errno;
    struct stat found {};
    if (m_failure == 0 &&
        (::fstat(m_file, &found) != 0 || static_cast<std::uint64_t>(found.st_size) != m_size))
        m_failure = ENOSPC;
    if (m_failure != 0)
        throwCannotWrite(m_target, m_failure);
}

void OutputFile::putInPlace() {
    struct stat there {};
    m_replaced = ::lstat(m_target.c_str(), &there) == 0;
    if (m_replaced && S_ISDIR(there.st_mode))
        throwCannotWrite(m_target, EISDIR);
    m_exchanged = m_replaced && ::renameat2(AT_FDCWD, m_part.c_str(), AT_FDCWD, m_target.c_str(),
                                            RENAME_EXCHANGE) == 0;
    if (!m_exchanged && ::rename(m_part.c_str(), m_target.c_str()) != 0)
        throwCannotWrite(m_target, errno);
    m_placed = true;
    syncFolder(folderOf(m_target));
}

void OutputFile::takeBack() noexcept {
    if (!m_placed)
        return;
    if (m_exchanged)
        ::rename(m_part.c_str(), m_target.c_str());
    else if (!m_replaced)
        ::unlink(m_target.c_str());
    m_exchanged = false;
}

}  // namespace noctis
