// The programs as they are installed, with nothing of the sources or the build in reach.
#include "support/files.h"

#include <cstdlib>

#include <catch2/catch.hpp>
#include <fmt/format.h>
#include <sys/wait.h>

using namespace noctis;
using test::Folder;

namespace {

/// The exit status of a command of the shell; what it says goes to a file.
int ran(const std::string& command, const std::filesystem::path& log) {
    const int status = std::system(fmt::format("{} > '{}' 2>&1", command, log.string()).c_str());
    return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

}  // namespace

TEST_CASE("an installation runs by itself: a standee's text, the demo, the window",
          "[cli][installed]") {
    const Folder folder;
    const std::string root = (folder / "root").string();
    const auto log = folder / "log";
    REQUIRE(ran(fmt::format("cmake --install '{}' --prefix '{}'", NOCTIS_BUILD_FOLDER, root),
                log) == 0);
    for (const std::string program : {"bin/noctis", "bin/noctis-cli"}) {
        INFO(program);
        const std::string text =
            readTextFile(std::filesystem::path(root) / program, std::size_t{1} << 30U);
        CHECK(text.find(NOCTIS_SOURCE_FOLDER) == std::string::npos);
    }
    const std::string demo = root + "/share/noctis/saltern_quay";
    folder.write("standee.json", R"({"format":"noctis-recipe","version":2,"steps":[
        {"step":"standee","settings":{"text":"QUAY","height":2,"position":[0,1,-6]}}]})");
    const auto finish = [&](const std::string& more) {
        return ran(fmt::format("'{0}/bin/noctis-cli' finish {1}", root, more), log);
    };
    const int status = finish(
        fmt::format("--recipe '{0}' --passes '{1}/beauty.exr' '{1}/depth.exr' --scale 1/4 -o '{2}'",
                    (folder / "standee.json").string(), demo, (folder / "o.png").string()));
    INFO(readTextFile(log));
    CHECK(status == 0);
    CHECK(finish(fmt::format("'{}/saltern_quay.noctis' --scale 1/4 -o '{}'", demo,
                             (folder / "p.png").string())) == 0);
    // The trial is there, too: a damaged picture is refused by it, not by its end.
    CHECK(std::filesystem::exists(std::filesystem::path(root) / NOCTIS_PROGRAM_FOLDER /
                                  "noctis-trial"));
    CHECK(ran(fmt::format(
                  "HOME='{0}' QT_QPA_PLATFORM=offscreen timeout -s TERM 10 '{1}/bin/noctis' --demo",
                  folder.path().string(), root),
              log) == 124);
    INFO(readTextFile(log));
}
