#include "core/image/image_file.h"
#include "support/cli.h"
#include "support/files.h"

#include <cmath>

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <sys/stat.h>

using namespace noctis;
using Json = nlohmann::json;
using test::Folder;
using test::Outcome;
using test::run;

namespace {

/// A ground with a wall on it.
std::string wallScene(const Folder& folder) {
    return folder
        .write("wall scene.obj",
               "o ground\nv -20 0 20\nv 20 0 20\nv 20 0 -20\nv -20 0 -20\nf 1 2 3 4\n"
               "o wall\nv -4 0 -5\nv 4 0 -5\nv 4 3 -5\nv -4 3 -5\nf 5 6 7 8\n")
        .string();
}

std::string rendered(const Folder& folder) {
    const std::string file = (folder / "passes.exr").string();
    const Outcome outcome = run({"render", wallScene(folder), "-o", file, "--size", "64x36",
                                 "--passes", "beauty,depth,occlusion,normal", "--samples", "4"});
    REQUIRE(outcome.status == 0);
    return file;
}

}  // namespace

TEST_CASE("scene lists what is in a scene, as text and as one JSON document", "[cli]") {
    const Folder folder;
    const Outcome text = run({"scene", wallScene(folder)});
    CHECK(text.status == 0);
    CHECK(text.out.find("4 triangles") != std::string::npos);
    const Json json = run({"scene", wallScene(folder), "--json"}).json();
    CHECK(json["triangles"] == 4);
    CHECK(json["objects"] == Json{"ground", "wall"});
    CHECK(json["bounds"]["max"][1] == 3.0);
    CHECK(json["views"][0]["name"] == "framing");
    CHECK(json["views"][0]["orthographic"] == false);
    for (const char* field : {"materials", "lights", "locators", "warnings"})
        CHECK(json[field].is_array());
}

TEST_CASE("render, passes, probe and finish go together", "[cli]") {
    const Folder folder;
    const std::string file = rendered(folder);

    const Json passes = run({"passes", file, "--json"}).json();
    CHECK(passes["files"][0]["size"] == Json{64, 36});
    REQUIRE(passes["files"][0]["passes"].size() == 4);
    CHECK(passes["files"][0]["passes"][1]["kind"] == "depth");
    CHECK(
        passes["files"][0]["passes"][1]["interpretation"].get<std::string>().starts_with("metres"));
    CHECK(passes["files"][0]["passes"][1]["range"][0] > 1.0);

    const Json probes = run({"probe", file, "--at", "32,20", "--at", "0,0", "--json"}).json();
    REQUIRE(probes["probes"].size() == 2);
    CHECK(probes["probes"][0]["passes"]["depth"]["unit"] == "m");
    CHECK(probes["probes"][0]["passes"]["normal"]["value"].size() == 3);
    CHECK(probes["probes"][1]["passes"]["depth"]["value"][0] == "inf");

    folder.write(
        "r.json",
        R"({"format":"noctis-recipe","version":2,"steps":[{"step":"fog","settings":{"density":10,"start":0,"colour":[0.5,0.25,0.125]}}]})");
    const std::string out = (folder / "out.exr").string();
    CHECK(run({"finish", "--recipe", (folder / "r.json").string(), "--passes", file, "-o", out})
              .status == 0);
    const FileInfo info = readFileInfo(out);
    const Image picture = readFileChannels(info, {2, 1, 0});
    CHECK(picture(32, 20, 0) == Approx(0.5F).epsilon(1e-3));
    CHECK(picture(0, 0, 2) == Approx(0.125F).epsilon(1e-3));

    const std::string half = (folder / "half.png").string();
    CHECK(run({"finish", "--recipe", (folder / "r.json").string(), "--passes", file, "-o", half,
               "--scale", "1/2"})
              .status == 0);
    CHECK(readFileInfo(half).width == 32);
}

