#pragma once

#include <filesystem>

namespace noctis {

/// Where the demo is: as installed beside the program, or where it was built.
std::filesystem::path demoFolder();

}  // namespace noctis
