// What the command line must never do: replace what it reads, hang, or say that it did nothing when it did.
#include "core/image/image_file.h"
#include "core/passes/sidecar.h"
#include "support/cli.h"
#include "support/files.h"
#include "support/scenes.h"

#include <chrono>
#include <csignal>
#include <map>

#include <catch2/catch.hpp>
#include <fcntl.h>
#include <fmt/format.h>
#include <spawn.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace noctis;
using test::Folder;
using test::Outcome;
using test::run;

namespace {

namespace fs = std::filesystem;

/// A folder with what commands read, and how it looked.
class Inputs {
public:
    Inputs() {
        const Image grey = test::ramp(32, 32, {"Y"});
        const Image colour = test::ramp(32, 32, {"R", "G", "B"});
        for (const char* name : {"map_1_1.png", "grey.png", "a.1.png", "a.11.png"})
            picture(name, grey);
        for (const char* name : {"nrm.png", "skin.png", "standee.png"})
            picture(name, colour);
        writeImageFile(folder / "sky.exr", {{"", "", colour, SampleType::Float, {}}});
        writeImageFile(folder / "f.1.exr", {{"", "", colour, SampleType::Float, {}}});
        writeImageFile(folder / "f.11.exr", {{"", "", colour, SampleType::Float, {}}});
        folder.write("a.mtl", "newmtl skin\nKd 1 1 1\nmap_Kd -s 1 1 1 skin.png\n");
        folder.write("a.obj", "mtllib a.mtl\nusemtl skin\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
        folder.write("grey.png.json", R"({"weather": "fine"})");
        folder.write("r.json", R"({"format":"noctis-recipe","version":2,"steps":[
            {"step":"standee","settings":{"picture":"standee.png"}}]})");
        folder.write("p.noctis", R"({"format":"noctis-project","version":1,"scene":"a.obj",
            "pass_files":["f.1.exr"],"passes":[{"pass":"beauty","settings":{"panorama":"sky.exr"}}],
            "reliefs":[{"id":"r","from":"grey","files":["grey.png"],
                        "operations":[{"operation":"from_normals","settings":{"file":"nrm.png"}}]}],
            "recipe":{"format":"noctis-recipe","version":2,"steps":[]}})");
        for (const auto& entry : fs::directory_iterator(folder.path()))
            m_before[entry.path()] = readTextFile(entry.path());
    }
    [[nodiscard]] std::string operator()(const std::string& name) const {
        return (folder / name).string();
    }
    /// Whether all is as it was.
    void requireUntouched() const {
        for (const auto& [path, text] : m_before) {
            INFO(path);
            CHECK(readTextFile(path) == text);
        }
        CHECK(folder.count() == m_before.size());
    }

    const Folder folder;

private:
    void picture(const std::string& name, const Image& image) const {
        writeImageFile(folder / name, {{"", "", image, SampleType::Short, {}}});
    }

    std::map<fs::path, std::string> m_before;
};

/// The program itself, begun: a process with threads can't be copied to run it. Its messages go to log.
::pid_t begun(std::vector<std::string> words, const std::string& log) {
    words.insert(words.begin(), NOCTIS_CLI_PROGRAM);
    std::vector<char*> arguments;
    for (std::string& word : words)
        arguments.push_back(word.data());
    arguments.push_back(nullptr);
    posix_spawn_file_actions_t streams;
    posix_spawn_file_actions_init(&streams);
    for (const int stream : {STDOUT_FILENO, STDERR_FILENO})
        posix_spawn_file_actions_addopen(&streams, stream, log.c_str(),
                                         O_WRONLY | O_CREAT | O_APPEND, 0600);
    ::pid_t child = -1;
    REQUIRE(posix_spawn(&child, arguments[0], &streams, nullptr, arguments.data(), environ) == 0);
    posix_spawn_file_actions_destroy(&streams);
    return child;
}

/// Its exit status, or -1 if it died.
int statusOf(::pid_t child) {
    int status = 0;
    REQUIRE(::waitpid(child, &status, 0) == child);
    return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

}  // namespace

