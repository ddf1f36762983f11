#pragma once

#include "core/image/image.h"
#include "core/image/input_file.h"
#include "core/image/output_file.h"

#include <filesystem>
#include <functional>
#include <map>
#include <memory>
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

/// What a file states about itself, without reading pixels, and the file itself, still open.
/// Shape    width x height is the display window; pixels outside the data window read as 0.
struct FileInfo {
    int width = 0;
    int height = 0;
    std::shared_ptr<const InputFile> file;
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
FileInfo readTriedFileInfo(std::shared_ptr<const InputFile> file);

/// Reads just these channels (indices into info.channels) of the file that info is of. Values are as stored:
/// integers become 0..1, nothing is colour-converted.
/// Errors   as readFileInfo; Error(BadFile) if the file was changed in place since.
Image readFileChannels(const FileInfo& info, const std::vector<int>& channels);

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

/// Errors   Error(UnknownName) for an ending that writeImageFile doesn't write.
void requireImageEnding(const std::filesystem::path& path);

/// Errors   those of writeImageFile that can be known before there is a picture: of the ending and the folder.
void requireImageTarget(const std::filesystem::path& path);

/// Writes by the ending: .exr (any parts), .tif .tiff (8, 16, 32-bit float), .png (8, 16-bit).
/// Integer samples are clamped to 0..1. A is written as it is: straight is what PNG wants, associated what
/// EXR and TIFF want, unless straightAlpha says that it is not so. Written beside the target and renamed into place.
/// Errors   Error(FileAccess), Error(UnknownName) for another ending, Error(BadSetting) where the
///          format can't hold that.
void writeImageFile(const std::filesystem::path& path, const std::vector<FilePart>& parts);

/// What writes it, for writeTogether. Errors: as writeImageFile, but those of the folder.
std::function<void(OutputFile&)> imageWriter(const std::filesystem::path& path,
                                             std::vector<FilePart> parts);

}  // namespace noctis
