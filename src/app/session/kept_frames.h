#pragma once

#include "core/image/run_lock.h"

#include <filesystem>
#include <string>

namespace noctis {

/// Where frames are kept that are not saved yet, so that a crash costs nothing: a folder for each project
/// of each run.
class KeptFrames {
public:
    explicit KeptFrames(std::filesystem::path root);

    /// The file for the frame of a view.
    [[nodiscard]] std::filesystem::path fileOf(const std::string& view) const;
    /// Whether a file is one of a run's, this one or another.
    [[nodiscard]] bool holds(const std::filesystem::path& file) const;
    /// From now on for another project.
    void nextProject();
    /// Removes those of the open project.
    void clearProject() const noexcept;
    /// Removes those of runs that have ended.
    void clearEnded() const noexcept;
    /// Whether another run, known by its process, has not ended.
    [[nodiscard]] bool isAnotherRun(int process) const noexcept;

private:
    [[nodiscard]] std::filesystem::path folder() const;
    [[nodiscard]] std::filesystem::path lockOf(int process) const;
    std::filesystem::path m_root;
    RunLock m_lock;
    int m_project = 0;
};

}  // namespace noctis
