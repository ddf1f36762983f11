#include "core/image/image_file.h"

#include "core/image/checked_file.h"
#include "core/image/error.h"
#include "core/image/exr_file.h"
#include "core/image/safe_write.h"
#include "core/image/trial.h"

#include <algorithm>
#include <cctype>
#include <memory>

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

std::string endingOf(const fs::path& path) {
    std::string ending = path.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return ending;
}

SampleType sampleType(const OIIO::TypeDesc& type) {
    switch (type.basetype) {
    case OIIO::TypeDesc::UINT8:
    case OIIO::TypeDesc::INT8:
        return SampleType::Byte;
    case OIIO::TypeDesc::HALF:
        return SampleType::Half;
    case OIIO::TypeDesc::FLOAT:
    case OIIO::TypeDesc::DOUBLE:
        return SampleType::Float;
    case OIIO::TypeDesc::UINT32:
        return SampleType::UInt;
    default:
        return SampleType::Short;
    }
}

std::unique_ptr<OIIO::ImageInput> openOther(const fs::path& path) {
    // Colours come as they are stored; associating them wants them linear first.
    OIIO::ImageSpec config;
    config.attribute("oiio:UnassociatedAlpha", 1);
    auto input = OIIO::ImageInput::open(path.string(), &config);
    if (!input) {
        (void)OIIO::geterror();  // otherwise the library prints it at exit
        throw Error(
            ErrorCode::BadFile,
            fmt::format("{} can't be read as an image; write or copy it again", path.string()));
    }
    const OIIO::ImageSpec& spec = input->spec();
    if (spec.width < 1 || spec.height < 1 || spec.width > kMaximumSide ||
        spec.height > kMaximumSide || spec.image_pixels() > kMaximumPixels || spec.nchannels > 64)
        throw Error(ErrorCode::TooLarge,
                    fmt::format("{} is {} x {} pixels with {} channels, which can't be used",
                                path.string(), spec.width, spec.height, spec.nchannels));
    return input;
}

FileInfo readOtherInfo(const fs::path& path) {
    const auto input = openOther(path);
    const OIIO::ImageSpec& spec = input->spec();
    FileInfo info;
    info.width = spec.width;
    info.height = spec.height;
    const SampleType type = sampleType(spec.format);
    for (int c = 0; c < spec.nchannels; ++c) {
        std::string name = c < static_cast<int>(spec.channelnames.size())
                               ? spec.channelnames[static_cast<std::size_t>(c)]
                               : std::to_string(c);
        info.channels.push_back({std::move(name), type, 0});
    }
    info.straightAlpha =
        spec.alpha_channel >= 0 && spec.get_int_attribute("oiio:UnassociatedAlpha", 0) != 0;
    info.sceneLinear = type == SampleType::Float || type == SampleType::Half;
    Attributes attributes;
    for (const auto& parameter : spec.extra_attribs)
        if (parameter.type() == OIIO::TypeString)
            attributes[parameter.name().string()] = parameter.get_string();
    info.attributes.push_back(std::move(attributes));
    return info;
}

Image readOtherChannels(const fs::path& path, const FileInfo& info,
                        const std::vector<int>& channels) {
    const auto input = openOther(path);
    std::vector<std::string> names;
    for (const int c : channels)
        names.push_back(info.channels.at(static_cast<std::size_t>(c)).name);
    Image image = Image::unset(info.width, info.height, std::move(names));
    const auto all = static_cast<std::ptrdiff_t>(info.channels.size());
    std::vector<float> samples(static_cast<std::size_t>(all) *
                               static_cast<std::size_t>(info.width) *
                               static_cast<std::size_t>(info.height));
    if (!input->read_image(0, 0, 0, -1, OIIO::TypeFloat, samples.data())) {
        (void)input->geterror();
        throw Error(ErrorCode::BadFile,
                    fmt::format("{} is damaged; write or copy it again", path.string()));
    }
    for (std::size_t i = 0; i < channels.size(); ++i) {
        float* to = image.editPlane(static_cast<int>(i));
        for (int y = 0; y < info.height; ++y)
            for (int x = 0; x < info.width; ++x)
                to[image.rowStride() * y + x] = samples[static_cast<std::size_t>(
                    (static_cast<std::ptrdiff_t>(y) * info.width + x) * all + channels[i])];
    }
    return image;
}

/// Gives OpenImageIO a file that keeps the failures its writers pass over.
class CheckedProxy : public OIIO::Filesystem::IOProxy {
public:
    CheckedProxy(const fs::path& path, CheckedFile& file)
        : IOProxy(path.string(), Write), m_file(file) {}

