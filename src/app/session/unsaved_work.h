#pragma once

#include "app/session/kept_frames.h"
#include "core/project/project.h"

#include <filesystem>
#include <optional>

namespace noctis {

/// A project that is not saved, as it can be opened again.
struct UnsavedProject {
    std::filesystem::path kept;
    std::filesystem::path file;  ///< its own; empty if it has none
};

/// Keeps what is not saved, so that a crash costs nothing: the project beside its own file, its frames in
/// a folder, and where they are to be found.
class UnsavedWork {
public:
    /// Reads what an earlier run left.
    explicit UnsavedWork(std::filesystem::path dataFolder);

    /// What an earlier run left, until it is taken up or declined.
    [[nodiscard]] const std::optional<UnsavedProject>& earlier() const noexcept {
        return m_earlier;
    }
    std::optional<UnsavedProject> takeEarlier();
    void declineEarlier();

    /// Keeps a project as it is now; what an earlier run left makes room, and stays.
    /// Errors   as saveProject.
    void keep(const Project& project, const std::filesystem::path& file);
    /// Forgets what was kept of the project in work.
    void forget(const std::filesystem::path& file);
    /// Keeps a project, as long as Noctis runs, while another takes its place.
    /// Errors   as saveProject.
    UnsavedProject leave(const Project& project, const std::filesystem::path& file);

    KeptFrames& frames() noexcept { return m_frames; }

private:
    void tell(const UnsavedProject& where);
    void makeRoom();
    [[nodiscard]] std::filesystem::path placeFile() const { return m_folder / "autosave-place"; }
    [[nodiscard]] std::filesystem::path aside() const;

    std::filesystem::path m_folder;
    KeptFrames m_frames;
    std::optional<UnsavedProject> m_earlier;
};

}  // namespace noctis