TEST_CASE("finish mixes groups, and the whole result with the source, by their amounts",
          "[cli][group]") {
    const Folder folder;
    const std::string file = rendered(folder);
    const std::string fog =
        R"({"step":"fog","settings":{"density":10,"start":0,"colour":[0.5,0.25,0.125]}})";
    folder.write("plain.json", R"({"format":"noctis-recipe","version":2,"steps":[)" + fog + "]}");
    folder.write("group.json", R"({"format":"noctis-recipe","version":2,"steps":[)"
                               R"({"group":"air","on":true,"amount":0.3,"steps":[)" +
                                   fog + "]}]}");
    const auto finished = [&](const char* recipe, std::vector<std::string> more = {}) {
        const std::string out = (folder / "out.exr").string();
        std::vector<std::string> words{"finish",   "--recipe", (folder / recipe).string(),
                                       "--passes", file,       "-o",
                                       out,        "--bits",   "32"};
        words.insert(words.end(), more.begin(), more.end());
        REQUIRE(run(words).status == 0);
        return readFileChannels(readFileInfo(out), {0, 1, 2});
    };
    const Image whole = finished("plain.json");
    const Image none = finished("plain.json", {"--amount", "0"});
    const Image third = finished("plain.json", {"--amount", "0.3"});
    const Image group = finished("group.json");
    for (int c = 0; c < 3; ++c) {
        CHECK(whole(32, 20, c) != none(32, 20, c));
        const float wanted = none(32, 20, c) + 0.3F * (whole(32, 20, c) - none(32, 20, c));
        CHECK(third(32, 20, c) == Approx(wanted).epsilon(1e-4));
        CHECK(group(32, 20, c) == Approx(wanted).epsilon(1e-4));
    }
    for (const char* wrong : {"1.5", "-0.1", "nan"})
        CHECK(run({"finish", "--recipe", (folder / "plain.json").string(), "--passes", file, "-o",
                   (folder / "o.exr").string(), "--amount", wrong})
                  .status == 2);
}

TEST_CASE("finish obeys keys: numbered files of a still, each as its frame says", "[cli][keys]") {
    const Folder folder;
    const std::string file = rendered(folder);
    folder.write("keyed.json", R"({"format":"noctis-recipe","version":2,"steps":[
        {"step":"grade","keys":{"exposure":[{"frame":1,"value":0},{"frame":3,"value":2}]},
         "flicker":{"gamma":{"amount":0.3,"per_second":5,"seed":2}}}]})");
    folder.write("plain.json", R"({"format":"noctis-recipe","version":2,"steps":[
        {"step":"grade","settings":{"exposure":1}}]})");
    const auto finish = [&](const char* recipe, const char* out, std::vector<std::string> more) {
        std::vector<std::string> words{"finish", "--recipe", (folder / recipe).string(), "--passes",
                                       file,     "-o",       (folder / out).string(),    "--bits",
                                       "32"};
        words.insert(words.end(), more.begin(), more.end());
        REQUIRE(run(words).status == 0);
    };
    const auto valueOf = [&](const char* name) {
        return readFileChannels(readFileInfo(folder / name), {0})(32, 20, 0);
    };
    finish("keyed.json", "k.##.exr", {"--frames", "1-4"});
    for (const char* name : {"k.01.exr", "k.02.exr", "k.03.exr", "k.04.exr"})
        CHECK(std::filesystem::exists(folder / name));
    CHECK(valueOf("k.03.exr") > 2.0F * valueOf("k.01.exr"));
    // Another range, another rate: seconds count from frame 1.
    finish("keyed.json", "r.##.exr", {"--frames", "3-3"});
    CHECK(valueOf("r.03.exr") == valueOf("k.03.exr"));
    finish("keyed.json", "s.##.exr", {"--frames", "3-3", "--rate", "12"});
    CHECK(valueOf("s.03.exr") != valueOf("k.03.exr"));
    // Without keys, every frame is the same picture.
    finish("plain.json", "p.##.exr", {"--frames", "1-2"});
    CHECK(valueOf("p.01.exr") == valueOf("p.02.exr"));
    CHECK(run({"finish", "--recipe", (folder / "plain.json").string(), "--passes", file, "-o",
               (folder / "o.exr").string(), "--rate", "0"})
              .status == 2);
}