    const char* proxytype() const override { return "checked"; }
    std::size_t write(const void* bytes, std::size_t count) override {
        const std::size_t written = pwrite(bytes, count, m_pos);
        m_pos += static_cast<std::int64_t>(written);
        return written;
    }
    std::size_t pwrite(const void* bytes, std::size_t count, std::int64_t at) override {
        return m_file.writeAt(static_cast<std::uint64_t>(at), bytes, count) ? count : 0;
    }
    std::size_t read(void* bytes, std::size_t count) override {
        const std::size_t found = pread(bytes, count, m_pos);
        m_pos += static_cast<std::int64_t>(found);
        return found;
    }
    std::size_t pread(void* bytes, std::size_t count, std::int64_t at) override {
        return m_file.readAt(static_cast<std::uint64_t>(at), bytes, count);
    }
    std::size_t size() const override { return m_file.size(); }

private:
    CheckedFile& m_file;
};

void writeOther(const fs::path& target, const fs::path& path, const FilePart& part) {
    CheckedFile file(path);
    CheckedProxy proxy(path, file);
    auto output = OIIO::ImageOutput::create(path.string());
    const bool isPng = endingOf(target) == ".png";
    OIIO::TypeDesc type = OIIO::TypeDesc::FLOAT;
    if (part.type == SampleType::Byte)
        type = OIIO::TypeDesc::UINT8;
    else if (part.type == SampleType::Short || (isPng && part.type != SampleType::Byte))
        type = OIIO::TypeDesc::UINT16;
    const Image& image = part.image;
    OIIO::ImageSpec spec(image.width(), image.height(), image.channels(), type);
    for (const auto& [name, value] : part.attributes)
        if (const auto* text = std::get_if<std::string>(&value))
            spec.attribute(name, *text);
    // Keeps OpenImageIO from converting the samples.
    if (isPng || part.straightAlpha)
        spec.attribute("oiio:UnassociatedAlpha", 1);
    spec.alpha_channel = image.channel("A");
    if (!isPng)
        spec.attribute("compression", "zip");
    std::vector<float> samples;
    samples.reserve(static_cast<std::size_t>(image.width()) *
                    static_cast<std::size_t>(image.height() * image.channels()));
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            for (int c = 0; c < image.channels(); ++c)
                samples.push_back(image(x, y, c));
    const bool written = output && output->set_ioproxy(&proxy) &&
                         output->open(path.string(), spec) &&
                         output->write_image(OIIO::TypeFloat, samples.data()) && output->close();
    file.finish();
    if (!written) {
        (void)(output ? output->geterror() : OIIO::geterror());
        throwCannotWrite(target, "the file stayed incomplete");
    }
}

/// Reads back the attributes of a file.
void requireWhole(const fs::path& path, const std::vector<FilePart>& parts) {
    int channels = 0;
    for (const FilePart& part : parts)
        channels += part.image.channels();
    const Image& image = parts.front().image;
    const FileInfo info = readTriedFileInfo(path);
    if (info.width != image.width() || info.height != image.height() ||
        static_cast<int>(info.channels.size()) != channels)
        throwCannotWrite(path, "it does not read back as it was written");
}

}  // namespace

std::string_view sampleTypeName(SampleType type) {
    switch (type) {
    case SampleType::Byte:
        return "8-bit";
    case SampleType::Short:
        return "16-bit";
    case SampleType::Half:
        return "half";
    case SampleType::UInt:
        return "uint";
    case SampleType::Float:
        break;
    }
    return "float";
}

const std::vector<std::string>& readableImageEndings() {
    static const std::vector<std::string> endings{".exr",  ".tif", ".tiff", ".png",
                                                  ".jpeg", ".jpg", ".hdr"};
    return endings;
}

FileInfo readTriedFileInfo(const fs::path& path) {
    requireFile(path);
    return endingOf(path) == ".exr" ? readExrInfo(path) : readOtherInfo(path);
}

FileInfo readFileInfo(const fs::path& path) {
    requireFile(path);
    if (endingOf(path) != ".exr")
        tryReading(path, TrialKind::Picture);
    return readTriedFileInfo(path);
}

Image readFileChannels(const fs::path& path, const FileInfo& info,
                       const std::vector<int>& channels) {
    return endingOf(path) == ".exr" ? readExrChannels(path, info, channels)
                                    : readOtherChannels(path, info, channels);
}

void requireImageTarget(const fs::path& path) {
    const std::string ending = endingOf(path);
    if (ending != ".exr" && ending != ".png" && ending != ".tif" && ending != ".tiff")
        throw Error(ErrorCode::UnknownName,
                    fmt::format("{} can't be written as {}; use .exr, .tif or .png", path.string(),
                                ending.empty() ? "a file without an ending" : ending));
    requireWritable(path);
}

void writeImageFile(const fs::path& path, const std::vector<FilePart>& parts) {
    if (parts.empty())
        throw Error(ErrorCode::BadSetting, fmt::format("{}: nothing to write", path.string()));
    requireImageTarget(path);
    const bool isExr = endingOf(path) == ".exr";
    if (!isExr && (parts.size() > 1 || parts.front().image.channels() > 4))
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{} holds one picture of at most four channels; use .exr for more",
                                path.string()));
    writeThenRename(path, [&](const fs::path& beside) {
        if (isExr)
            writeExr(beside, parts);
        else
            writeOther(path, beside, parts.front());
        requireWhole(beside, parts);
    });
}

}  // namespace noctis
