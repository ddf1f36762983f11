#include "core/image/exr_file.h"

#include "core/image/error.h"
#include "core/image/exr_attributes.h"
#include "core/image/safe_write.h"

#include <algorithm>
#include <map>
#include <memory>
#include <mutex>
#include <set>
#include <thread>

#include <OpenEXR/ImfChannelList.h>
#include <OpenEXR/ImfFrameBuffer.h>
#include <OpenEXR/ImfHeader.h>
#include <OpenEXR/ImfIO.h>
#include <OpenEXR/ImfInputPart.h>
#include <OpenEXR/ImfMultiPartInputFile.h>
#include <OpenEXR/ImfMultiPartOutputFile.h>
#include <OpenEXR/ImfOutputFile.h>
#include <OpenEXR/ImfOutputPart.h>
#include <OpenEXR/ImfPartType.h>
#include <OpenEXR/ImfStringAttribute.h>
#include <OpenEXR/ImfThreading.h>
#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

void useAllCores() {
    static std::once_flag once;
    std::call_once(once, [] {
        Imf::setGlobalThreadCount(static_cast<int>(std::thread::hardware_concurrency()));
        Imf::Header::setMaxImageSize(kMaximumSide, kMaximumSide);
    });
}

/// Runs work and gives what OpenEXR throws a name, a sentence and a remedy.
template <typename Work> auto guarded(const fs::path& path, const Work& work) {
    useAllCores();
    try {
        return work();
    } catch (const Error&) {
        throw;
    } catch (const std::bad_alloc&) {
        throw Error(ErrorCode::TooLarge,
                    fmt::format("{} needs more memory than is available", path.string()));
    } catch (const std::exception&) {
        throw Error(
            ErrorCode::BadFile,
            fmt::format("{} is damaged or not an EXR file; write or copy it again", path.string()));
    }
}

SampleType sampleType(Imf::PixelType type) {
    switch (type) {
    case Imf::HALF:
        return SampleType::Half;
    case Imf::UINT:
        return SampleType::UInt;
    default:
        return SampleType::Float;
    }
}