TEST_CASE("a project's numbered files begin at 0 s with their first, and missing ones are bridged",
          "[cli][keys]") {
    const Folder folder;
    const std::string file = rendered(folder);
    for (const char* name : {"q.0011.exr", "q.0012.exr", "q.0015.exr"})
        std::filesystem::copy_file(file, folder / name);
    const std::string recipe = R"({"format":"noctis-recipe","version":2,"steps":[
        {"step":"grade","flicker":{"exposure":{"amount":0.9,"per_second":5,"seed":2}},
         "settings":{"exposure":1}}]})";
    folder.write("walk.noctis",
                 R"({"format":"noctis-project","version":1,"pass_files":["q.0011.exr"],"recipe":)" +
                     recipe + "}");
    folder.write("still.json", recipe);
    const auto valueOf = [&](const char* name) {
        return readFileChannels(readFileInfo(folder / name), {0})(32, 20, 0);
    };
    const auto walked = [&](const std::string& frames, std::vector<std::string> more) {
        std::vector<std::string> words{
            "finish", (folder / "walk.noctis").string(), "--frames", frames,
            "-o",     (folder / "w.##.exr").string(),    "--bits",   "32"};
        words.insert(words.end(), more.begin(), more.end());
        return run(words);
    };
    REQUIRE(walked("11-12", {}).status == 0);
    REQUIRE(run({"finish", "--recipe", (folder / "still.json").string(), "--passes", file,
                 "--frames", "1-2", "-o", (folder / "s.##.exr").string(), "--bits", "32"})
                .status == 0);
    CHECK(valueOf("w.11.exr") == valueOf("s.01.exr"));
    CHECK(valueOf("w.12.exr") == valueOf("s.02.exr"));
    CHECK(valueOf("w.12.exr") != valueOf("w.11.exr"));

    const Outcome missing = walked("13-13", {});
    CHECK(missing.status != 0);
    CHECK_FALSE(std::filesystem::exists(folder / "w.13.exr"));
    const Outcome bridged = walked("13-13", {"--bridge"});
    CHECK(bridged.status == 0);
    CHECK_THAT(bridged.err, Catch::Contains("frame 13 is missing; frame 12 stands in for it"));
    CHECK(std::filesystem::exists(folder / "w.13.exr"));
}

TEST_CASE("finish never replaces what it reads", "[cli]") {
    const Folder folder;
    const std::string passes = rendered(folder);
    const std::string recipe =
        folder.write("r.json", R"({"format": "noctis-recipe", "version": 2, "steps": []})");
    const std::string before = readTextFile(passes);
    for (const std::string& target : {passes, recipe}) {
        const Outcome refused =
            run({"finish", "--recipe", recipe, "--passes", passes, "-o", target});
        CHECK(refused.status == 2);
        CHECK_THAT(refused.err, Catch::Contains("choose another name"));
    }
    CHECK(readTextFile(passes) == before);
    const std::string scene = wallScene(folder);
    CHECK(run({"render", scene, "-o", scene}).status == 2);
}

TEST_CASE("names that are not UTF-8 are read as Latin-1, reported, and rendered", "[cli]") {
    const Folder folder;
    const std::string scene = folder.write(
        "names.obj", "o K\xf6rper\nv -4 0 -5\nv 4 0 -5\nv 4 3 -5\nv -4 3 -5\nf 1 2 3 4\n");
    const std::string file = (folder / "mattes.exr").string();
    const Outcome outcome =
        run({"render", scene, "-o", file, "--size", "16x9", "--passes", "depth,objects"});
    CHECK(outcome.status == 0);
    CHECK_THAT(outcome.err, Catch::Contains("Körper is not UTF-8"));
    CHECK_THAT(run({"probe", file, "--at", "8,4"}).out, Catch::Contains("Körper"));
    CHECK(run({"scene", scene, "--json"}).json()["objects"] == Json{"Körper"});
}

