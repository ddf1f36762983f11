#pragma once

#include "core/image/image_file.h"

#include <filesystem>
#include <string>
#include <vector>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

/// The JSON file beside a picture: what integers mean, for people and for other programs.
std::filesystem::path sidecarFileOf(const std::filesystem::path& picture);

/// Noctis's attributes in the sidecar of a picture, where there is one. One that can't be used adds a warning.
Attributes sidecarOf(const std::filesystem::path& picture, std::vector<std::string>& warnings);

/// Errors   Error(BadSetting) if the sidecar's name belongs to a file that Noctis didn't write.
void requireOwnSidecar(const std::filesystem::path& picture);

/// Writes a picture and its sidecar, both or neither.
/// Errors   as writeImageFile and requireOwnSidecar.
void writeWithSidecar(const std::filesystem::path& picture, FilePart part,
                      const nlohmann::json& sidecar);

}  // namespace noctis
