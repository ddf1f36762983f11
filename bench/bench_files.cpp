#include "core/image/image_file.h"
#include "harness.h"

#include <cmath>
#include <cstdlib>
#include <memory>
#include <thread>

#include <OpenEXR/ImfChannelList.h>
#include <OpenEXR/ImfFrameBuffer.h>
#include <OpenEXR/ImfHeader.h>
#include <OpenEXR/ImfInputPart.h>
#include <OpenEXR/ImfMultiPartInputFile.h>
#include <OpenEXR/ImfThreading.h>
#include <fmt/format.h>

namespace bench {

namespace {

using noctis::Image;

constexpr int kWidth = 1920;
constexpr int kHeight = 1080;
constexpr int kPasses = 5;

/// 16 channels in five passes: three colours a pass and a depth.
std::vector<noctis::FilePart> parts() {
    std::vector<noctis::FilePart> all;
    for (int p = 0; p < kPasses; ++p) {
        Image image(kWidth, kHeight, {"X", "Y", "Z"});
        for (int c = 0; c < 3; ++c) {
            float* plane = image.editPlane(c);
            for (int y = 0; y < kHeight; ++y)
                for (int x = 0; x < kWidth; ++x)
                    plane[image.rowStride() * y + x] =
                        std::sin(0.01F * static_cast<float>(x * (c + 1) + y * (p + 1)));
        }
        all.push_back({fmt::format("pass{}", p),
                       fmt::format("pass{}", p),
                       image,
                       noctis::SampleType::Float,
                       {},
                       noctis::Compression::Zip});
    }
    all.push_back({"depth",
                   "",
                   all[0].image.select({0}, {"Z"}),
                   noctis::SampleType::Float,
                   {},
                   noctis::Compression::Zip});
    return all;
}

/// By OpenEXR alone: these parts, all of their channels, as floats.
std::vector<std::unique_ptr<float[]>> readPlain(const std::string& path, int first, int last) {
    Imf::MultiPartInputFile file(path.c_str());
    std::vector<std::unique_ptr<float[]>> planes;
    for (int part = first; part <= last; ++part) {
        Imf::InputPart input(file, part);
        Imf::FrameBuffer buffer;
        for (auto c = input.header().channels().begin(); c != input.header().channels().end();
             ++c) {
            planes.emplace_back(new float[static_cast<std::size_t>(kWidth) * kHeight]);
            buffer.insert(c.name(),
                          Imf::Slice(Imf::FLOAT, reinterpret_cast<char*>(planes.back().get()),
                                     sizeof(float), sizeof(float) * kWidth));
        }
        input.setFrameBuffer(buffer);
        input.readPixels(0, kHeight - 1);
    }
    return planes;
}

}  // namespace

void files(const Filter& wanted, std::vector<Row>& rows) {
    if (!wanted("exr one pass of 16 channels") && !wanted("exr all 16 channels"))
        return;
    Imf::setGlobalThreadCount(static_cast<int>(std::thread::hardware_concurrency()));
    const auto path =
        std::filesystem::temp_directory_path() / fmt::format("noctis-bench-{}.exr", std::rand());
    noctis::writeImageFile(path, parts());
    const auto readOurs = [path](bool all) {
        const noctis::FileInfo info = noctis::readFileInfo(path);
        std::vector<int> channels;
        for (int c = 0; c < static_cast<int>(info.channels.size()); ++c)
            if (all || info.channels[static_cast<std::size_t>(c)].part == 2)
                channels.push_back(c);
        return noctis::readFileChannels(info, channels);
    };
    const auto check = [&](bool all) {
        const Image ours = readOurs(all);
        const auto plain = readPlain(path.string(), all ? 0 : 2, all ? kPasses : 2);
        if (ours.channels() != static_cast<int>(plain.size()))
            return std::string("another number of channels");
        for (int c = 0; c < ours.channels(); ++c)
            for (int y = 0; y < kHeight; y += 53)
                for (int x = 0; x < kWidth; x += 17)
                    if (ours(x, y, c) !=
                        plain[static_cast<std::size_t>(c)]
                             [static_cast<std::size_t>(y) * kWidth + static_cast<std::size_t>(x)])
                        return std::string("other values");
        return std::string();
    };
    if (wanted("exr one pass of 16 channels"))
        rows.push_back(
            run({"exr one pass of 16 channels", [&] { return check(false); },
                 [&] { (void)readOurs(false); }, [&] { (void)readPlain(path.string(), 2, 2); }, 1.1,
                 false, "OpenEXR itself", 9}));
    if (wanted("exr all 16 channels"))
        rows.push_back(
            run({"exr all 16 channels", [&] { return check(true); }, [&] { (void)readOurs(true); },
                 [&] { (void)readPlain(path.string(), 0, kPasses); }, 1.15, false, "OpenEXR itself",
                 7}));
    std::filesystem::remove(path);
}

}  // namespace bench
