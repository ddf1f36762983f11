#include "core/passes/pass_file.h"
#include "core/scene/import.h"
#include "support/cli.h"
#include "support/fields.h"
#include "support/files.h"

#include <cmath>

#include <catch2/catch.hpp>
#include <fmt/format.h>

using namespace noctis;
using namespace noctis::test;

namespace {

/// A step of 0.5 m and a ramp to 1 m on a ground of 4 m.
std::string stairScene(const Folder& folder) {
    return folder
        .write("stair.obj", "o ground\nv -2 0 2\nv 2 0 2\nv 2 0 -2\nv -2 0 -2\nf 1 2 3 4\n"
                            "o step\nv -1 0.5 1\nv 0 0.5 1\nv 0 0.5 -1\nv -1 0.5 -1\nf 5 6 7 8\n"
                            "o ramp\nv 0 0 1\nv 1 0 1\nv 1 1 -1\nv 0 1 -1\nf 9 10 11 12\n")
        .string();
}

std::string written(const Folder& folder, const std::string& name, const Image& image,
                    SampleType type = SampleType::Float) {
    FilePart part;
    part.image = image;
    part.type = type;
    writeImageFile(folder / name, {part});
    return (folder / name).string();
}

std::string normalFile(const Folder& folder, int side = 96) {
    Image normals = normalsBy(slopesBy(Waves{}, side, side)).select({0, 1, 2}, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c) {
        float* plane = normals.editPlane(c);
        for (std::ptrdiff_t i = 0; i < normals.rowStride() * normals.height(); ++i)
            plane[i] = 0.5F + 0.5F * plane[i];
    }
    return written(folder, "bumps.png", normals, SampleType::Short);
}

Image heightIn(const std::filesystem::path& file) {
    return readPasses({file}).find(PassKind::Height)->image;
}

}  // namespace

TEST_CASE("relief from normals of a picture is the form in metres", "[cli][relief]") {
    const Folder folder;
    const std::string out = (folder / "h.exr").string();
    const Outcome outcome = run({"relief", normalFile(folder), "--from", "normal", "-o", out,
                                 "--metres-a-pixel", "0.001", "--json"});
    INFO(outcome.err);
    REQUIRE(outcome.status == 0);
    const auto json = outcome.json();
    CHECK(json["size"] == nlohmann::json{96, 96});
    CHECK(json["metres_a_pixel"].get<double>() == Approx(0.001));
    CHECK(json["range"][1].get<double>() == Approx(0.01).margin(3e-4));
    CHECK(json["step"] == 0.0);
    CHECK(json["holes"] == 0.0);
    CHECK(json["clipped"] == 0.0);
    CHECK(apart(heightIn(out), heightsBy(Waves{}, 96, 96)) < 1e-3 * 0.02);
    CHECK(heightStatisticsOf(heightIn(out)).mean == Approx(0.0).margin(1e-6));
    // Green down turns it over along the picture, and is reported.
    const Outcome flipped = run({"relief", normalFile(folder), "--from", "normal", "-o", out,
                                 "--metres-a-pixel", "0.001", "--flip-y", "--json"});
    bool reported = false;
    const auto flippedJson = flipped.json();
    for (const auto& warning : flippedJson["warnings"])
        reported |= warning.get<std::string>().find("green") != std::string::npos;
    CHECK(reported);
}

TEST_CASE("what is said of normals replaces what was guessed of them", "[cli][relief]") {
    const Folder folder;
    const Image truth = heightsBy(Waves{}, 96, 96);
    Image encoded = normalsBy(slopesBy(Waves{}, 96, 96)).select({0, 1, 2}, {"R", "G", "B"});
    Image greenDown = encoded;
    for (int c = 0; c < 3; ++c)
        for (std::ptrdiff_t i = 0; i < encoded.rowStride() * encoded.height(); ++i) {
            const float n = encoded.plane(c)[i];
            encoded.editPlane(c)[i] = 0.5F + 0.5F * n;
            greenDown.editPlane(c)[i] = 0.5F + (c == 1 ? -0.5F : 0.5F) * n;
        }
    const auto off = [&](const std::string& file, const std::vector<std::string>& more) {
        const std::string out = (folder / "h.exr").string();
        std::vector<std::string> words{"relief", file, "--from",           "normal",
                                       "-o",     out,  "--metres-a-pixel", "0.001"};
        words.insert(words.end(), more.begin(), more.end());
        const Outcome outcome = run(words);
        INFO(outcome.err);
        REQUIRE(outcome.status == 0);
        return apart(heightIn(out), truth);
    };
    constexpr double kSame = 1e-3 * 0.02;
    // A pass by its name, whose green is guessed; and a picture that nothing is known of.
    for (const std::string name : {"bumps.normal.png", "bumps.png"}) {
        INFO(name);
        const bool guessed = name == "bumps.normal.png";
        const std::string down = written(folder, "down." + name, greenDown, SampleType::Short);
        const std::string up = written(folder, "up." + name, encoded, SampleType::Short);
        CHECK(off(down, {"--flip-y"}) < kSame);
        CHECK(off(down, {"--flip-y", "--space", "camera"}) < kSame);
        CHECK(off(up, {}) < kSame);
        CHECK(off(up, {"--space", "tangent"}) < kSame);
        CHECK(off(up, {"--flip-y"}) > 100.0 * kSame);
        if (guessed) {
            CHECK(off(down, {}) < kSame);
            CHECK(off(down, {"--read", "normal=green=down"}) < kSame);
            CHECK(off(up, {"--read", "normal=green=up"}) < kSame);
            CHECK(off(down, {"--read", "normal=green=up", "--flip-y"}) < kSame);
        }
    }
}