/// In a multi-part file a part's name is its layer where the channels don't say one themselves.
std::string fullName(const Imf::Header& header, const std::string& channel, int parts) {
    if (parts == 1 || !header.hasName() || channel.find('.') != std::string::npos)
        return channel;
    static const std::set<std::string> plain{"rgba", "rgb", "beauty", "depth", "default", "main"};
    std::string name = header.name();
    std::transform(name.begin(), name.end(), name.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    if (plain.contains(name))
        return channel;
    return header.name() + "." + channel;
}

/// Where the data window lies in the display window, whole or in part.
struct Placement {
    Imath::Box2i display;
    Imath::Box2i data;

    [[nodiscard]] int width() const { return display.max.x - display.min.x + 1; }
    [[nodiscard]] int height() const { return display.max.y - display.min.y + 1; }
    [[nodiscard]] int dataWidth() const { return data.max.x - data.min.x + 1; }
    [[nodiscard]] int dataHeight() const { return data.max.y - data.min.y + 1; }
    [[nodiscard]] bool inside() const {
        return data.min.x >= display.min.x && data.max.x <= display.max.x &&
               data.min.y >= display.min.y && data.max.y <= display.max.y;
    }
};

void checkSize(const fs::path& path, int width, int height) {
    if (width < 1 || height < 1 || width > kMaximumSide || height > kMaximumSide ||
        static_cast<std::size_t>(width) * static_cast<std::size_t>(height) > kMaximumPixels)
        throw Error(
            ErrorCode::TooLarge,
            fmt::format("{} is {} x {} pixels, which can't be used; each side must be 1 to {}",
                        path.string(), width, height, kMaximumSide));
}

void readPart(Imf::MultiPartInputFile& file, int part, const Placement& place,
              const std::vector<std::pair<std::string, int>>& wanted, Image& image) {
    Imf::InputPart input(file, part);
    const auto sampleStride = sizeof(float);
    if (place.inside()) {
        Imf::FrameBuffer buffer;
        const auto rowStride = static_cast<std::size_t>(image.rowStride()) * sampleStride;
        for (const auto& [name, to] : wanted)
            buffer.insert(
                name, Imf::Slice(Imf::FLOAT,
                                 reinterpret_cast<char*>(image.editPlane(to) -
                                                         image.rowStride() * place.display.min.y -
                                                         place.display.min.x),
                                 sampleStride, rowStride));
        input.setFrameBuffer(buffer);
        input.readPixels(place.data.min.y, place.data.max.y);
        return;
    }
    // The data window reaches beyond the picture: read all of it, keep what the picture shows.
    std::vector<std::string> names(wanted.size(), "");
    Image whole = Image::unset(place.dataWidth(), place.dataHeight(), names);
    Imf::FrameBuffer buffer;
    for (std::size_t i = 0; i < wanted.size(); ++i)
        buffer.insert(wanted[i].first,
                      Imf::Slice(Imf::FLOAT,
                                 reinterpret_cast<char*>(whole.editPlane(static_cast<int>(i)) -
                                                         whole.rowStride() * place.data.min.y -
                                                         place.data.min.x),
                                 sampleStride,
                                 static_cast<std::size_t>(whole.rowStride()) * sampleStride));
    input.setFrameBuffer(buffer);
    input.readPixels(place.data.min.y, place.data.max.y);
    const int x0 = std::max(place.data.min.x, place.display.min.x);
    const int x1 = std::min(place.data.max.x, place.display.max.x);
    for (std::size_t i = 0; i < wanted.size(); ++i)
        for (int y = std::max(place.data.min.y, place.display.min.y);
             y <= std::min(place.data.max.y, place.display.max.y) && x1 >= x0; ++y)
            std::copy_n(
                whole.row(static_cast<int>(i), y - place.data.min.y) + x0 - place.data.min.x,
                x1 - x0 + 1,
                image.editPlane(wanted[i].second) + image.rowStride() * (y - place.display.min.y) +
                    x0 - place.display.min.x);
}

Placement placementOf(const Imf::Header& header) {
    return {header.displayWindow(), header.dataWindow()};
}

Imf::Compression exrCompression(Compression compression) {
    switch (compression) {
    case Compression::None:
        return Imf::NO_COMPRESSION;
    case Compression::Zips:
        return Imf::ZIPS_COMPRESSION;
    case Compression::Rle:
        return Imf::RLE_COMPRESSION;
    case Compression::Piz:
        return Imf::PIZ_COMPRESSION;
    case Compression::LossyColour:
        return Imf::DWAB_COMPRESSION;
    case Compression::Zip:
        break;
    }
    return Imf::ZIP_COMPRESSION;
}

std::string channelNameOf(const FilePart& part, int channel) {
    const std::string& name = part.image.channelName(channel);
    return part.layer.empty() ? name : part.layer + "." + name;
}

/// OpenEXR packs halves from halves only, so half parts are converted first.
std::vector<std::vector<half>> halvesOf(const FilePart& part) {
    std::vector<std::vector<half>> halves;
    for (int c = 0; c < part.image.channels(); ++c) {
        std::vector<half>& plane = halves.emplace_back();
        plane.reserve(static_cast<std::size_t>(part.image.width()) *
                      static_cast<std::size_t>(part.image.height()));
        for (int y = 0; y < part.image.height(); ++y)
            for (int x = 0; x < part.image.width(); ++x)
                plane.emplace_back(part.image(x, y, c));
    }
    return halves;
}

Imf::Header headerOf(const FilePart& part, bool multiPart) {
    Imf::Header header(part.image.width(), part.image.height());
    header.compression() = exrCompression(part.compression);
    for (int c = 0; c < part.image.channels(); ++c)
        header.channels().insert(
            channelNameOf(part, c),
            Imf::Channel(part.type == SampleType::Half ? Imf::HALF : Imf::FLOAT));
    insertAttributes(header, part.attributes);
    if (multiPart) {
        header.setName(part.name);
        header.setType(Imf::SCANLINEIMAGE);
    }
    return header;
}

/// OpenEXR writes its table of rows last, in a destructor that throws nothing; finish() of the file reports it.
class CheckedStream : public Imf::OStream {
public:
    explicit CheckedStream(OutputFile& file) : OStream(file.target().c_str()), m_file(file) {}

    void write(const char bytes[], int count) override {
        if (!m_file.writeAt(m_at, bytes, static_cast<std::size_t>(count)))
            throw std::runtime_error("write failed");
        m_at += static_cast<std::uint64_t>(count);
    }
    std::uint64_t tellp() override { return m_at; }
    void seekp(std::uint64_t at) override { m_at = at; }

private:
    OutputFile& m_file;
    std::uint64_t m_at = 0;
};

/// Runs write on a stream to the file, and fails if any byte did not reach the disk.
template <typename Write> void writeChecked(OutputFile& file, const Write& write) {
    CheckedStream stream(file);
    try {
        write(stream);
    } catch (const std::exception& error) {
        file.finish();  // throws if the disk was the reason
        throwCannotWrite(file.target(), std::string(error.what()));
    }
}

template <typename Output> void writePart(Output& output, const FilePart& part) {
    Imf::FrameBuffer buffer;
    std::vector<std::vector<half>> halves;
    if (part.type == SampleType::Half)
        halves = halvesOf(part);
    for (int c = 0; c < part.image.channels(); ++c) {
        const std::string name = channelNameOf(part, c);
        if (part.type == SampleType::Half)
            buffer.insert(
                name,
                Imf::Slice(
                    Imf::HALF, reinterpret_cast<char*>(halves[static_cast<std::size_t>(c)].data()),
                    sizeof(half), sizeof(half) * static_cast<std::size_t>(part.image.width())));
        else
            buffer.insert(
                name,
                Imf::Slice(Imf::FLOAT,
                           const_cast<char*>(reinterpret_cast<const char*>(part.image.plane(c))),
                           sizeof(float),
                           sizeof(float) * static_cast<std::size_t>(part.image.rowStride())));
    }
    output.setFrameBuffer(buffer);
    output.writePixels(part.image.height());
}

/// Calls take(part, channel) for each that can be used; what can't is warned of.
template <typename Take>
void forEachChannel(const fs::path& path, const Imf::MultiPartInputFile& file, FileInfo& info,
                    const Take& take) {
    bool found = false;
    for (int part = 0; part < file.parts(); ++part) {
        const Imf::Header& header = file.header(part);
        const Placement place = placementOf(header);
        checkSize(path, place.width(), place.height());
        checkSize(path, place.dataWidth(), place.dataHeight());
        if (header.hasType() && Imf::isDeepData(header.type())) {
            info.warnings.push_back(fmt::format("part {} holds deep data and is left out", part));
            continue;
        }
        if (!found) {
            info.width = place.width();
            info.height = place.height();
        } else if (place.width() != info.width || place.height() != info.height) {
            info.warnings.push_back(
                fmt::format("part {} is {} x {} and the first part {} x {}; it is left out", part,
                            place.width(), place.height(), info.width, info.height));
            continue;
        }
        if (!place.inside())
            info.warnings.push_back(
                "the data window reaches beyond the frame; what lies outside is left out");
        for (auto c = header.channels().begin(); c != header.channels().end(); ++c) {
            if (c.channel().xSampling != 1 || c.channel().ySampling != 1) {
                info.warnings.push_back(fmt::format(
                    "channel {} is stored at a lower resolution and is left out", c.name()));
                continue;
            }
            found = true;
            info.channels.push_back(
                {fullName(header, c.name(), file.parts()), sampleType(c.channel().type), part});
            take(part, std::string(c.name()));
        }
    }
    if (info.channels.empty())
        throw Error(ErrorCode::BadFile,
                    fmt::format("{} holds no channel that can be used", path.string()));
}

}  // namespace

