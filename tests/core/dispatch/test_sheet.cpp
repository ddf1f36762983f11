#include "core/dispatch/job_record.h"
#include "core/dispatch/job_run.h"
#include "core/dispatch/sheet.h"
#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/image/safe_write.h"
#include "core/project/project_file.h"
#include "core/steps/registry.h"
#include "support/files.h"
#include "support/frames.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace noctis;
using test::Folder;

namespace {

constexpr int kWide = 24;
constexpr int kHigh = 16;

/// A red box that is seen from x0 to x1 and in rows 4 to 11.
Image boxed(int x0, int x1) {
    Image image(kWide, kHigh, {"R", "G", "B", "A"});
    for (const int c : {0, 3})
        for (int y = 4; y < 12; ++y)
            std::fill_n(image.editPlane(c) + image.rowStride() * y + x0, x1 - x0, 0.5F);
    return image;
}

PassSet seenThere(int x0, int x1) {
    PassSet set;
    Pass pass;
    pass.name = "beauty";
    pass.kind = PassKind::Beauty;
    pass.image = boxed(x0, x1);
    set.put(std::move(pass));
    return set;
}

/// Three views of something that isn't as wide in each, and a sheet of them.
Job sheetOfThree(const Folder& folder) {
    Project project;
    const std::vector<std::string> views{"heron 1", "heron 2", "heron 3"};
    for (int i = 0; i < 3; ++i) {
        const auto file = folder / fmt::format("v{}.exr", i);
        writePasses(file, seenThere(10 - i, 14 + i));
        project.viewFiles[views.at(static_cast<std::size_t>(i))] = {file};
    }
    saveProject(project, folder / "yard.noctis", stepCatalogue());
    Job job;
    job.id = "sheet";
    job.kind = JobKind::Sheet;
    job.project = folder / "yard.noctis";
    job.views = views;
    job.to = folder / "out/{view}_sheet.png";
    job.settings.picture.bits = 8;
    job.settings.sheet.columns = 2;
    job.settings.sheet.padding = 3;
    return job;
}

JobState ranSheet(const Folder& folder, const Job& job, const JobShare& share = {}) {
    return runJob(job, share, recordFileOf(folder / "job.json", share.part, share.parts), {}, {});
}

}  // namespace

TEST_CASE("a sheet's cells are trimmed to one box, padded, and share one pivot",
          "[dispatch][sheet]") {
    const Tile seen = boxAround(seenBox(boxed(10, 14)), seenBox(boxed(8, 16)));
    CHECK(seen.x0 == 8);
    CHECK(seen.x1 == 16);
    CHECK(seen.y0 == 4);
    CHECK(seen.y1 == 12);
    SheetLayout layout;
    layout.columns = 2;
    layout.padding = 3;
    SheetPlan plan = sheetPlanOf(3, kWide, kHigh, seen, layout);
    CHECK(plan.width == 2 * (8 + 6));
    CHECK(plan.height == 2 * (8 + 6));
    REQUIRE(plan.cells.size() == 3);
    CHECK(plan.cells[1].at == std::array{17, 3});
    CHECK(plan.cells[2].at == std::array{3, 17});
    for (const SheetCell& cell : plan.cells) {
        CHECK(cell.size == std::array{8, 8});
        CHECK(cell.offset == std::array{8, 4});
        CHECK(cell.pivot == std::array{4, 8});  // the middle of the width, at its foot
    }
    layout.powerOfTwo = true;
    plan = sheetPlanOf(3, kWide, kHigh, seen, layout);
    CHECK(plan.width == 32);
    CHECK(plan.height == 32);
    layout.trimmed = false;
    layout.pivot = std::array{2, 15};
    plan = sheetPlanOf(3, kWide, kHigh, seen, layout);
    CHECK(plan.cells[0].size == std::array{kWide, kHigh});
    CHECK(plan.cells[0].pivot == std::array{2, 15});
    // Nothing is seen at all: the whole picture, rather than none.
    CHECK(sheetPlanOf(2, kWide, kHigh, seenBox(Image(kWide, kHigh, {"R", "G", "B", "A"})), {})
              .cells[0]
              .size == std::array{kWide, kHigh});
    // 64 views of wide pictures make a nearly square sheet.
    layout = {};
    plan = sheetPlanOf(64, 160, 90, {0, 0, 160, 90}, layout);
    CHECK(plan.cells.size() == 64);
    CHECK(plan.width < 1.6 * plan.height);
    CHECK(plan.height < 1.6 * plan.width);
    // Four pictures of 16:9, and the same at a third of their size.
    for (const auto& [width, height] : {std::pair(1280, 720), std::pair(427, 240)}) {
        plan = sheetPlanOf(4, width, height, {0, 0, width, height}, layout);
        CHECK(plan.cells[1].at[1] == plan.cells[0].at[1]);
    }
    CHECK_THROWS_AS(sheetPlanOf(400, 4096, 4096, {0, 0, 4096, 4096}, layout), Error);
}