TEST_CASE("relief of a scene's view reads back through probe", "[cli][relief]") {
    const Folder folder;
    const std::string scene = stairScene(folder);
    const std::string out = (folder / "ground.tif").string();
    const Outcome refused = run({"relief", scene, "--from", "depth", "-o", out});
    CHECK(refused.status == 2);
    CHECK(refused.err.find("--plane ground") != std::string::npos);
    CHECK_FALSE(std::filesystem::exists(out));
    const Outcome outcome = run({"relief", scene, "--from", "depth", "-o", out, "--size", "320x240",
                                 "--plane", "ground", "--metres-a-pixel", "0.05", "--json"});
    INFO(outcome.err);
    REQUIRE(outcome.status == 0);
    const auto json = outcome.json();
    CHECK(json["range"][0].get<double>() == Approx(0.0).margin(1e-3));
    CHECK(json["range"][1].get<double>() == Approx(1.0).margin(0.06));
    CHECK(json["step"].get<double>() == Approx(1.0 / 65535.0).epsilon(0.1));
    // The middle of the step, by where the map lies.
    const auto origin = json["plane"]["origin"];
    const int x = static_cast<int>((-0.5 - origin[0].get<double>()) / 0.05);
    const int y = static_cast<int>((0.0 - origin[2].get<double>()) / 0.05);
    const auto probe = run({"probe", out, "--at", fmt::format("{},{}", x, y), "--json"}).json();
    CHECK(probe["probes"][0]["passes"]["height"]["value"][0].get<double>() ==
          Approx(0.5).margin(1e-3));
    CHECK(probe["probes"][0]["passes"]["height"]["unit"] == "m");
}

TEST_CASE("relief of a grey picture lies between two heights", "[cli][relief]") {
    const Folder folder;
    const std::string grey =
        written(folder, "grey.png", Image::row({0.0F, 0.5F, 1.0F}), SampleType::Short);
    const std::string out = (folder / "g.tif").string();
    const Outcome outcome = run({"relief", grey, "--from", "grey", "-o", out, "--metres",
                                 "0.25,-0.75", "--bits", "32", "--json"});
    INFO(outcome.err);
    REQUIRE(outcome.status == 0);
    CHECK(heightIn(out)(0, 0, 0) == Approx(0.25));
    CHECK(heightIn(out)(1, 0, 0) == Approx(-0.25).margin(1e-4));
    CHECK(heightIn(out)(2, 0, 0) == Approx(-0.75));
}

TEST_CASE("relief joins detail of normals, writes maps, solids and tiles", "[cli][relief]") {
    const Folder folder;
    const std::string normals = normalFile(folder);
    const std::string grey = written(
        folder, "form.png", filledBy(96, 96, [](int, int) { return 0.5F; }), SampleType::Short);
    const std::string out = (folder / "both.exr").string();
    const Outcome outcome =
        run({"relief", grey, "--from", "grey", "-o", out, "--metres", "0,1", "--metres-a-pixel",
             "0.001", "--detail", normals, "--wavelength", "0.2", "--json"});
    INFO(outcome.err);
    REQUIRE(outcome.status == 0);
    CHECK(outcome.json()["range"][1].get<double>() == Approx(0.51).margin(2e-3));
    CHECK(run({"relief", grey, "--from", "grey", "-o", out, "--detail", normals}).status == 2);
    const auto base = [&](const std::string& name, std::vector<std::string> more) {
        std::vector<std::string> arguments{"relief",           normals, "--from",
                                           "normal",           "-o",    (folder / name).string(),
                                           "--metres-a-pixel", "0.001"};
        arguments.insert(arguments.end(), more.begin(), more.end());
        return run(arguments);
    };
    for (const char* map : {"normal", "slope", "curvature", "occlusion", "shade", "contours"}) {
        INFO(map);
        CHECK(base(std::string(map) + ".png", {"--as", map}).status == 0);
        CHECK(std::filesystem::exists(folder / (std::string(map) + ".png")));
    }
    const Outcome mesh =
        base("solid.glb", {"--as", "mesh", "--base", "0.005", "--height-error", "0.0002"});
    INFO(mesh.err);
    CHECK(mesh.status == 0);
    CHECK(boundsOf(importScene(folder / "solid.glb")).size().y == Approx(0.025).margin(1e-3));
    CHECK(base("wrong.png", {"--as", "mesh"}).status == 2);
    CHECK(base("wrong.png", {"--as", "cheese"}).status == 2);
    CHECK(base("t.tif", {"--tiles", "2x3"}).status == 0);
    CHECK(std::filesystem::exists(folder / "t_2_3.tif"));
    CHECK(readFileInfo(folder / "t_1_1.tif").width == 48);
    const Outcome shaped = base("s.tif", {"--set", "exaggerate.factor=2", "--set",
                                          "level.by=lowest", "--metres", "0,0.02", "--json"});
    REQUIRE(shaped.status == 0);
    CHECK(shaped.json()["clipped"].get<double>() > 0.3);
    CHECK(base("s.tif", {"--set", "melt.factor=2"}).status == 2);
}

