#include "core/project/finish.h"

#include "core/image/error.h"
#include "core/image/safe_write.h"

#include <algorithm>
#include <cctype>

#include <fmt/format.h>

namespace noctis {

namespace {

struct Format {
    bool isExr = false;
    bool isPng = false;
};

/// Errors   Error(BadSetting) for bits it can't hold.
Format formatOf(const std::filesystem::path& path, int bits) {
    std::string ending = path.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    const Format format{ending == ".exr", ending == ".png"};
    if ((format.isExr && bits == 8) || (format.isPng && bits == 32))
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{}: a {} file can't hold {} bits", path.string(), ending, bits));
    return format;
}

}  // namespace

void requireExportable(const std::vector<std::filesystem::path>& paths, const Project& project,
                       int bits, std::vector<std::filesystem::path> inputs) {
    for (std::filesystem::path& input : inputsOf(project, paths))
        inputs.push_back(std::move(input));
    requireNoInput(paths, inputs);
    for (const std::filesystem::path& path : paths) {
        (void)formatOf(path, bits);
        requireImageEnding(path);
    }
    if (paths.size() == 1)  // of several, those that can be are written
        requireWritable(paths.front());
}

void exportMatte(const std::filesystem::path& path, const Image& matte, int bits) {
    const Format format = formatOf(path, bits);
    FilePart part;
    part.name = "matte";
    part.attributes = {{"software", std::string("Noctis")}};
    part.image = matte.select({0}, {"Y"});
    part.type = format.isExr && bits != 32   ? SampleType::Half
                : format.isExr || bits == 32 ? SampleType::Float
                : bits == 8                  ? SampleType::Byte
                                             : SampleType::Short;
    writeImageFile(path, {part});
}

void exportPicture(const std::filesystem::path& path, const Image& picture, const Project& project,
                   int bits, bool straightAlpha) {
    const auto [isExr, isPng] = formatOf(path, bits);
    FilePart part;
    part.name = "beauty";
    part.attributes = {{"software", std::string("Noctis")}};
    part.straightAlpha = isPng || straightAlpha;
    if (isExr || bits == 32) {
        part.type = isExr && bits != 32 ? SampleType::Half : SampleType::Float;
        part.image = straightAlpha ? straightFromAssociated(picture) : picture;
    } else {
        part.type = bits == 8 ? SampleType::Byte : SampleType::Short;
        // A view transform is one of straight colours.
        part.image =
            viewed(straightFromAssociated(picture), project.viewTransform, project.exposure);
        if (const int alpha = picture.channel("A"); alpha >= 0) {
            part.image.append(picture.select({alpha}, {"A"}));
            if (!part.straightAlpha)
                part.image = associatedFromStraight(part.image);
        }
    }
    writeImageFile(path, {part});
}

}  // namespace noctis