TEST_CASE("no command replaces what it reads, whatever names it", "[cli][losses]") {
    const Inputs in;
    const std::vector<std::vector<std::string>> commands{
        // A tile, a sequence's later frame, and settings of operations and steps.
        {"relief", in("map_1_1.png"), "--from", "grey", "--tiles", "2x2", "-o", in("map.png")},
        {"finish", "--recipe", in("r.json"), "--passes", in("f.#.exr"), "-o", in("f.1#.exr"),
         "--frames", "1-11"},
        {"relief", in("map_1_1.png"), "--from", "grey", "--set",
         "from_normals.file=" + in("nrm.png"), "-o", in("nrm.png")},
        {"finish", "--recipe", in("r.json"), "--passes", in("f.1.exr"), "-o", in("standee.png")},
        {"finish", "--recipe", in("r.json"), "--passes", in("f.1.exr"), "-o", in("r.json")},
        // A scene's files, seen from each command that reads one; a panorama.
        {"relief", in("a.obj"), "--from", "depth", "--plane", "fit", "--size", "32x32", "-o",
         in("skin.png")},
        {"finish", in("p.noctis"), "-o", in("skin.png")},
        {"finish", in("p.noctis"), "-o", in("sky.exr")},
        {"finish", in("p.noctis"), "-o", in("nrm.png")},
        {"finish", in("p.noctis"), "-o", in("grey.png")},
        {"finish", in("p.noctis"), "-o", in("p.noctis")},
        {"render", in("a.obj"), "-o", in("sky.exr"), "--size", "8x8", "--passes", "beauty",
         "--samples", "1", "--set", "beauty.panorama=" + in("sky.exr")},
        // A sidecar's name that is somebody else's.
        {"relief", in("map_1_1.png"), "--from", "grey", "-o", in("grey.png")},
    };
    for (const std::vector<std::string>& command : commands) {
        std::string words;
        for (const std::string& word : command)
            words += word + " ";
        INFO(words);
        const Outcome outcome = run(command);
        INFO(outcome.err);
        CHECK(outcome.status != 0);
        CHECK_THAT(outcome.err, Catch::Contains("choose another name") ||
                                    Catch::Contains("can't be written as"));
        in.requireUntouched();
    }
}

TEST_CASE("what nobody reads is replaced as before", "[cli][losses]") {
    const Inputs in;
    for (int i = 0; i < 2; ++i) {
        CHECK(run({"finish", in("p.noctis"), "-o", in("out.png")}).status == 0);
        CHECK(run({"relief", in("map_1_1.png"), "--from", "grey", "-o", in("h.png")}).status == 0);
        CHECK(run({"relief", in("map_1_1.png"), "--from", "grey", "--tiles", "2x2", "-o",
                   in("t.png")})
                  .status == 0);
    }
    CHECK(fs::exists(sidecarFileOf(in("h.png"))));
    CHECK(fs::exists(sidecarFileOf(in("t_2_2.png"))));
}

TEST_CASE("numbers beyond all sense are refused at once, with the limit", "[cli][losses]") {
    const Inputs in;
    const auto began = std::chrono::steady_clock::now();
    for (const char* frames : {"2147483640-2147483647", "1-100001", "-2147483648-2147483647"}) {
        INFO(frames);
        const Outcome outcome = run({"finish", "--recipe", in("r.json"), "--passes", in("f.#.exr"),
                                     "-o", in("o.#.png"), std::string("--frames=") + frames});
        CHECK(outcome.status != 0);
    }
    CHECK_THAT(run({"render", in("a.obj"), "-o", in("o.#.exr"), "--frames", "1-100001"}).err,
               Catch::Contains("at most 100000"));
    CHECK_THAT(run({"finish", "--recipe", in("r.json"), "--passes", in("f.#.exr"), "-o",
                    in("o.#.png"), "--frames", "1-9999999999"})
                   .err,
               Catch::Contains("two whole numbers"));
    CHECK_THAT(run({"relief", in("map_1_1.png"), "--from", "grey", "--tiles", "99999x99999", "-o",
                    in("m.png")})
                   .err,
               Catch::Contains("tiles"));
    CHECK(std::chrono::steady_clock::now() - began < std::chrono::seconds(20));
}