TEST_CASE("relief refuses what it can't use in a sentence and writes nothing", "[cli][relief]") {
    const Folder folder;
    const std::string out = (folder / "none.tif").string();
    const auto refused = [&](const std::vector<std::string>& arguments, int status) {
        std::vector<std::string> all{"relief"};
        all.insert(all.end(), arguments.begin(), arguments.end());
        all.insert(all.end(), {"-o", out});
        const Outcome outcome = run(all);
        INFO(outcome.err);
        CHECK(outcome.status == status);
        CHECK(outcome.err.starts_with("noctis-cli: "));
        CHECK_FALSE(std::filesystem::exists(out));
    };
    refused({(folder / "gone.exr").string(), "--from", "depth"}, 4);
    refused({normalFile(folder), "--from", "sky"}, 2);
    refused({normalFile(folder), "--from", "depth"}, 3);
    refused({normalFile(folder), "--from", "position"}, 3);
    refused({folder.write("broken.png", "not a picture").string(), "--from", "grey"}, 3);
    const std::string flat = written(
        folder, "flat.exr", Image(8, 8, {"R", "G", "B"}, std::numeric_limits<float>::quiet_NaN()));
    refused({flat, "--from", "normal"}, 3);
    refused({normalFile(folder), "--from", "normal", "--metres", "1"}, 2);
    refused({normalFile(folder), "--from", "normal", "--plane", "ground"}, 2);
    // Its own source is never replaced.
    const std::string grey =
        written(folder, "own.tif", Image::row({0.0F, 1.0F}), SampleType::Short);
    CHECK(run({"relief", grey, "--from", "grey", "-o", grey}).status == 2);
}

TEST_CASE("relief works one cell, a line and constant normals", "[cli][relief]") {
    const Folder folder;
    const auto up = [](int w, int h) {
        Image image(w, h, {"R", "G", "B"}, 0.5F);
        for (int y = 0; y < h; ++y)
            std::fill_n(image.editPlane(2) + image.rowStride() * y, w, 1.0F);
        return image;
    };
    for (const auto& [w, h] : {std::pair{1, 1}, {1, 5000}, {64, 64}}) {
        const std::string file = written(folder, "n.png", up(w, h), SampleType::Byte);
        const Outcome outcome = run(
            {"relief", file, "--from", "normal", "-o", (folder / "out.tif").string(), "--json"});
        INFO(w << " x " << h << " " << outcome.err);
        REQUIRE(outcome.status == 0);
        CHECK(std::abs(outcome.json()["range"][1].get<double>()) < 0.05);
    }
}

TEST_CASE("relief reads foreign depth as --read says", "[cli][relief]") {
    const Folder folder;
    const std::string file =
        written(folder, "shot_z.png",
                filledBy(16, 8, [](int x, int) { return static_cast<float>(x) / 16.0F; }),
                SampleType::Short);
    const std::string out = (folder / "h.exr").string();
    const Outcome outcome = run({"relief", file, "--from", "depth", "-o", out, "--read",
                                 "depth=normalised,near=2@2,4,far=10@14,4", "--json"});
    INFO(outcome.err);
    REQUIRE(outcome.status == 0);
    // Two thirds of a metre a pixel, 0 at the farthest.
    CHECK(outcome.json()["range"][1].get<double>() == Approx(10.0).margin(0.02));
    CHECK(heightIn(out)(0, 4, 0) > heightIn(out)(15, 4, 0));
}
