#include "core/project/project_file.h"

#include "core/dispatch/picture_export.h"
#include "core/image/error.h"
#include "core/image/utf8.h"
#include "core/project/history.h"
#include "core/steps/registry.h"
#include "support/files.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace noctis;
using test::Folder;

namespace {

Project sample(const Folder& folder) {
    Project p = newProject();
    p.scene = folder / "scenes/quay.gltf";
    p.passFiles = {folder / "beauty.exr", folder / "depth.exr"};
    p.view = View{"mine", lookingAt(V3f(1, 2, 3), V3f(0, 0, 0), 0.6F)};
    p.views = {*p.view};
    p.width = 1920;
    p.height = 800;
    p.aspectLocked = false;
    p.framesPerSecond = 25.0;
    p.viewFiles["low tide"] = {folder / "low.exr", folder / "low depth.exr"};
    p.lens = {LensReading::By::AngleUp, 23.5F};
    p.moved.lights["lamp"] = V3f(1, 2, 3);
    p.moved.suns["moon"] = V3f(0, -1, 0);
    p.exposure = 0.75F;
    p.viewTransform = ViewTransform::Plain;
    Interpretation reading;
    reading.coding = DepthCoding::Inverse;
    reading.nearDistance = 0.5F;
    p.readings.passes["depth"].depth = reading;
    applyPassSetting(p.passes, "occlusion.reach=1.5");
    p.recipe.steps.push_back(stepCatalogue().newStep("fog"));
    return p;
}

}  // namespace

TEST_CASE("a project survives being saved and opened", "[project]") {
    const Folder folder;
    const Project project = sample(folder);
    saveProject(project, folder / "work.noctis", stepCatalogue());
    CHECK(openProject(folder / "work.noctis", stepCatalogue()) == project);
}

TEST_CASE("paths are stored relative to the project, so that its folder can move", "[project]") {
    const Folder folder;
    const Folder elsewhere;
    saveProject(sample(folder), folder / "work.noctis", stepCatalogue());
    const std::string text = readTextFile(folder / "work.noctis");
    CHECK(text.find(folder.path().string()) == std::string::npos);
    elsewhere.write("work.noctis", text);
    CHECK(openProject(elsewhere / "work.noctis", stepCatalogue()).scene ==
          elsewhere / "scenes/quay.gltf");
}

TEST_CASE("a panorama moves with its project", "[project]") {
    Project project;
    project.passes.push_back(passRequest(PassKind::Beauty));
    project.passes.back().settings.set("panorama", FilePath{"/shows/quay/skies/dusk.hdr"});
    const std::string text = projectToText(project, "/shows/quay", stepCatalogue());
    CHECK(text.find("\"skies/dusk.hdr\"") != std::string::npos);
    const Project moved = projectFromText(text, "/elsewhere", stepCatalogue());
    CHECK(moved.passes.front().settings.get<FilePath>("panorama").path ==
          "/elsewhere/skies/dusk.hdr");
}

TEST_CASE("fields that are not known are kept when saved again", "[project]") {
    const Folder folder;
    folder.write("new.noctis", R"({"format":"noctis-project","version":1,"weather":{"wind":7}})");
    const Project project = openProject(folder / "new.noctis", stepCatalogue());
    saveProject(project, folder / "again.noctis", stepCatalogue());
    CHECK(nlohmann::json::parse(readTextFile(folder / "again.noctis"))["weather"]["wind"] == 7);
}

TEST_CASE("passes and pass settings that are not known warn, and are kept when saved again",
          "[project]") {
    const Folder folder;
    folder.write("new.noctis",
                 R"({"format":"noctis-project","version":1,"passes":[{"pass":"smell","settings":{}},
                     {"pass":"occlusion","settings":{"reach":2,"wind":7,"samples":"many"}}]})");
    const Project project = openProject(folder / "new.noctis", stepCatalogue());
    REQUIRE(project.passes.size() == 1);
    CHECK(project.passes[0].settings.number("reach") == 2.0F);
    CHECK(project.passes[0].settings.number("samples") == 64.0F);
    CHECK(project.warnings.size() == 3);
    saveProject(project, folder / "again.noctis", stepCatalogue());
    const auto passes = nlohmann::json::parse(readTextFile(folder / "again.noctis"))["passes"];
    REQUIRE(passes.size() == 2);
    CHECK(passes[0]["settings"]["wind"] == 7);
    CHECK(passes[0]["settings"]["samples"] == "many");
    CHECK(passes[1]["pass"] == "smell");
}