TEST_CASE("finish writes where a step works, and lights by their names", "[cli]") {
    const Folder folder;
    const std::string passes = rendered(folder);
    const auto finish = [&](const std::string& recipe, std::vector<std::string> more) {
        const std::string file = folder.write("recipe.json", recipe).string();
        std::vector<std::string> all{
            "finish", "--recipe", file, "--passes", passes, "-o", (folder / "out.exr").string()};
        all.insert(all.end(), more.begin(), more.end());
        return run(all);
    };
    const std::string grade =
        R"({"format":"noctis-recipe","version":2,"steps":[{"step":"grade","id":"g",
            "where":{"by":"depth","to":1000}}]})";
    CHECK(finish(grade, {"--matte", "g"}).status == 0);
    const FileInfo info = readFileInfo(folder / "out.exr");
    REQUIRE(info.channels.size() == 1);
    const Image matte = readFileChannels(info, {0});
    CHECK(matte(32, 18, 0) == 1.0F);  // the wall
    CHECK(matte(32, 2, 0) == 0.0F);   // the sky
    CHECK(finish(grade, {"--matte", "none"}).err.find("none") != std::string::npos);

    const auto relight = [](const std::string& lights) {
        return R"({"format":"noctis-recipe","version":2,"steps":[{"step":"relight",
                   "settings":{"light":"mine"}}])" +
               lights + "}";
    };
    CHECK(finish(relight(R"(,"lights":{"mine":{"kind":"sun","towards":[0,1,0]}})"), {}).status ==
          0);
    const Outcome missing = finish(relight(""), {});
    CHECK(missing.status != 0);
    CHECK(missing.err.find("mine") != std::string::npos);
    const Outcome bad = finish(relight(R"(,"lights":{"mine":{"kind":"candle"}})"), {});
    CHECK(bad.status == 3);
    CHECK(bad.err.find("mine") != std::string::npos);
}

TEST_CASE("finish runs a saved project", "[cli]") {
    const Folder folder;
    rendered(folder);
    folder.write(
        "work.noctis",
        R"({"format":"noctis-project","version":1,"pass_files":["passes.exr"],"recipe":{"steps":[{"step":"depth_of_field","settings":{"focus":9}}]}})");
    CHECK(run({"finish", (folder / "work.noctis").string(), "-o", (folder / "o.tif").string()})
              .status == 0);
    CHECK(readFileInfo(folder / "o.tif").height == 36);
}

TEST_CASE("render takes settings, a seed, a number of threads and a traced lens", "[cli]") {
    const Folder folder;
    const std::string scene = wallScene(folder);
    const auto bytes = [&](std::vector<std::string> more) {
        std::vector<std::string> all{"render",    scene,   "-o",       (folder / "x.exr").string(),
                                     "--size",    "32x18", "--passes", "occlusion,beauty",
                                     "--samples", "4"};
        all.insert(all.end(), more.begin(), more.end());
        CHECK(run(all).status == 0);
        return readTextFile(folder / "x.exr");
    };
    const std::string plain = bytes({});
    CHECK(bytes({"--threads", "1"}) == plain);
    CHECK(bytes({"--seed", "5"}) != plain);
    CHECK(bytes({"--set", "occlusion.reach=0.5"}) != plain);
    CHECK(bytes({"--lens", "traced", "--f-number", "0.5", "--focus", "3", "--focal-length", "80",
                 "--sensor", "36"}) != plain);
}

TEST_CASE("steps lists the catalogue with units, ranges and defaults", "[cli]") {
    const Json json = run({"steps", "--json"}).json();
    REQUIRE(json["steps"].size() >= 7);
    CHECK(json["criteria"].size() >= 20);
    const Json fog = run({"steps", "fog", "--json"}).json()["steps"][0];
    CHECK(fog["phase"] == "air");
    const Json density = fog["parameters"][0];
    CHECK(density["id"] == "density");
    CHECK(density["unit"] == "1/m");
    CHECK(density["min"] == 0.0);
    CHECK(density["default"].get<double>() == Approx(0.02));
    CHECK(run({"steps", "fog"}).out.find("contrast falls") != std::string::npos);
}