TEST_CASE("recipes of absurd length or depth are refused at once", "[cli][losses]") {
    const Inputs in;
    std::string steps;
    for (int i = 0; i < 5'000; ++i)
        steps += std::string(i == 0 ? "" : ",") + R"({"step":"fog","on":false})";
    const std::string deep(100'000, '[');
    std::string wheres = R"("l0":{"by":"depth"})";
    for (int i = 1; i < 29; ++i)
        wheres += fmt::format(R"(,"l{0}":{{"any":[{{"same_as":"l{1}"}},{{"same_as":"l{1}"}}]}})", i,
                              i - 1);
    const std::string head = R"({"format":"noctis-recipe","version":2,"steps":[)";
    const auto began = std::chrono::steady_clock::now();
    const auto finished = [&](const std::string& text) {
        const auto file = in.folder.write("x.json", text);
        return run(
            {"finish", "--recipe", file.string(), "--passes", in("f.1.exr"), "-o", in("o.png")});
    };
    const Outcome many = finished(head + steps + "]}");
    CHECK(many.status == 3);
    CHECK_THAT(many.err, Catch::Contains("5000 steps; at most 1000"));
    for (const std::string field : {"steps", "wheres", "lights", "anything"}) {
        INFO(field);
        const Outcome outcome =
            finished(R"({"format":"noctis-recipe","version":2,")" + field + "\":" + deep + "}");
        CHECK(outcome.status == 3);
        CHECK_THAT(outcome.err, Catch::Contains("x.json"));
    }
    const Outcome wide =
        finished(head + R"({"step":"fog","where":{"same_as":"l28"}}],"wheres":{)" + wheres + "}}");
    CHECK(wide.status == 3);
    CHECK_THAT(wide.err, Catch::Contains("more than 4096 parts"));
    CHECK(std::chrono::steady_clock::now() - began < std::chrono::seconds(60));
}

TEST_CASE("a pipe in the place of any file is refused", "[cli][losses]") {
    const Inputs in;
    const std::string pipe = in("pipe");
    REQUIRE(::mkfifo(pipe.c_str(), 0600) == 0);
    REQUIRE(::mkfifo((in("map_1_1.png") + ".json").c_str(), 0600) == 0);
    CHECK(run({"finish", pipe, "-o", in("o.png")}).status == 4);
    CHECK(run({"finish", "--recipe", pipe, "--passes", in("f.1.exr"), "-o", in("o.png")}).status ==
          4);
    CHECK(run({"finish", "--recipe", "/dev/zero", "--passes", in("f.1.exr"), "-o", in("o.png")})
              .status == 4);
    CHECK(run({"passes", pipe}).status == 4);
    CHECK(run({"scene", pipe}).status == 4);
    // Without its sidecar a picture is read as any other.
    const Outcome outcome = run({"passes", in("map_1_1.png")});
    CHECK(outcome.status == 0);
    CHECK_THAT(outcome.out + outcome.err, Catch::Contains("map_1_1.png.json"));
}

TEST_CASE("signals that ask for an end stop the work, and it is said what was written",
          "[cli][losses]") {
    const Inputs in;
    for (const int signal : {SIGINT, SIGTERM, SIGHUP}) {
        INFO(signal);
        const std::string log = in(fmt::format("log{}", signal));
        const ::pid_t child = begun({"render", in("a.obj"), "-o", in("s.##.exr"), "--size", "64x64",
                                     "--passes", "beauty", "--samples", "4", "--frames", "1-50000"},
                                    log);
        for (int i = 0; i < 3000 && !fs::exists(in("s.02.exr")); ++i)
            ::usleep(10'000);
        REQUIRE(fs::exists(in("s.02.exr")));
        ::kill(child, signal);
        CHECK(statusOf(child) == 5);
        int files = 0;
        for (const auto& entry : fs::directory_iterator(in.folder.path())) {
            const std::string name = entry.path().filename().string();
            CHECK_FALSE(name.starts_with(".noctis-part"));
            if (!name.starts_with("s."))
                continue;
            ++files;
            CHECK(readFileInfo(entry.path()).width == 64);
            fs::remove(entry.path());
        }
        CHECK_THAT(readTextFile(log),
                   Catch::Contains(fmt::format("stopped; {} files were", files)));
    }
}

TEST_CASE("a file that grows beyond its limit ends like a full disk", "[cli][losses]") {
    const Inputs in;
    ::rlimit before{};
    ::getrlimit(RLIMIT_FSIZE, &before);
    const ::rlimit limit{1000, before.rlim_max};
    ::setrlimit(RLIMIT_FSIZE, &limit);
    const ::pid_t child = begun({"finish", in("p.noctis"), "-o", in("o.tif")}, "/dev/null");
    ::setrlimit(RLIMIT_FSIZE, &before);
    CHECK(statusOf(child) == 4);
    in.requireUntouched();
}
