#pragma once

#include "app/session/kept_frames.h"
#include "core/project/project.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// A project that is not saved, as it can be opened again.
struct UnsavedProject {
    std::filesystem::path kept;
    std::filesystem::path file;  ///< its own; empty if it has none
    int run = 0;                 ///< the process that kept it
    bool operator==(const UnsavedProject&) const = default;
};

/// Keeps what is not saved, so that a crash costs nothing: the project beside its own file, its frames in a
/// folder, and a list of where they are.
class UnsavedWork {
public:
    /// Reads what earlier runs left.
    explicit UnsavedWork(std::filesystem::path dataFolder);

    /// What runs that have ended left, each until it is taken up or declined.
    [[nodiscard]] const std::vector<UnsavedProject>& earlier() const noexcept { return m_earlier; }
    /// From now on it is the open project.
    void take(UnsavedProject left);
    /// Lets it go.
    void decline(const UnsavedProject& left);

    /// Keeps a project as it is now, apart from what other runs keep of it.
    /// Errors   as saveProject.
    void keep(const Project& project, const std::filesystem::path& file);
    /// Forgets what was kept of the open project.
    void forget();
    /// Keeps a project while another takes its place.
    /// Errors   as saveProject.
    UnsavedProject leave(const Project& project, const std::filesystem::path& file);

    KeptFrames& frames() noexcept { return m_frames; }

private:
    [[nodiscard]] std::vector<UnsavedProject> listed() const;
    void write(const std::vector<UnsavedProject>& list) const;
    void list(const UnsavedProject& project) const;
    /// As far as the disk allows; what remains is offered again.
    void unlist(const UnsavedProject& project) const noexcept;
    void drop(const UnsavedProject& project) const noexcept;

    std::filesystem::path m_folder;
    std::string m_run;  ///< a name that no other run has
    KeptFrames m_frames;
    std::vector<UnsavedProject> m_earlier;
    std::optional<UnsavedProject> m_own;  ///< of the open project
};

}  // namespace noctis
