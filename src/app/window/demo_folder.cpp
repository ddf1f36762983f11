#include "app/window/demo_folder.h"

#include <QCoreApplication>

namespace noctis {

namespace fs = std::filesystem;

fs::path demoFolder() {
    const fs::path installed =
        fs::path(QCoreApplication::applicationDirPath().toStdString()).parent_path() /
        "share/noctis/saltern_quay";
    std::error_code ignored;
    return fs::exists(installed, ignored) ? installed : fs::path(NOCTIS_DEMO_FOLDER);
}

}  // namespace noctis