TEST_CASE("newer, damaged and foreign files are refused with their name and the reason",
          "[project]") {
    const Folder folder;
    const auto refused = [&](const std::string& text, const std::string& word) {
        folder.write("bad.noctis", text);
        CHECK_THROWS_WITH(openProject(folder / "bad.noctis", stepCatalogue()),
                          Catch::Contains("bad.noctis") && Catch::Contains(word));
    };
    refused(R"({"format":"noctis-project","version":2})", "newer");
    refused("{\n\"format\": \"noctis-project\",\n\"version\": ]", "line 3");
    refused(R"({"format":"song"})", "not a Noctis project");
    refused(R"({"format":"noctis-project","version":1,"frame":{"width":"wide"}})", "wrong type");
    refused(R"({"format":"noctis-project","version":1,"frame":{"width":0}})", "can't be used");
    refused(R"({"format":"noctis-project","version":1,"lens":{"sensor_mm":0}})", "sensor");
    refused(R"({"format":"noctis-project","version":1,"lens":{"by":"ear"}})", "ear");
    refused(R"({"format":"noctis-project","version":1,"frames_per_second":0})",
            "frames_per_second");
    refused(R"({"format":"noctis-project","version":1,"pass_files":[3]})", "wrong type");
    CHECK_THROWS_AS(openProject(folder / "none.noctis", stepCatalogue()), Error);
}

TEST_CASE("a project with flipped bytes is read or refused, never worse", "[project]") {
    const Folder folder;
    const std::string whole = projectToText(sample(folder), folder.path(), stepCatalogue());
    unsigned seed = 7;
    int outcomes = 0;
    for (int round = 0; round < 300; ++round) {
        std::string text = whole;
        seed = seed * 1664525U + 1013904223U;
        text[(seed >> 8U) % text.size()] = static_cast<char>(32 + seed % 90);
        try {
            (void)projectFromText(text, folder.path(), stepCatalogue());
            ++outcomes;
        } catch (const Error&) {
            ++outcomes;
        }
    }
    CHECK(outcomes == 300);
}

TEST_CASE("every change can be undone and done again", "[project][history]") {
    History history{Project{}};
    Project next;
    next.width = 100;
    history.change(next, "Width");
    next.height = 50;
    history.change(next, "Height");
    CHECK(history.undoText() == "Height");
    history.undo();
    CHECK(history.current().height == Project{}.height);
    CHECK(history.redoText() == "Height");
    history.undo();
    CHECK_FALSE(history.canUndo());
    history.redo();
    history.redo();
    CHECK(history.current() == next);
    CHECK_FALSE(history.canRedo());
}

TEST_CASE("one drag is one undo, and the next drag another", "[project][history]") {
    History history{Project{}};
    Project p;
    for (int i = 1; i <= 20; ++i) {
        p.exposure = static_cast<float>(i) * 0.1F;
        history.change(p, "Exposure", "exposure");
    }
    history.endGesture();
    p.exposure = 5.0F;
    history.change(p, "Exposure", "exposure");
    history.undo();
    CHECK(history.current().exposure == Approx(2.0F));
    history.undo();
    CHECK(history.current().exposure == 0.0F);
}

TEST_CASE("a change after an undo forgets what was undone", "[project][history]") {
    History history{Project{}};
    Project p;
    p.width = 10;
    history.change(p, "a");
    history.undo();
    p.width = 20;
    history.change(p, "b");
    CHECK_FALSE(history.canRedo());
    history.change(p, "nothing new");
    history.undo();
    CHECK(history.current() == Project{});
}

TEST_CASE("a project knows whether it changed since it was saved", "[project][history]") {
    History history{Project{}};
    CHECK_FALSE(history.changedSinceSaved());
    Project p;
    p.width = 10;
    history.change(p, "a");
    CHECK(history.changedSinceSaved());
    history.markSaved();
    CHECK_FALSE(history.changedSinceSaved());
    history.undo();
    CHECK(history.changedSinceSaved());
}

TEST_CASE("autosave lies beside its project, or in the given folder", "[project]") {
    CHECK(autosavePath("/a/b.noctis", "/data", "1f") == "/a/.b-1f.noctis-autosave");
    CHECK(autosavePath({}, "/data", "1f").parent_path() == "/data");
    CHECK(autosavePath("/a/b.noctis", "/data", "20") != autosavePath("/a/b.noctis", "/data", "1f"));
    std::string longest;
    for (int i = 0; i < 120; ++i)
        longest += "\u00e4";
    const std::string name =
        autosavePath("/a/" + longest + ".noctis", "/data", "1f").filename().string();
    CHECK(name.size() < 150);
    CHECK(asUtf8(name) == name);  // cut between letters
}

