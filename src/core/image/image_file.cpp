#include "core/image/image_file.h"

#include "core/image/error.h"
#include "core/image/exr_file.h"
#include "core/image/safe_write.h"
#include "core/image/trial.h"

#include <algorithm>
#include <array>
#include <memory>

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

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

/// By its ending, and as each of the other formats if it isn't what its ending says.
std::unique_ptr<OIIO::ImageInput> openAsAny(const InputFile& file) {
    static constexpr std::array<const char*, 4> formats{"png", "tiff", "jpeg", "hdr"};
    // Colours come as they are stored; associating them wants them linear first.
    OIIO::ImageSpec config;
    config.attribute("oiio:UnassociatedAlpha", 1);
    std::vector<std::string> tried{endingOf(file.path()).erase(0, 1)};
    tried.insert(tried.end(), formats.begin(), formats.end());
    for (const std::string& format : tried) {
        auto input = format.empty() ? nullptr : OIIO::ImageInput::create(format);
        OIIO::ImageSpec spec;
        if (input && input->open(file.handle().string(), spec, config))
            return input;
        (void)(input ? input->geterror() : OIIO::geterror());  // or it is printed at exit
    }
    throw Error(
        ErrorCode::BadFile,
        fmt::format("{} can't be read as an image; write or copy it again", file.path().string()));
}

std::unique_ptr<OIIO::ImageInput> openOther(const InputFile& file) {
    auto input = openAsAny(file);
    const OIIO::ImageSpec& spec = input->spec();
    if (spec.width < 1 || spec.height < 1 || spec.width > kMaximumSide ||
        spec.height > kMaximumSide || spec.image_pixels() > kMaximumPixels || spec.nchannels < 1 ||
        spec.nchannels > 64)
        throw Error(ErrorCode::TooLarge,
                    fmt::format("{} is {} x {} pixels with {} channels, which can't be used",
                                file.path().string(), spec.width, spec.height, spec.nchannels));
    return input;
}

FileInfo readOtherInfo(const InputFile& file) {
    const auto input = openOther(file);
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

Image readOtherChannels(const FileInfo& info, const std::vector<int>& channels) {
    const auto input = openOther(*info.file);
    const OIIO::ImageSpec& spec = input->spec();
    const auto all = static_cast<std::ptrdiff_t>(info.channels.size());
    requireUnchanged(info, {spec.width, spec.height, spec.nchannels});
    std::vector<std::string> names;
    for (const int c : channels)
        names.push_back(info.channels.at(static_cast<std::size_t>(c)).name);
    Image image = Image::unset(info.width, info.height, std::move(names));
    std::vector<float> samples(static_cast<std::size_t>(all) *
                               static_cast<std::size_t>(info.width) *
                               static_cast<std::size_t>(info.height));
    if (!input->read_image(0, 0, 0, -1, OIIO::TypeFloat, samples.data())) {
        (void)input->geterror();
        throw Error(ErrorCode::BadFile, fmt::format("{} is damaged; write or copy it again",
                                                    info.file->path().string()));
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
    explicit CheckedProxy(OutputFile& file)
        : IOProxy(file.target().string(), Write), m_file(file) {}

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
    OutputFile& m_file;
};

void writeOther(OutputFile& file, const FilePart& part) {
    CheckedProxy proxy(file);
    const std::string target = file.target().string();
    auto output = OIIO::ImageOutput::create(target);
    const bool isPng = endingOf(file.target()) == ".png";
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
    const bool written = output && output->set_ioproxy(&proxy) && output->open(target, spec) &&
                         output->write_image(OIIO::TypeFloat, samples.data()) && output->close();
    file.finish();
    if (!written) {
        (void)(output ? output->geterror() : OIIO::geterror());
        throwCannotWrite(file.target(), "the file stayed incomplete");
    }
}

/// Reads back the attributes of a file.
void requireWhole(const OutputFile& file, const std::vector<FilePart>& parts) {
    int channels = 0;
    for (const FilePart& part : parts)
        channels += part.image.channels();
    const Image& image = parts.front().image;
    const FileInfo info =
        readTriedFileInfo(std::make_shared<InputFile>(file.target(), file.readingDescriptor()));
    if (info.width != image.width() || info.height != image.height() ||
        static_cast<int>(info.channels.size()) != channels)
        throwCannotWrite(file.target(), "it does not read back as it was written");
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

void requireUnchanged(const FileInfo& info, const StoredSize& now) {
    if (now.width != info.width || now.height != info.height ||
        now.channels != static_cast<int>(info.channels.size()))
        throw Error(ErrorCode::BadFile, fmt::format("{} was changed while it was read; open it "
                                                    "again",
                                                    info.file->path().string()));
}

FileInfo readTriedFileInfo(std::shared_ptr<const InputFile> file) {
    FileInfo info = endingOf(file->path()) == ".exr" ? readExrInfo(*file) : readOtherInfo(*file);
    info.file = std::move(file);
    return info;
}

FileInfo readFileInfo(const fs::path& path) {
    auto file = std::make_shared<const InputFile>(path);
    if (endingOf(path) != ".exr")
        tryReading(*file, TrialKind::Picture);
    return readTriedFileInfo(std::move(file));
}

Image readFileChannels(const FileInfo& info, const std::vector<int>& channels) {
    return endingOf(info.file->path()) == ".exr" ? readExrChannels(info, channels)
                                                 : readOtherChannels(info, channels);
}

void requireImageEnding(const fs::path& path) {
    const std::string ending = endingOf(path);
    if (ending != ".exr" && ending != ".png" && ending != ".tif" && ending != ".tiff")
        throw Error(ErrorCode::UnknownName,
                    fmt::format("{} can't be written as {}; use .exr, .tif or .png", path.string(),
                                ending.empty() ? "a file without an ending" : ending));
}

void requireImageTarget(const fs::path& path) {
    requireImageEnding(path);
    requireWritable(path);
}

std::function<void(OutputFile&)> imageWriter(const fs::path& path, std::vector<FilePart> parts) {
    if (parts.empty())
        throw Error(ErrorCode::BadSetting, fmt::format("{}: nothing to write", path.string()));
    requireImageEnding(path);
    const bool isExr = endingOf(path) == ".exr";
    if (!isExr && (parts.size() > 1 || parts.front().image.channels() > 4))
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{} holds one picture of at most four channels; use .exr for more",
                                path.string()));
    return [isExr, parts = std::move(parts)](OutputFile& file) {
        if (isExr)
            writeExr(file, parts);
        else
            writeOther(file, parts.front());
        requireWhole(file, parts);
    };
}

void writeImageFile(const fs::path& path, const std::vector<FilePart>& parts) {
    writeThenRename(path, imageWriter(path, parts));
}

}  // namespace noctis
