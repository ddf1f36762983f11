#pragma once

#include "core/project/project.h"

namespace noctis {

inline constexpr int kProjectVersion = 1;

/// The text of a project file; paths are relative to its folder.
std::string projectToText(const Project& project, const std::filesystem::path& folder,
                          const Catalogue& catalogue);

/// Errors   Error(BadFile) saying where it is damaged, Error(NewerVersion), Error(UnknownName,
/// BadSetting).
Project projectFromText(const std::string& text, const std::filesystem::path& folder,
                        const Catalogue& catalogue);

/// Written beside its place and renamed. Errors: Error(FileAccess).
void saveProject(const Project& project, const std::filesystem::path& path,
                 const Catalogue& catalogue);

/// text: set to what the file holds.
/// Errors   as projectFromText, with the file's name; Error(FileAccess).
Project openProject(const std::filesystem::path& path, const Catalogue& catalogue,
                    std::string* text = nullptr);

/// Where a run keeps unsaved work of a project: beside it, or for an unsaved one in the given folder. No two runs, by
/// their names, share a file.
std::filesystem::path autosavePath(const std::filesystem::path& projectPath,
                                   const std::filesystem::path& folderForUnsaved,
                                   const std::string& run);

}  // namespace noctis