TEST_CASE("exit status and messages say what is wrong and what to do", "[cli]") {
    const Folder folder;
    const std::string scene = wallScene(folder);
    const std::string file = rendered(folder);
    const std::string out = (folder / "o.exr").string();
    struct Case {
        std::vector<std::string> arguments;
        int status;
        std::string word;
    };
    folder.write("bad.json", "{");
    folder.write("unknown.json",
                 R"({"format":"noctis-recipe","version":2,"steps":[{"step":"frog"}]})");
    folder.write("noise.exr", "not an image");
    const std::vector<Case> cases{
        {{}, 2, "a command is missing; choose one of scene, render"},
        {{"dance", scene}, 2, "dance is not a command; choose one of scene, render"},
        {{"render", scene, "-o", out, "--sampels", "4"}, 2, "see noctis-cli render --help"},
        {{"scene"}, 2, "SCENE"},
        {{"scene", (folder / "none.obj").string()}, 4, "none.obj"},
        {{"scene", folder.write("noise.obj", "hello").string()}, 3, "noise.obj"},
        {{"render", scene, "-o", out, "--passes", "smell"}, 2, "smell"},
        {{"render", scene, "-o", out, "--size", "0x10"}, 2, "0x10"},
        {{"render", scene, "-o", out, "--size", "wide"}, 2, "--size"},
        {{"render", scene, "-o", out, "--set", "occlusion.reach=-3"}, 2, "reach"},
        {{"render", scene, "-o", out, "--view", "moon"}, 2, "framing"},
        {{"render", scene, "-o", "/nowhere/o.exr", "--size", "8x8", "--samples", "1"},
         4,
         "/nowhere/o.exr"},
        {{"passes", (folder / "noise.exr").string()}, 3, "noise.exr"},
        {{"probe", file, "--at", "500,2"}, 2, "64 x 36"},
        {{"probe", file, "--at", "x"}, 2, "--at"},
        {{"steps", "frog"}, 2, "frog"},
        {{"finish", "-o", out}, 2, "--recipe"},
        {{"finish", "--recipe", (folder / "bad.json").string(), "--passes", file, "-o", out},
         3,
         "bad.json"},
        {{"finish", "--recipe", (folder / "unknown.json").string(), "--passes", file, "-o", out},
         3,
         "frog"},
        {{"finish", "--recipe", (folder / "none.json").string(), "--passes", file, "-o", out},
         4,
         "none.json"},
    };
    for (const Case& each : cases) {
        const Outcome outcome = run(each.arguments);
        INFO((each.arguments.empty() ? std::string("nothing") : each.arguments.back())
             << ": " << outcome.err);
        CHECK(outcome.status == each.status);
        CHECK(outcome.err.find("noctis-cli: ") != std::string::npos);
        CHECK(outcome.err.find(each.word) != std::string::npos);
        CHECK(outcome.out.empty());
    }
    CHECK_FALSE(std::filesystem::exists(out));
}

TEST_CASE("long work reports progress in plain lines where there is no terminal", "[cli]") {
    const Folder folder;
    const Outcome outcome = run({"render", wallScene(folder), "-o", (folder / "a.exr").string(),
                                 "--size", "64x36", "--passes", "beauty", "--samples", "8"});
    CHECK(outcome.err.find("rendering: 100 %") != std::string::npos);
    CHECK(outcome.err.find('\r') == std::string::npos);
}

