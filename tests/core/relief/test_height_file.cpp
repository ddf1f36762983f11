#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/passes/pass_file.h"
#include "core/relief/height_file.h"
#include "core/relief/relief_input.h"
#include "support/fields.h"
#include "support/files.h"
#include "support/worse.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

HeightField wavyField() {
    HeightField field;
    field.heights = heightsBy(Waves{}, 70, 50);
    field.metresPerPixel = Waves::kCell;
    field.level = "the mean height";
    return field;
}

}  // namespace

TEST_CASE("heights read back within half a step", "[relief][file]") {
    const Folder folder;
    const HeightField field = wavyField();
    for (const auto& [name, type] : {std::pair{"a b.png", SampleType::Short},
                                     {"ä.tif", SampleType::Short},
                                     {"8.png", SampleType::Byte},
                                     {"f.tif", SampleType::Float},
                                     {"f.exr", SampleType::Float}}) {
        const auto path = folder.path() / name;
        writeHeights(path, field, {type, false, "a test"});
        const PassSet set = readPasses({path});
        INFO(name);
        REQUIRE(set.find(PassKind::Height) != nullptr);
        const double step = static_cast<double>(reportOf(field, type).step);
        CHECK(mostApart(set.find(PassKind::Height)->image, field.heights) <= 0.5001 * step + 1e-8);
        const auto again = writtenHeights(readReliefInput({path}));
        REQUIRE(again);
        CHECK(again->metresPerPixel == Approx(Waves::kCell));
    }
}

TEST_CASE("an EXR of heights has one channel, Y", "[relief][file]") {
    const Folder folder;
    writeHeights(folder.path() / "h.exr", wavyField(), {SampleType::Float, false, ""});
    const FileInfo info = readFileInfo(folder.path() / "h.exr");
    REQUIRE(info.channels.size() == 1);
    CHECK(info.channels[0].name == "Y");
    CHECK(info.channels[0].type == SampleType::Float);
}

TEST_CASE("holes stay holes in integers and floats", "[relief][file]") {
    const Folder folder;
    HeightField field = wavyField();
    field.heights.editPlane(0)[5] = std::numeric_limits<float>::quiet_NaN();
    for (const char* name : {"h.png", "h.tif", "h.exr"}) {
        const auto path = folder.path() / name;
        const bool exr = std::string(name) == "h.exr";
        writeHeights(path, field, {exr ? SampleType::Float : SampleType::Short, false, ""});
        const auto again = writtenHeights(readReliefInput({path}));
        INFO(name);
        REQUIRE(again);
        CHECK(std::isnan(again->heights(5, 0, 0)));
        CHECK(heightStatisticsOf(again->heights).holes == 1);
        CHECK(static_cast<double>(heightStatisticsOf(again->heights).lowest) ==
              Approx(static_cast<double>(heightStatisticsOf(field.heights).lowest)).margin(1e-6));
    }
}

TEST_CASE("what to type elsewhere stands beside the file", "[relief][file]") {
    const Folder folder;
    HeightField field = wavyField();
    field.range = std::array{-0.01F, 0.03F};
    writeHeights(folder.path() / "h.tif", field, {SampleType::Short, false, "the quay"});
    const auto json = nlohmann::json::parse(readTextFile(folder.path() / "h.tif.json"));
    CHECK(json["black_to_white"].get<double>() == Approx(0.04));
    CHECK(json["grey_of_zero"].get<double>() == Approx(0.25));
    CHECK(json["metres_a_pixel"].get<double>() == Approx(0.001));
    CHECK(json["noctis.source"] == "the quay");
    CHECK(json["step"].get<double>() == Approx(0.04 / 65535.0));
}

TEST_CASE("a report says what an artist should know", "[relief][file]") {
    HeightField field = wavyField();
    const auto says = [&](SampleType type, const std::string& words) {
        for (const std::string& warning : reportOf(field, type).warnings)
            if (warning.find(words) != std::string::npos)
                return true;
        return false;
    };
    CHECK(says(SampleType::Byte, "8 bits"));
    CHECK_FALSE(says(SampleType::Short, "8 bits"));
    field.range = std::array{0.0F, 0.01F};
    CHECK(says(SampleType::Short, "clipped"));
    CHECK(reportOf(field, SampleType::Short).clipped == Approx(0.5).margin(0.05));
    field.range.reset();
    field.exaggeration = 2.0F;
    CHECK(says(SampleType::Short, "2 times"));
    field.heights = filledBy(40, 40, [](int x, int) { return 0.01F * static_cast<float>(x); });
    CHECK(says(SampleType::Short, "tilted"));
    field.heights = filledBy(4, 4, [](int, int) { return 0.5F; });
    CHECK(says(SampleType::Short, "flat"));
    field.heights = filledBy(4, 4, [](int, int) { return std::nanf(""); });
    CHECK(says(SampleType::Short, "all holes"));
}

TEST_CASE("8 bits are dithered to the right mean", "[relief][file]") {
    const Folder folder;
    HeightField field;
    field.heights = filledBy(64, 64, [](int, int) { return 0.3303F; });
    field.range = std::array{0.0F, 1.0F};
    writeHeights(folder.path() / "d.png", field, {SampleType::Byte, true, ""});
    const PassSet set = readPasses({folder.path() / "d.png"});
    CHECK(heightStatisticsOf(set.find(PassKind::Height)->image).mean ==
          Approx(0.3303).margin(4e-4));
    CHECK(heightStatisticsOf(set.find(PassKind::Height)->image).range() > 0.003F);
}

TEST_CASE("formats that can't hold a depth of bits are refused", "[relief][file]") {
    const Folder folder;
    CHECK_THROWS_WITH(
        writeHeights(folder.path() / "h.exr", wavyField(), {SampleType::Short, false, ""}),
        Catch::Contains("EXR holds heights as floats"));
    CHECK_THROWS_WITH(
        writeHeights(folder.path() / "h.png", wavyField(), {SampleType::Float, false, ""}),
        Catch::Contains("8 or 16 bits"));
}
