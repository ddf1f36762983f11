#include "core/image/run_lock.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr mode_t kOwnOnly = 0600;

}  // namespace

RunLock::RunLock(fs::path file) : m_file(std::move(file)) {
    std::error_code ignored;
    fs::create_directories(m_file.parent_path(), ignored);
    m_descriptor = ::open(m_file.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, kOwnOnly);
    if (m_descriptor < 0 || ::flock(m_descriptor, LOCK_EX | LOCK_NB) == 0)
        return;
    ::close(m_descriptor);
    m_descriptor = -1;
}

RunLock::~RunLock() {
    if (m_descriptor < 0)
        return;
    std::error_code ignored;
    fs::remove(m_file, ignored);
    ::close(m_descriptor);
}

bool RunLock::isHeld(const fs::path& file) noexcept {
    const int descriptor = ::open(file.c_str(), O_RDWR | O_CLOEXEC);
    if (descriptor < 0)
        return false;
    const bool held = ::flock(descriptor, LOCK_EX | LOCK_NB) != 0;
    ::close(descriptor);
    return held;
}

}  // namespace noctis
