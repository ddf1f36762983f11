#pragma once

#include <filesystem>

namespace demo {

/// Writes brass_heron.gltf: a standing heron, for turnarounds.
void writeHeron(const std::filesystem::path& folder);

/// Writes tide_stone.gltf: a stone tablet carved with waves and marks of the tide, for heights.
void writeTideStone(const std::filesystem::path& folder);

}  // namespace demo
