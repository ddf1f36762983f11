#pragma once

#include "core/project/project.h"
#include "core/recipe/evaluator.h"

namespace noctis {

/// Errors   those of exportPicture and exportMatte that can be known before there are pictures; Error(BadSetting) if
///          one of them would replace one of inputs, which are read besides the project's own.
void requireExportable(const std::vector<std::filesystem::path>& paths, const Project& project,
                       int bits, std::vector<std::filesystem::path> inputs = {});

/// Writes a finished picture by the file's ending. EXR and 32-bit TIFF stay scene-linear; 8- and
/// 16-bit files are as the view shows the picture, exposure and view transform included. bits: 8,
/// 16, 32, or 0 for the format's usual: half EXR, 16-bit TIFF and PNG. Alpha is associated in EXR and TIFF
/// unless straightAlpha is asked for, and always straight in PNG.
/// Errors   as writeImageFile; Error(BadSetting) for bits the format can't hold. What may be replaced is up to
///          requireExportable, which callers ask for all their pictures before the first.
void exportPicture(const std::filesystem::path& path, const Image& picture, const Project& project,
                   int bits, bool straightAlpha = false);

/// Writes where a step works as a grey file: 0 nowhere, 1 wholly; never through the view. bits as above.
void exportMatte(const std::filesystem::path& path, const Image& matte, int bits);

}  // namespace noctis