TEST_CASE("a sprite's colour goes on under what is transparent", "[dispatch][sheet]") {
    Image sheet = boxed(10, 14);
    const Image wide = withColourExtended(sheet);
    CHECK(wide(0, 0, 0) == 0.5F);
    CHECK(wide(23, 15, 0) == 0.5F);
    CHECK(wide(0, 0, 3) == 0.0F);
    CHECK(wide(12, 6, 3) == 0.5F);
    // Scaled to half with straight colours, the rim is as red as the middle.
    CHECK(0.25F * (wide(9, 4, 0) + wide(10, 4, 0) + wide(9, 5, 0) + wide(10, 5, 0)) == 0.5F);
    const Image nothing(4, 4, {"R", "G", "B", "A"});
    CHECK(withColourExtended(nothing)(2, 2, 0) == 0.0F);
}

TEST_CASE("a sheet is written with a list of its places, from all shares", "[dispatch][sheet]") {
    const Folder folder;
    const Job job = sheetOfThree(folder);
    CHECK(ranSheet(folder, job, {1, 2}).written == 1);
    CHECK_FALSE(std::filesystem::exists(folder / "out/heron_sheet.png"));
    CHECK(ranSheet(folder, job, {2, 2}).written == 2);
    const auto file = folder / "out/heron_sheet.png";
    REQUIRE(std::filesystem::exists(file));
    const nlohmann::json json = parseJson(readTextFile(folder / "out/heron_sheet.json"));
    CHECK(json["format"] == "noctis-sheet");
    CHECK(json["version"] == 1);
    CHECK(json["picture"] == "heron_sheet.png");
    CHECK(json["size"] == nlohmann::json({28, 28}));
    REQUIRE(json["cells"].size() == 3);
    CHECK(json["cells"][2]["view"] == "heron 3");
    CHECK(json["cells"][2]["offset"] == nlohmann::json({8, 4}));
    // As stored: straight, half seen, red to the sheet's corner.
    const FileInfo info = readFileInfo(file);
    CHECK(info.straightAlpha);
    const Image stored = readFileChannels(info, {0, 1, 2, 3});
    const auto at = json["cells"][0]["at"];
    const int middle = at[0].get<int>() + 4;
    CHECK(stored(middle, at[1].get<int>() + 4, 3) == Approx(0.5F).margin(0.003));
    CHECK(stored(at[0].get<int>(), at[1].get<int>() + 4, 3) == 0.0F);  // not as wide as its box
    CHECK(stored(0, 0, 0) == stored(middle, at[1].get<int>() + 4, 0));
    // Nothing is done twice, and a sheet that is gone is put together from what was kept.
    const std::string bytes = readTextFile(file);
    CHECK(ranSheet(folder, job).kept == 3);
    std::filesystem::remove(file);
    CHECK(ranSheet(folder, job).kept == 3);
    CHECK(readTextFile(file) == bytes);
    // Another layout needs no picture anew.
    Job single = job;
    single.settings.sheet.columns = 1;
    CHECK(ranSheet(folder, single).kept == 3);
    CHECK(parseJson(readTextFile(folder / "out/heron_sheet.json"))["size"] ==
          nlohmann::json({14, 42}));
}

TEST_CASE("a sheet of pictures without alpha holds them whole", "[dispatch][sheet]") {
    const Folder folder;
    Job job = sheetOfThree(folder);
    Project project = openProject(job.project, stepCatalogue());
    for (auto& [view, files] : project.viewFiles)
        writePasses(files.front(), test::greyFrame(kWide, kHigh, 0.5F));
    saveProject(project, job.project, stepCatalogue());
    CHECK(ranSheet(folder, job).written == 3);
    const nlohmann::json json = parseJson(readTextFile(folder / "out/heron_sheet.json"));
    CHECK(json["cells"][0]["size"] == nlohmann::json({kWide, kHigh}));
    writePasses(project.viewFiles["heron 2"].front(), test::greyFrame(kWide, kHigh + 1, 0.5F));
    CHECK_THROWS_WITH(ranSheet(folder, job), Catch::Contains("one size"));
    job.to = folder / "out/{frame}.png";
    job.frames = FrameRange{1, 2};
    CHECK_THROWS_AS(ranSheet(folder, job), Error);
}
