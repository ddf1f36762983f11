#include "core/image/image_file.h"

#include "core/image/error.h"
#include "support/files.h"

#include <fstream>

#include <OpenEXR/ImfChannelList.h>
#include <OpenEXR/ImfFrameBuffer.h>
#include <OpenEXR/ImfHeader.h>
#include <OpenEXR/ImfOutputFile.h>
#include <OpenEXR/ImfTiledOutputFile.h>
#include <OpenImageIO/imageio.h>
#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;
using test::ramp;
using test::sameBits;

namespace {

std::vector<int> allChannels(const FileInfo& info) {
    std::vector<int> all;
    for (int c = 0; c < static_cast<int>(info.channels.size()); ++c)
        all.push_back(c);
    return all;
}

Image readAll(const std::filesystem::path& path) {
    const FileInfo info = readFileInfo(path);
    return readFileChannels(info, allChannels(info));
}

/// By OpenEXR itself: a data window at (x0, y0) within or beyond a display window of 40 x 30.
void writeWindowed(const std::filesystem::path& path, int x0, int y0, const Image& image) {
    const Imath::Box2i data({x0, y0}, {x0 + image.width() - 1, y0 + image.height() - 1});
    Imf::Header header({{0, 0}, {39, 29}}, data);
    header.channels().insert("Z", Imf::Channel(Imf::FLOAT));
    Imf::OutputFile file(path.c_str(), header);
    Imf::FrameBuffer buffer;
    buffer.insert("Z", Imf::Slice(Imf::FLOAT,
                                  reinterpret_cast<char*>(const_cast<float*>(
                                      image.plane(0) - x0 - image.rowStride() * y0)),
                                  sizeof(float),
                                  sizeof(float) * static_cast<std::size_t>(image.rowStride())));
    file.setFrameBuffer(buffer);
    file.writePixels(image.height());
}

std::string bytesOf(const std::filesystem::path& path) { return readTextFile(path); }

}  // namespace

TEST_CASE("EXR keeps floats bit for bit under every lossless packing", "[image][files]") {
    const Folder folder;
    Image image = ramp(33, 17, {"R", "G", "B", "Z"});
    image.editPlane(3)[2] = kNothingHit;
    for (const Compression compression : {Compression::None, Compression::Zip, Compression::Zips,
                                          Compression::Rle, Compression::Piz}) {
        writeImageFile(folder / "a.exr", {{"a", "", image, SampleType::Float, {}, compression}});
        const FileInfo info = readFileInfo(folder / "a.exr");
        REQUIRE(info.channels.size() == 4);
        const Image back = readFileChannels(info, {3, 2, 1, 0});  // files list B G R Z
        CHECK(sameBits(back.select({1, 2, 3, 0}), image));
    }
}

TEST_CASE("EXR keeps halves as halves and reports the type", "[image][files]") {
    const Folder folder;
    const Image image = ramp(20, 10, {"R", "G", "B"});
    writeImageFile(folder / "h.exr", {{"h", "", image, SampleType::Half, {}, Compression::Zip}});
    CHECK(readFileInfo(folder / "h.exr").channels[0].type == SampleType::Half);
    CHECK(sameBits(readAll(folder / "h.exr").select({2, 1, 0}), image));
}

TEST_CASE("parts keep their own names, layers and attributes", "[image][files]") {
    const Folder folder;
    const Image picture = ramp(12, 9, {"R", "G", "B"});
    const Image normal = ramp(12, 9, {"X", "Y", "Z"});
    writeImageFile(folder / "parts.exr",
                   {{"beauty", "", picture, SampleType::Half, {{"a", 1.5F}}, Compression::Zip},
                    {"normal",
                     "normal",
                     normal,
                     SampleType::Float,
                     {{"b", std::string("text")}},
                     Compression::Zip}});
    const FileInfo info = readFileInfo(folder / "parts.exr");
    REQUIRE(info.attributes.size() == 2);
    CHECK(std::get<float>(info.attributes[0].at("a")) == 1.5F);
    CHECK(std::get<std::string>(info.attributes[1].at("b")) == "text");
    REQUIRE(info.channels.size() == 6);
    CHECK(info.channels[3].name == "normal.X");
    CHECK(sameBits(readFileChannels(info, {3, 4, 5}), normal));
}

TEST_CASE("a data window smaller than the frame is laid in its place", "[image][files]") {
    const Folder folder;
    const Image image = ramp(10, 8, {"Z"});
    writeWindowed(folder / "w.exr", 5, 7, image);
    const Image back = readAll(folder / "w.exr");
    REQUIRE(back.width() == 40);
    REQUIRE(back.height() == 30);
    CHECK(back(5, 7, 0) == image(0, 0, 0));
    CHECK(back(14, 14, 0) == image(9, 7, 0));
    CHECK(back(4, 7, 0) == 0.0F);
    CHECK(back(15, 14, 0) == 0.0F);
}

