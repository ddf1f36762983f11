#include "app/session/demo_folder.h"

#include <QCoreApplication>

#include <unistd.h>

namespace noctis {

namespace fs = std::filesystem;

fs::path demoFolder() {
    const fs::path installed =
        fs::path(QCoreApplication::applicationDirPath().toStdString()).parent_path() /
        "share/noctis/saltern_quay";
    std::error_code ignored;
    return fs::exists(installed, ignored) ? installed : fs::path(NOCTIS_DEMO_FOLDER);
}

bool isExample(const fs::path& project) {
    const fs::path folder = fs::absolute(project).parent_path();
    std::error_code ignored;
    return fs::equivalent(folder, demoFolder(), ignored) || ::access(folder.c_str(), W_OK) != 0;
}

}  // namespace noctis
