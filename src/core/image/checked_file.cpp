#include "core/image/checked_file.h"

#include "core/image/safe_write.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <string>

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

namespace noctis {

CheckedFile::CheckedFile(const std::filesystem::path& path)
    : m_path(path), m_file(::open(path.c_str(), O_RDWR | O_CREAT | O_TRUNC | O_CLOEXEC, 0644)) {
    if (m_file < 0)
        throwCannotWrite(path, std::strerror(errno));
}

CheckedFile::~CheckedFile() {
    if (m_file >= 0)
        ::close(m_file);
}

bool CheckedFile::writeAt(std::uint64_t at, const void* bytes, std::size_t count) noexcept {
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

std::size_t CheckedFile::readAt(std::uint64_t at, void* bytes, std::size_t count) noexcept {
    const ::ssize_t found = ::pread(m_file, bytes, count, static_cast<::off_t>(at));
    return found < 0 ? 0 : static_cast<std::size_t>(found);
}

void CheckedFile::finish() {
    if (m_failure == 0 && ::fsync(m_file) != 0)
        m_failure = errno;
    struct stat found {};
    if (m_failure == 0 &&
        (::fstat(m_file, &found) != 0 || static_cast<std::uint64_t>(found.st_size) != m_size))
        m_failure = ENOSPC;
    if (m_failure != 0)
        throwCannotWrite(m_path, std::strerror(m_failure));
}

}  // namespace noctis
