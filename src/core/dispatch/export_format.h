#pragma once

#include "core/image/image_file.h"

#include <filesystem>
#include <string_view>
#include <vector>

namespace noctis {

/// A depth that a format stores values at.
struct ExportDepth {
    int bits;
    SampleType type;
    bool linear;             ///< scene-linear; otherwise as the view shows the picture
    std::string_view label;  ///< "half float"
};

/// A format of pictures that leave Noctis.
struct ExportFormat {
    std::string_view label;
    std::vector<std::string_view> endings;  ///< lower case, with the dot
    std::vector<ExportDepth> depths;        ///< the usual one first
    bool layers;                            ///< holds several pictures, each by its name
    bool alwaysStraight;                    ///< alpha is never associated
};

/// All of them; adding one is a line of this table and its writer in imageWriter.
const std::vector<ExportFormat>& exportFormats();

/// The format of a file's ending; none: no format has it.
const ExportFormat* findExportFormat(const std::filesystem::path& file);
/// The same.
/// Errors   Error(UnknownName) for an ending that none has.
const ExportFormat& exportFormatOf(const std::filesystem::path& file);

/// bits: 0 for the usual ones.
/// Errors   Error(BadSetting) for bits that the format can't hold; as exportFormatOf.
const ExportDepth& exportDepthOf(const std::filesystem::path& file, int bits);

}  // namespace noctis
