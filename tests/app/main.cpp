#include "app/look/theme.h"
#include "support/crash_report.h"

#include <QApplication>

#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>

int main(int argc, char** argv) {
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM"))
        qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    noctis::theme::apply(application);
    noctis::test::reportCrashes();
    return Catch::Session().run(argc, argv);
}