TEST_CASE("pictures are exported linear or as the view shows them", "[project][export]") {
    const Folder folder;
    Project project;
    project.viewTransform = ViewTransform::Plain;
    project.exposure = 1.0F;
    const Image picture = Image::filled(8, 8, 3, 0.25F);
    const auto firstSample = [&](const char* name, int bits) {
        exportPicture(folder / name, picture, project, {.bits = bits});
        const FileInfo info = readFileInfo(folder / name);
        return readFileChannels(info, {0})(3, 3, 0);
    };
    CHECK(firstSample("a.exr", 0) == 0.25F);
    CHECK(firstSample("b.exr", 32) == 0.25F);
    CHECK(firstSample("c.tif", 32) == 0.25F);
    CHECK(firstSample("d.png", 8) == Approx(0.7354F).margin(0.003));
    CHECK(firstSample("e.png", 0) == Approx(0.7354F).margin(0.0002));
    CHECK_THROWS_AS(exportPicture(folder / "f.png", picture, project, {.bits = 32}), Error);
}

TEST_CASE("what Survey sets up is kept: ramp, pins, crop and passes of a light", "[project]") {
    const Folder folder;
    Project project = newProject();
    project.ramp = {1.6F, 90.0F};
    project.pins = {{"crate", V3f(1, 2, 3)}, {"lighthouse", V3f(-40, 20, -400)}};
    project.crop = {0.25F, 0.0F, 0.75F, 0.5F};
    project.frameRanges = {{"push-in", {1, 48}}};
    project.passes = {passRequest(PassKind::Shadow, "lantern"),
                      passRequest(PassKind::Light, "moon.left"),
                      passRequest(PassKind::BehindDepth)};
    applyPassSetting(project.passes, "shadow.lantern.samples=7");
    saveProject(project, folder / "p.noctis", stepCatalogue());
    const Project back = openProject(folder / "p.noctis", stepCatalogue());
    CHECK(back == project);
    CHECK(shadowSettings(back.passes[0].settings).samples == 7);
    CHECK_FALSE(back.ramp.automatic());
    CHECK(newProject().ramp.automatic());
}

TEST_CASE("a crop is given in pixels, and one of everything or of nothing is none", "[project]") {
    Project project = newProject();
    project.width = 200;
    project.height = 100;
    CHECK_FALSE(cropOf(project));
    project.crop = {0.25F, 0.1F, 0.5F, 0.9F};
    CHECK(cropOf(project) == Tile{50, 10, 100, 90});
    project.crop = {0.5F, 0.5F, 0.5F, 0.9F};
    CHECK_FALSE(cropOf(project));
    project.crop = {-3.0F, -1.0F, 9.0F, 2.0F};
    CHECK_FALSE(cropOf(project));
}

TEST_CASE("a project with damaged pins or passes is refused with the reason", "[project]") {
    const Folder folder;
    for (const auto& [text, reason] :
         {std::pair(
              R"({"format":"noctis-project","version":1,"pins":[{"name":"a","position":[1,2]}]})",
              "wrong type"),
          std::pair(R"({"format":"noctis-project","version":1,"passes":[{"kind":"depth"}]})",
                    "wrong type"),
          std::pair(R"({"format":"noctis-project","version":1,"crop":"all"})", "wrong type")}) {
        INFO(text);
        try {
            (void)openProject(folder.write("bad.noctis", text), stepCatalogue());
            FAIL("nothing was thrown");
        } catch (const Error& error) {
            CHECK(std::string(error.what()).find(reason) != std::string::npos);
            CHECK(std::string(error.what()).find("bad.noctis") != std::string::npos);
        }
    }
}

TEST_CASE("a project names its sequence", "[project][keys]") {
    Project project = newProject();
    project.sequence =
        Sequence{.pattern = "/shots/quay.####.exr", .first = 12, .last = 60, .step = 2, .rate = 25};
    const std::string text = projectToText(project, "/shots", stepCatalogue());
    CHECK(text.find("\"pattern\": \"quay.####.exr\"") != std::string::npos);
    CHECK(projectFromText(text, "/shots", stepCatalogue()).sequence == project.sequence);
    CHECK(project.sequence->secondsAt(37) == 1.0);
    for (const char* bad :
         {R"({"first":5,"last":1})", R"({"step":0})", R"({"rate":0})", R"({"last":9000000})"})
        CHECK_THROWS_AS(
            projectFromText(std::string(R"({"format":"noctis-project","version":1,"sequence":)") +
                                bad + "}",
                            "/shots", stepCatalogue()),
            Error);
}