FileInfo readExrInfo(const InputFile& from) {
    return guarded(from.path(), [&] {
        const Imf::MultiPartInputFile file(from.handle().c_str());
        FileInfo info;
        forEachChannel(from.path(), file, info, [](int, const std::string&) {});
        for (int part = 0; part < file.parts(); ++part)
            info.attributes.push_back(attributesOf(file.header(part)));
        return info;
    });
}

Image readExrChannels(const FileInfo& info, const std::vector<int>& channels) {
    const fs::path& path = info.file->path();
    return guarded(path, [&] {
        Imf::MultiPartInputFile file(info.file->handle().c_str());
        FileInfo now;
        std::vector<std::string> stored;  // of the file's channels, in info's order
        forEachChannel(path, file, now,
                       [&](int, const std::string& name) { stored.push_back(name); });
        requireUnchanged(info, {now.width, now.height, static_cast<int>(now.channels.size())});
        std::vector<std::string> names;
        for (const int c : channels)
            names.push_back(info.channels.at(static_cast<std::size_t>(c)).name);
        bool whole = true;
        for (int part = 0; part < file.parts(); ++part) {
            const Placement place = placementOf(file.header(part));
            whole = whole && place.data == place.display;
        }
        Image image = whole ? Image::unset(info.width, info.height, names)
                            : Image(info.width, info.height, names);
        for (int part = 0; part < file.parts(); ++part) {
            std::vector<std::pair<std::string, int>> wanted;
            for (std::size_t i = 0; i < channels.size(); ++i) {
                const auto channel = static_cast<std::size_t>(channels[i]);
                if (now.channels[channel].part == part)
                    wanted.emplace_back(stored[channel], static_cast<int>(i));
            }
            if (!wanted.empty())
                readPart(file, part, placementOf(file.header(part)), wanted, image);
        }
        return image;
    });
}