TEST_CASE("render makes a pass for each light and group, and lists the names there are", "[cli]") {
    const Folder folder;
    const std::string scene = wallScene(folder);
    const std::string file = (folder / "light.exr").string();
    const Outcome made = run({"render", scene, "-o", file, "--size", "32x18", "--samples", "2",
                              "--passes", "light,shadow,diffuse.direct,behind.depth"});
    REQUIRE(made.status == 0);
    const Json passes = run({"passes", file, "--json"}).json()["files"][0]["passes"];
    std::vector<std::string> names;
    for (const Json& pass : passes)
        names.push_back(pass["name"]);
    CHECK(names == std::vector<std::string>{"light.key light", "light.sky", "shadow.key light",
                                            "shadow.environment", "diffuse.direct",
                                            "behind.depth"});
    CHECK(passes[0]["kind"] == "light");
    const Outcome wrong = run({"render", scene, "-o", file, "--passes", "shadow.moon"});
    CHECK(wrong.status != 0);
    CHECK(wrong.err.find("there is no light moon; there are key light") != std::string::npos);
    const Outcome unknown = run({"render", scene, "-o", file, "--passes", "halo"});
    CHECK(unknown.err.find("no pass halo") != std::string::npos);
}

TEST_CASE("beauty's settings shape light passes that come without it", "[cli]") {
    const Folder folder;
    const std::string file = (folder / "light.exr").string();
    REQUIRE(run({"render", wallScene(folder), "-o", file, "--size", "16x9", "--passes",
                 "diffuse.colour", "--samples", "1", "--set", "beauty.clay=on",
                 "beauty.clay_colour=0.25,0.5,0.75"})
                .status == 0);
    const Json probe = run({"probe", file, "--at", "8,5", "--json"}).json();
    const Json value = probe["probes"][0]["passes"]["diffuse.colour"]["value"];
    CHECK(value[0].get<double>() == Approx(0.25).epsilon(1e-3));
    CHECK(value[2].get<double>() == Approx(0.75).epsilon(1e-3));
}

TEST_CASE("a pass that leaves things out says so on the error stream", "[cli]") {
    const Folder folder;
    const Outcome made =
        run({"render", wallScene(folder), "-o", (folder / "d.exr").string(), "--size", "32x18",
             "--passes", "depth,uv", "--set", "depth.only=wall"});
    REQUIRE(made.status == 0);
    CHECK(made.err.find("warning: depth: Leaves out 1 visible object: ground.") !=
          std::string::npos);
    CHECK(made.err.find("warning: uv:") != std::string::npos);
}

TEST_CASE("a range of frames is written one file each and goes on where it stopped", "[cli]") {
    const Folder folder;
    const std::string scene = wallScene(folder);
    const std::string pattern = (folder / "f.##.exr").string();
    REQUIRE(run({"render", scene, "-o", pattern, "--size", "16x9", "--passes", "depth,vectors",
                 "--frames", "3-5"})
                .status == 0);
    for (const char* name : {"f.03.exr", "f.04.exr", "f.05.exr"})
        CHECK(std::filesystem::exists(folder / name));
    const Outcome again = run({"render", scene, "-o", pattern, "--size", "16x9", "--passes",
                               "depth", "--frames", "3-6", "--resume"});
    CHECK(again.status == 0);
    CHECK(again.err.find("kept 3 frames") != std::string::npos);
    CHECK(std::filesystem::exists(folder / "f.06.exr"));
    CHECK(run({"render", scene, "-o", pattern, "--frames", "9-3"}).status == 2);
    CHECK(run({"render", scene, "-o", pattern, "--frames", "nine"}).status == 2);
}

TEST_CASE("a turnaround is rendered from all sides", "[cli]") {
    const Folder folder;
    const std::string scene = wallScene(folder);
    REQUIRE(
        run({"render", scene, "-o", (folder / "t.#.exr").string(), "--size", "32x32", "--passes",
             "depth", "--turnaround", "wall", "--count", "2", "--elevation", "0", "--parallel"})
            .status == 0);
    // From the front and from behind, the wall is as far and stands in the middle.
    const auto middle = [&](const char* name) {
        return run({"probe", (folder / name).string(), "--at", "16,12", "--json"})
            .json()["probes"][0]["passes"]["depth"]["value"][0]
            .get<double>();
    };
    CHECK(middle("t.1.exr") == Approx(middle("t.2.exr")).epsilon(1e-3));
    const Outcome wrong = run({"render", scene, "-o", (folder / "t.#.exr").string(), "--passes",
                               "depth", "--turnaround", "heron"});
    CHECK(wrong.status != 0);
    CHECK(wrong.err.find("no object, group or material heron") != std::string::npos);
}

