#pragma once

#include <filesystem>
#include <string_view>

namespace noctis {

// What ships with Noctis is found relative to the running program, as installed: no path of the machine it was built
// on is compiled in. Build folders are laid out alike; see cmake/layout.cmake.

/// Data, as "fonts/NoctisSans-Medium.otf".
std::filesystem::path shippedData(std::string_view name);

/// A program that isn't for people.
std::filesystem::path shippedProgram(std::string_view name);

}  // namespace noctis