void writeExr(OutputFile& to, const std::vector<FilePart>& parts) {
    useAllCores();
    writeChecked(to, [&](Imf::OStream& stream) {
        if (parts.size() == 1) {
            Imf::OutputFile file(stream, headerOf(parts.front(), false));
            writePart(file, parts.front());
            return;
        }
        std::vector<Imf::Header> headers;
        for (const FilePart& part : parts)
            headers.push_back(headerOf(part, true));
        Imf::MultiPartOutputFile file(stream, headers.data(), static_cast<int>(headers.size()));
        for (int i = 0; i < static_cast<int>(parts.size()); ++i) {
            Imf::OutputPart output(file, i);
            writePart(output, parts[static_cast<std::size_t>(i)]);
        }
    });
}

void joinExr(OutputFile& to, const std::vector<ExrPart>& parts) {
    writeChecked(to, [&](Imf::OStream& stream) {
        std::map<const OutputFile*, std::unique_ptr<Imf::MultiPartInputFile>> files;
        std::vector<Imf::Header> headers;
        for (const ExrPart& part : parts) {
            auto& file = files[part.file];
            if (!file)
                file = std::make_unique<Imf::MultiPartInputFile>(part.file->handle().c_str());
            headers.push_back(file->header(part.index));
            if (parts.size() > 1) {
                headers.back().setName(part.name);
                headers.back().setType(Imf::SCANLINEIMAGE);
            }
        }
        Imf::MultiPartOutputFile out(stream, headers.data(), static_cast<int>(headers.size()));
        for (std::size_t i = 0; i < parts.size(); ++i) {
            Imf::InputPart from(*files[parts[i].file], parts[i].index);
            Imf::OutputPart(out, static_cast<int>(i)).copyPixels(from);
        }
    });
}

}  // namespace noctis
