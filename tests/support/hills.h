#pragma once

#include "support/files.h"

#include <cmath>

#include <fmt/format.h>

namespace noctis::test {

/// A scene of 2 * side * side triangles, which takes a while to read.
inline std::filesystem::path hillsFile(const Folder& folder, int side) {
    std::string text;
    for (int j = 0; j <= side; ++j)
        for (int i = 0; i <= side; ++i)
            text += fmt::format("v {} {:.3f} {}\n", i, std::sin(0.1 * i) * std::cos(0.1 * j), j);
    for (int j = 0; j < side; ++j)
        for (int i = 0; i < side; ++i) {
            const int a = j * (side + 1) + i + 1;
            const int b = a + side + 1;
            text += fmt::format("f {0} {1} {2}\nf {2} {1} {3}\n", a, b, a + 1, b + 1);
        }
    return folder.write("hills.obj", text);
}

}  // namespace noctis::test
