#include "core/dispatch/export_format.h"

#include "core/image/error.h"

#include <algorithm>
#include <cctype>

#include <fmt/format.h>

namespace noctis {

const std::vector<ExportFormat>& exportFormats() {
    static const std::vector<ExportFormat> formats{
        {.id = "exr",
         .label = "OpenEXR",
         .endings = {".exr"},
         .depths = {{16, SampleType::Half, true, "half float"},
                    {32, SampleType::Float, true, "float"}},
         .layers = true,
         .alwaysStraight = false},
        {.id = "png",
         .label = "PNG",
         .endings = {".png"},
         .depths = {{16, SampleType::Short, false, "16 bits"},
                    {8, SampleType::Byte, false, "8 bits"}},
         .layers = false,
         .alwaysStraight = true},
        {.id = "tif",
         .label = "TIFF",
         .endings = {".tif", ".tiff"},
         .depths = {{16, SampleType::Short, false, "16 bits"},
                    {8, SampleType::Byte, false, "8 bits"},
                    {32, SampleType::Float, true, "float, linear"}},
         .layers = false,
         .alwaysStraight = false}};
    return formats;
}

const ExportFormat& exportFormatOf(const std::filesystem::path& file) {
    std::string ending = file.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    for (const ExportFormat& format : exportFormats())
        if (std::ranges::find(format.endings, ending) != format.endings.end())
            return format;
    requireImageEnding(file);  // says which there are
    throw Error(ErrorCode::UnknownName,
                fmt::format("{}: pictures can't be written as {}", file.string(), ending));
}

const ExportDepth& exportDepthOf(const std::filesystem::path& file, int bits) {
    const ExportFormat& format = exportFormatOf(file);
    if (bits == 0)
        return format.depths.front();
    for (const ExportDepth& depth : format.depths)
        if (depth.bits == bits)
            return depth;
    throw Error(ErrorCode::BadSetting,
                fmt::format("{}: a {} file can't hold {} bits", file.string(), format.label, bits));
}

}  // namespace noctis