TEST_CASE("one layered part keeps what each pass is", "[cli]") {
    const Folder folder;
    const std::string file = (folder / "one.exr").string();
    REQUIRE(run({"render", wallScene(folder), "-o", file, "--size", "16x9", "--one-part",
                 "--samples", "1", "--passes", "beauty,depth,normal,shadow.environment", "--set",
                 "normal.space=camera"})
                .status == 0);
    const Json passes = run({"passes", file, "--json"}).json()["files"][0]["passes"];
    REQUIRE(passes.size() == 4);
    for (const Json& pass : passes) {
        if (pass["name"] == "depth")
            CHECK(pass["interpretation"].dump().find("metres") != std::string::npos);
        if (pass["name"] == "shadow.environment")
            CHECK(pass["kind"] == "shadow");
    }
}

TEST_CASE("finish runs a recipe over a range of frames, and a missing one does not stop it",
          "[cli]") {
    const Folder folder;
    REQUIRE(run({"render", wallScene(folder), "-o", (folder / "p.##.exr").string(), "--size",
                 "16x9", "--samples", "1", "--passes", "beauty,distance,depth", "--frames", "1-3"})
                .status == 0);
    const auto recipe = folder.write(
        "r.json", R"({"format":"noctis-recipe","version":2,"steps":[{"step":"fog"}]})");
    const std::vector<std::string> command{"finish",
                                           "--recipe",
                                           recipe.string(),
                                           "--passes",
                                           (folder / "p.##.exr").string(),
                                           "-o",
                                           (folder / "out.##.exr").string(),
                                           "--frames"};
    auto all = command;
    all.emplace_back("1-3");
    REQUIRE(run(all).status == 0);
    for (const char* name : {"out.01.exr", "out.02.exr", "out.03.exr"})
        CHECK(std::filesystem::exists(folder / name));
    auto beyond = command;
    beyond.emplace_back("3-5");
    const Outcome outcome = run(beyond);
    CHECK(outcome.status == 4);
    CHECK(outcome.err.find("frame 4:") != std::string::npos);
    CHECK(outcome.err.find("2 of 3 frames failed") != std::string::npos);
    CHECK(std::filesystem::exists(folder / "out.03.exr"));
}

TEST_CASE("passes go into folders of their names, and their times are reported", "[cli]") {
    const Folder folder;
    const std::string scene = wallScene(folder);
    const Outcome outcome =
        run({"render", scene, "-o", (folder / "shot.exr").string(), "--size", "16x9", "--passes",
             "depth,occlusion", "--samples", "2", "--folders", "--times"});
    CHECK(outcome.status == 0);
    CHECK(outcome.err.find(" s  depth\n") != std::string::npos);
    CHECK(outcome.err.find(" s  occlusion\n") != std::string::npos);
    for (const char* pass : {"depth", "occlusion"})
        CHECK(std::filesystem::exists(folder / pass / "shot.exr"));
    CHECK_FALSE(std::filesystem::exists(folder / "shot.exr"));
    CHECK(run({"render", scene, "-o", (folder / "shot.exr").string(), "--folders", "--one-part"})
              .status == 2);
}

TEST_CASE("occlusion as it comes is within a hundredth at 256 samples", "[cli][truth]") {
    // The wall is 8 m wide and 3 m high, its foot 5 m away: the ground by its middle is nearly that of an
    // endless wall.
    const Folder folder;
    const std::string file = (folder / "o.exr").string();
    REQUIRE(run({"render", wallScene(folder), "-o", file, "--size", "64x36", "--passes",
                 "occlusion,position", "--samples", "256", "--set", "occlusion.reach=1.5"})
                .status == 0);
    const Json probes = run({"probe", file, "--at", "32,34", "--json"}).json();
    const Json& passes = probes["probes"][0]["passes"];
    CHECK(passes["occlusion"]["value"][0].get<double>() == Approx(1.0).margin(0.01));
    CHECK(std::abs(passes["position"]["value"][1].get<double>()) < 1e-3);
}

