#include "app/session/demo_folder.h"

#include "core/image/shipped.h"

#include <unistd.h>

namespace noctis {

namespace fs = std::filesystem;

fs::path demoFolder() { return shippedData("saltern_quay"); }

bool isExample(const fs::path& project) {
    const fs::path folder = fs::absolute(project).parent_path();
    std::error_code ignored;
    return fs::equivalent(folder, demoFolder(), ignored) || ::access(folder.c_str(), W_OK) != 0;
}

}  // namespace noctis
