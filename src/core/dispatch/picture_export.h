#pragma once

#include "core/dispatch/framing.h"
#include "core/image/image_file.h"
#include "core/project/project.h"
#include "core/recipe/evaluator.h"

namespace noctis {

/// How a picture is stored.
struct PictureStorage {
    int bits = 0;                ///< 8, 16, 32, or 0 for the format's usual ones
    bool straightAlpha = false;  ///< PNG's always is
    bool dither = false;         ///< of 8 bits
    Framing framing{};
    bool operator==(const PictureStorage&) const = default;
};

/// Errors   those of exportPicture and exportMatte that can be known before there are pictures; Error(BadSetting) if
///          one of them would replace one of inputs, which are read besides the project's own.
void requireExportable(const std::vector<std::filesystem::path>& paths, const Project& project,
                       int bits, std::vector<std::filesystem::path> inputs = {});

/// What a file of that name will hold of a finished picture, framed and of the file's colours: EXR and 32-bit TIFF stay
/// scene-linear; 8- and 16-bit files are as the view shows the picture, exposure and view transform included. Alpha is
/// associated in EXR and TIFF unless straight alpha is asked for. factor: of the picture, to its full size.
/// Errors   Error(BadSetting) for bits the format can't hold, and as framed.
FilePart pictureToWrite(const std::filesystem::path& path, const Image& picture,
                        const Project& project, const PictureStorage& storage, int factor = 1);

/// Writes a finished picture by the file's ending.
/// Errors   as writeImageFile and pictureToWrite. What may be replaced is up to requireExportable, which callers ask for
///          all their pictures before the first.
void exportPicture(const std::filesystem::path& path, const Image& picture, const Project& project,
                   const PictureStorage& storage = {}, int factor = 1);

/// Writes where a step works as a grey file: 0 nowhere, 1 wholly; never through the view.
void exportMatte(const std::filesystem::path& path, const Image& matte,
                 const PictureStorage& storage, int factor = 1);

}  // namespace noctis
