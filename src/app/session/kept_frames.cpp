#include "app/session/kept_frames.h"

#include "core/passes/matte.h"

#include <cstdlib>

#include <fmt/format.h>
#include <unistd.h>

namespace noctis {

namespace fs = std::filesystem;

KeptFrames::KeptFrames(fs::path root) : m_root(std::move(root)), m_lock(lockOf(getpid())) {
    nextProject();
}

fs::path KeptFrames::lockOf(int process) const { return m_root / fmt::format("{}.lock", process); }

fs::path KeptFrames::folder() const { return m_root / fmt::format("{}.{}", getpid(), m_project); }

fs::path KeptFrames::fileOf(const std::string& view) const {
    return folder() / fmt::format("{:08x}.exr", murmurHash3(view));
}

bool KeptFrames::holds(const fs::path& file) const {
    return file.parent_path().parent_path() == m_root;
}

void KeptFrames::nextProject() {
    std::error_code ignored;
    do
        ++m_project;
    while (fs::exists(folder(), ignored));
}

void KeptFrames::clearProject() const noexcept {
    std::error_code ignored;
    fs::remove_all(folder(), ignored);
}

void KeptFrames::clearEnded() const noexcept {
    std::error_code ignored;
    for (const fs::directory_entry& entry : fs::directory_iterator(m_root, ignored)) {
        const int process = std::atoi(entry.path().filename().c_str());
        if (process > 0 && process != getpid() && !isAnotherRun(process))
            fs::remove_all(entry.path(), ignored);
    }
}

bool KeptFrames::isAnotherRun(int process) const noexcept {
    return process != getpid() && RunLock::isHeld(lockOf(process));
}

}  // namespace noctis