TEST_CASE("a data window that reaches beyond the frame is cut, with a warning", "[image][files]") {
    const Folder folder;
    const Image image = ramp(60, 50, {"Z"});
    writeWindowed(folder / "over.exr", -10, -8, image);
    const FileInfo info = readFileInfo(folder / "over.exr");
    CHECK(info.warnings.size() == 1);
    const Image back = readAll(folder / "over.exr");
    CHECK(back.width() == 40);
    CHECK(back(0, 0, 0) == image(10, 8, 0));
    CHECK(back(39, 29, 0) == image(49, 37, 0));
}

TEST_CASE("tiled EXR files read as others do", "[image][files]") {
    const Folder folder;
    const Image image = ramp(50, 37, {"Y"});
    {
        Imf::Header header(50, 37);
        header.channels().insert("Y", Imf::Channel(Imf::FLOAT));
        header.setTileDescription(Imf::TileDescription(16, 16, Imf::ONE_LEVEL));
        Imf::TiledOutputFile file((folder / "t.exr").c_str(), header);
        Imf::FrameBuffer buffer;
        buffer.insert("Y", Imf::Slice(Imf::FLOAT,
                                      reinterpret_cast<char*>(const_cast<float*>(image.plane(0))),
                                      sizeof(float),
                                      sizeof(float) * static_cast<std::size_t>(image.rowStride())));
        file.setFrameBuffer(buffer);
        file.writeTiles(0, file.numXTiles() - 1, 0, file.numYTiles() - 1);
    }
    CHECK(sameBits(readAll(folder / "t.exr"), image));
}

TEST_CASE("integer and float TIFF and PNG keep what they can hold", "[image][files]") {
    const Folder folder;
    Image image(16, 4, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c)
        for (int i = 0; i < 16; ++i)
            image.editPlane(c)[i] = static_cast<float>(i) / 15.0F;
    struct Case {
        const char* name;
        SampleType type;
        double error;
    };
    for (const Case& each : {Case{"8.png", SampleType::Byte, 0.5 / 255},
                             Case{"16.png", SampleType::Short, 0.5 / 65535},
                             Case{"8.tif", SampleType::Byte, 0.5 / 255},
                             Case{"16.tif", SampleType::Short, 0.5 / 65535},
                             Case{"32.tiff", SampleType::Float, 0.0}}) {
        writeImageFile(folder / each.name, {{"a", "", image, each.type, {}, Compression::Zip}});
        const FileInfo info = readFileInfo(folder / each.name);
        CHECK(info.channels[0].type == each.type);
        CHECK(info.sceneLinear == (each.type == SampleType::Float));
        const Image back = readAll(folder / each.name);
        for (int i = 0; i < 16; ++i)
            CHECK(back(i, 0, 1) == Approx(image(i, 0, 1)).margin(each.error + 1e-7));
    }
}

TEST_CASE("JPEG and HDR pictures are read", "[image][files]") {
    const Folder folder;
    std::vector<float> samples(32 * 16 * 3, 0.25F);
    for (const char* name : {"a.jpg", "b.hdr"}) {
        auto out = OIIO::ImageOutput::create((folder / name).string());
        REQUIRE(out);
        out->open((folder / name).string(), OIIO::ImageSpec(32, 16, 3, OIIO::TypeDesc::FLOAT));
        out->write_image(OIIO::TypeDesc::FLOAT, samples.data());
        out->close();
        const Image back = readAll(folder / name);
        CHECK(back.width() == 32);
        CHECK(back(10, 5, 1) == Approx(0.25F).margin(0.01));
    }
}

TEST_CASE("a file that is cut short is refused with a name and a remedy, wherever it is cut",
          "[image][files]") {
    const Folder folder;
    writeImageFile(
        folder / "whole.exr",
        {{"a", "", ramp(64, 64, {"R", "G", "B"}), SampleType::Float, {}, Compression::Zip}});
    const std::string whole = bytesOf(folder / "whole.exr");
    for (const std::size_t keep :
         {std::size_t{0}, std::size_t{3}, std::size_t{40}, whole.size() / 2, whole.size() - 10}) {
        folder.write("cut.exr", whole.substr(0, keep));
        try {
            (void)readAll(folder / "cut.exr");
            FAIL("a cut file was read");
        } catch (const Error& error) {
            CHECK(error.code() == ErrorCode::BadFile);
            CHECK(std::string(error.what()).find("cut.exr") != std::string::npos);
            CHECK(std::string(error.what()).find(';') != std::string::npos);
        }
    }
}