TEST_CASE("the version is printed, and render refuses what can't hold passes", "[cli]") {
    const Folder folder;
    const Outcome version = run({"--version"});
    CHECK(version.status == 0);
    CHECK(version.out.starts_with("noctis-cli 0."));
    const std::string out = (folder / "depth.png").string();
    const Outcome refused = run({"render", wallScene(folder), "-o", out, "--passes", "depth"});
    CHECK(refused.status == 2);
    CHECK(refused.err.find("writes EXR") != std::string::npos);
    CHECK_FALSE(std::filesystem::exists(out));
}

TEST_CASE("what can't be written is refused before the work is done", "[cli][files]") {
    const Folder folder;
    const std::string passes = rendered(folder);
    folder.write("r.json", R"({"format":"noctis-recipe","version":2,"steps":[]})");
    const std::string recipe = (folder / "r.json").string();
    const std::string none = (folder / "none" / "a.exr").string();
    for (const auto& arguments : std::vector<std::vector<std::string>>{
             {"render", wallScene(folder), "-o", none, "--passes", "depth"},
             {"render", wallScene(folder), "-o", folder.path().string() + ".exr/a.exr", "--passes",
              "depth", "--one-part"},
             {"finish", "--recipe", recipe, "--passes", passes, "-o", none},
             {"relief", passes, "--from", "depth", "-o", none}}) {
        const Outcome refused = run(arguments);
        CAPTURE(arguments, refused.err);
        CHECK(refused.status == 4);
        CHECK(refused.err.find("the folder doesn't exist") != std::string::npos);
        CHECK(refused.err.find('%') == std::string::npos);  // nothing was rendered
        CHECK(refused.out.empty());
    }
    const Outcome jpeg =
        run({"finish", "--recipe", recipe, "--passes", passes, "-o", (folder / "a.jpg").string()});
    CHECK(jpeg.status == 2);
    CHECK(jpeg.err.find("use .exr, .tif or .png") != std::string::npos);
}

TEST_CASE("passes, probe and finish read foreign depth as --read says", "[cli][reading]") {
    const Folder folder;
    FilePart part;
    part.image = Image(16, 8, {"Y"});
    for (int y = 0; y < 8; ++y)
        for (int x = 0; x < 16; ++x)
            part.image.editPlane(0)[part.image.rowStride() * y + x] = static_cast<float>(x) / 16.0F;
    part.type = SampleType::Short;
    writeImageFile(folder / "shot_z.png", {part});
    const std::string file = (folder / "shot_z.png").string();
    const std::string read = "depth=normalised,near=2@2,4,far=10@14,4";
    const Json probe = run({"probe", file, "--at", "8,4", "--read", read, "--json"}).json();
    CHECK(probe["probes"][0]["passes"]["depth"]["value"][0].get<double>() ==
          Approx(6.0).margin(0.01));
    const Json passes = run({"passes", file, "--read", "depth=kind=occlusion", "--json"}).json();
    CHECK(passes["files"][0]["passes"][0]["kind"] == "occlusion");
    CHECK(passes["files"][0]["passes"][0]["why"] == "set by hand");
    // Beside a file that has no such pass; a name that no file has is an error.
    part.image = Image(16, 8, {"R", "G", "B"}, 0.5F);
    writeImageFile(folder / "shot.png", {part});
    const std::string colour = (folder / "shot.png").string();
    const Json both =
        run({"passes", colour, file, "--read", "depth=kind=occlusion", "--json"}).json();
    CHECK(both["files"][1]["passes"][0]["kind"] == "occlusion");
    CHECK(run({"passes", colour, file, "--read", "mist=even"}).status == 2);
    const Outcome wrong = run({"probe", file, "--at", "8,4", "--read", "depth=cheese"});
    CHECK(wrong.status == 2);
    CHECK(wrong.err.find("cheese") != std::string::npos);
}
