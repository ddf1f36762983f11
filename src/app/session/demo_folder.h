#pragma once

#include <filesystem>

namespace noctis {

/// Where the demo is: as installed beside the program, or where it was built.
std::filesystem::path demoFolder();

/// Whether a project stays as it is where it lies: the demo's, or in a folder that can't be written to. It
/// opens as one that was never saved, so that what is made of it is kept and saved elsewhere.
bool isExample(const std::filesystem::path& project);

}  // namespace noctis
