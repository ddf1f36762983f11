#pragma once

#include <filesystem>

namespace noctis {

/// A file that is locked as long as a run lives, so that others can see it; the system unlocks it when
/// the run crashes, too. Where it can't be made there is none, and the run is taken to have ended.
class RunLock {
public:
    explicit RunLock(std::filesystem::path file);
    ~RunLock();
    RunLock(const RunLock&) = delete;
    RunLock& operator=(const RunLock&) = delete;

    /// Whether this run has it: not if another one does, or if the file can't be made.
    [[nodiscard]] bool held() const noexcept { return m_descriptor >= 0; }
    /// Whether a run that has this file lives.
    [[nodiscard]] static bool isHeld(const std::filesystem::path& file) noexcept;

private:
    std::filesystem::path m_file;
    int m_descriptor = -1;
};

}  // namespace noctis
