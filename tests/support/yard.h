#pragma once

#include "support/files.h"

namespace noctis::test {

/// A ground with a wall 9 m and a post 5 m from the first view.
inline std::filesystem::path yardFile(const Folder& folder, const std::string& extra = {}) {
    return folder.write(
        "yard.obj", "o ground\nv -20 0 20\nv 20 0 20\nv 20 0 -20\nv -20 0 -20\nf 1 2 3 4\n"
                    "o wall\nv -4 0 -5\nv 4 0 -5\nv 4 3 -5\nv -4 3 -5\nf 5 6 7 8\n"
                    "o post\nv -0.3 0 -1\nv 0.3 0 -1\nv 0.3 2.4 -1\nv -0.3 2.4 -1\nf 9 10 11 12\n" +
                        extra);
}

}  // namespace noctis::test
