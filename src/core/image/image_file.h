#pragma once

#include "core/image/image.h"

#include <filesystem>
#include <map>
#include <string>
#include <variant>
#include <vector>

#include <Imath/ImathMatrix.h>

namespace noctis {

/// How one sample is stored in a file.
enum class SampleType { Byte, Short, Half, Float, UInt };

/// "8-bit", "16-bit", "half", "float", "uint".
std::string_view sampleTypeName(SampleType type);

using Attribute = std::variant<std::string, float, int, Imath::M44f>;
using Attributes = std::map<std::string, Attribute>;

/// One channel as it lies in a file. name is the full one, as "normal.X"; part is the EXR part.
struct FileChannel {
    std::string name;
    SampleType type = SampleType::Float;
    int part = 0;
};

/// What a file states about itself, without reading pixels.
/// Shape    width x height is the display window; pixels outside the data window read as 0.
struct FileInfo {
    int width = 0;
    int height = 0;
    std::vector<FileChannel> channels;
    std::vector<Attributes> attributes;  ///< one set a part
    std::vector<std::string> warnings;   ///< whole sentences
    bool straightAlpha = false;          ///< colours are not multiplied by alpha
    bool sceneLinear = true;             ///< false for 8- and 16-bit pictures, taken as sRGB
};

/// The endings that can be read, in lower case with the dot.
const std::vector<std::string>& readableImageEndings();

/// Errors   Error(FileAccess) if it can't be opened, Error(BadFile) if its content can't be used,
///          Error(TooLarge). Each names the file and what to do.
FileInfo readFileInfo(const std::filesystem::path& path);

/// As readFileInfo, for a file known to be harmless; see trial.h.
FileInfo readTriedFileInfo(const std::filesystem::path& path);

/// Reads just these channels (indices into info.channels). Values are as stored: integers become
/// 0..1, nothing is colour-converted.
/// Errors   as readFileInfo.
Image readFileChannels(const std::filesystem::path& path, const FileInfo& info,
                       const std::vector<int>& channels);

/// How the samples are packed. Lossy is for colour only: its files are not exact.
enum class Compression { None, Zip, Zips, Rle, Piz, LossyColour };

/// One part of a file to be written: its channels' names are the image's, prefixed by layer.
struct FilePart {
    std::string name;   ///< part name, for EXR
    std::string layer;  ///< prefix of the channel names; empty for R G B A and Z
    Image image;
    SampleType type = SampleType::Float;
    Attributes attributes;
    Compression compression = Compression::Zip;
    bool straightAlpha = false;
};

/// Errors   those of writeImageFile that can be known before there is a picture: of the ending and the folder.
void requireImageTarget(const std::filesystem::path& path);

/// Writes by the ending: .exr (any parts), .tif .tiff (8, 16, 32-bit float), .png (8, 16-bit).
/// Integer samples are clamped to 0..1. A is written as it is: straight is what PNG wants, associated what
/// EXR and TIFF want, unless straightAlpha says that it is not so. Written beside the target and renamed into place.
/// Errors   Error(FileAccess), Error(UnknownName) for another ending, Error(BadSetting) where the
///          format can't hold that.
void writeImageFile(const std::filesystem::path& path, const std::vector<FilePart>& parts);

}  // namespace noctis