TEST_CASE("files with flipped bytes are read or refused, never worse", "[image][files]") {
    const Folder folder;
    const Image image = ramp(24, 24, {"R", "G", "B", "Z"});
    writeImageFile(
        folder / "a.exr",
        {{"a", "", image, SampleType::Float, {{"text", std::string("x")}}, Compression::Zip}});
    writeImageFile(folder / "a.png",
                   {{"a", "", image.select({0, 1, 2}), SampleType::Byte, {}, Compression::Zip}});
    writeImageFile(folder / "a.tif",
                   {{"a", "", image.select({0, 1, 2}), SampleType::Short, {}, Compression::Zip}});
    unsigned seed = 12345;
    int outcomes = 0;
    for (const std::string ending : {".exr", ".png", ".tif"}) {
        const std::string whole = bytesOf(folder / ("a" + ending));
        for (int round = 0; round < 120; ++round) {
            std::string broken = whole;
            for (int k = 0; k < 3; ++k) {
                seed = seed * 1664525U + 1013904223U;
                const std::size_t at =
                    (seed >> 8U) %
                    (round % 2 == 0 ? std::min<std::size_t>(400, broken.size()) : broken.size());
                broken[at] = static_cast<char>(seed);
            }
            folder.write("broken" + ending, broken);
            try {
                const FileInfo info = readTriedFileInfo(
                    std::make_shared<const InputFile>(folder / ("broken" + ending)));
                if (static_cast<std::size_t>(info.width) * static_cast<std::size_t>(info.height) <
                    10'000'000)
                    (void)readFileChannels(info, allChannels(info));
                ++outcomes;
            } catch (const Error&) {
                ++outcomes;
            }
        }
    }
    CHECK(outcomes == 360);
}

TEST_CASE("missing files, unknown endings and read-only folders are told apart", "[image][files]") {
    const Folder folder;
    const auto codeOf = [](const auto& work) {
        try {
            work();
        } catch (const Error& error) {
            return error.code();
        }
        return ErrorCode::BadSetting;
    };
    const FilePart part{"a", "", ramp(4, 4, {"Y"}), SampleType::Float, {}, Compression::Zip};
    CHECK(codeOf([&] { (void)readFileInfo(folder / "none.exr"); }) == ErrorCode::FileAccess);
    CHECK(codeOf([&] { writeImageFile(folder / "a.bmp", {part}); }) == ErrorCode::UnknownName);
    CHECK(codeOf([&] { writeImageFile(folder / "no such" / "a.exr", {part}); }) ==
          ErrorCode::FileAccess);
    CHECK(codeOf([&] { writeImageFile("/proc/a.exr", {part}); }) == ErrorCode::FileAccess);
    CHECK(folder.count() == 0);
}

TEST_CASE("a write that fails leaves the old file and nothing else", "[image][files]") {
    const Folder folder;
    folder.write("keep.txt", "old");
    CHECK_THROWS_AS(writeThenRename(folder / "keep.txt",
                                    [](OutputFile& file) {
                                        file.writeAt(0, "half", 4);
                                        throw Error(ErrorCode::FileAccess, "disk full");
                                    }),
                    Error);
    CHECK(readTextFile(folder / "keep.txt") == "old");
    CHECK(folder.count() == 1);
}

TEST_CASE("a file that is exchanged while it is read is the one that was opened",
          "[image][files]") {
    const Folder folder;
    const Image small = test::ramp(16, 9, {"R", "G", "B"});
    const Image large = test::ramp(640, 360, {"R", "G", "B", "A"});
    for (const std::string name : {"a.png", "a.tif", "a.exr"}) {
        INFO(name);
        const SampleType type = name == "a.png" ? SampleType::Short : SampleType::Float;
        writeImageFile(folder / name, {{"", "", small, type, {}}});
        const FileInfo info = readFileInfo(folder / name);
        const Image before = readFileChannels(info, allChannels(info));
        writeImageFile(folder / name, {{"", "", large, type, {}}});
        CHECK(sameBits(readFileChannels(info, allChannels(info)), before));
        CHECK(readFileInfo(folder / name).width == 640);
    }
}

TEST_CASE("a file that is changed in place is refused, and nothing is written past a picture",
          "[image][files]") {
    const Folder folder;
    const Image small = test::ramp(16, 9, {"R", "G", "B"});
    const Image large = test::ramp(640, 360, {"R", "G", "B", "A"});
    for (const std::string ending : {".png", ".tif", ".exr"}) {
        INFO(ending);
        const SampleType type = ending == ".png" ? SampleType::Short : SampleType::Float;
        writeImageFile(folder / ("a" + ending), {{"", "", small, type, {}}});
        writeImageFile(folder / ("b" + ending), {{"", "", large, type, {}}});
        const FileInfo info = readFileInfo(folder / ("a" + ending));
        std::ofstream(folder / ("a" + ending), std::ios::binary | std::ios::trunc)
            << std::ifstream(folder / ("b" + ending), std::ios::binary).rdbuf();
        CHECK_THROWS_WITH(readFileChannels(info, allChannels(info)),
                          Catch::Contains("changed while it was read") ||
                              Catch::Contains("damaged"));
    }
}
