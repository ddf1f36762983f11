#include "core/dispatch/picture_export.h"

#include "core/dispatch/dither.h"
#include "core/dispatch/export_format.h"
#include "core/image/safe_write.h"

namespace noctis {

namespace {

constexpr int kByteSteps = 255;

FilePart partNamed(const std::string& name, const ExportDepth& depth) {
    FilePart part;
    part.name = name;
    part.attributes = {{"software", std::string("Noctis")}};
    part.type = depth.type;
    return part;
}

Image roundedWell(Image picture, const PictureStorage& storage, const ExportDepth& depth) {
    return storage.dither && depth.bits == 8 ? dithered(picture, kByteSteps) : picture;
}

}  // namespace

void requireExportable(const std::vector<std::filesystem::path>& paths, const Project& project,
                       int bits, std::vector<std::filesystem::path> inputs) {
    for (std::filesystem::path& input : inputsOf(project, paths))
        inputs.push_back(std::move(input));
    requireNoInput(paths, inputs);
    for (const std::filesystem::path& path : paths)
        (void)exportDepthOf(path, bits);
    if (paths.size() == 1)  // of several, those that can be are written
        requireWritable(paths.front());
}

FilePart pictureToWrite(const std::filesystem::path& path, const Image& picture,
                        const Project& project, const PictureStorage& storage, int factor) {
    const ExportDepth& depth = exportDepthOf(path, storage.bits);
    const Image seen = framed(picture, storage.framing, factor);
    FilePart part = partNamed("beauty", depth);
    part.straightAlpha = exportFormatOf(path).alwaysStraight || storage.straightAlpha;
    if (depth.linear) {
        part.image = part.straightAlpha ? straightFromAssociated(seen) : seen;
        return part;
    }
    // A view transform is one of straight colours.
    part.image = viewed(straightFromAssociated(seen), project.viewTransform, project.exposure);
    part.image = roundedWell(std::move(part.image), storage, depth);
    if (const int alpha = seen.channel("A"); alpha >= 0) {
        part.image.append(seen.select({alpha}, {"A"}));
        if (!part.straightAlpha)
            part.image = associatedFromStraight(part.image);
    }
    return part;
}

void exportPicture(const std::filesystem::path& path, const Image& picture, const Project& project,
                   const PictureStorage& storage, int factor) {
    writeImageFile(path, {pictureToWrite(path, picture, project, storage, factor)});
}

void exportMatte(const std::filesystem::path& path, const Image& matte,
                 const PictureStorage& storage, int factor) {
    const ExportDepth& depth = exportDepthOf(path, storage.bits);
    FilePart part = partNamed("matte", depth);
    part.image =
        roundedWell(framed(matte.select({0}, {"Y"}), storage.framing, factor), storage, depth);
    writeImageFile(path, {part});
}

}  // namespace noctis
