#include "core/image/shipped.h"

namespace noctis {

namespace fs = std::filesystem;

namespace {

/// The folder that holds bin.
fs::path root() {
    std::error_code failed;
    return fs::read_symlink("/proc/self/exe", failed).parent_path().parent_path();
}

}  // namespace

fs::path shippedData(std::string_view name) { return root() / NOCTIS_DATA_FOLDER / name; }

fs::path shippedProgram(std::string_view name) { return root() / NOCTIS_PROGRAM_FOLDER / name; }

}  // namespace noctis
