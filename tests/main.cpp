#include "support/crash_report.h"

#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>

int main(int argc, char** argv) {
    noctis::test::reportCrashes();
    return Catch::Session().run(argc, argv);
}
