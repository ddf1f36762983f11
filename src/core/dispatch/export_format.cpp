#include "core/dispatch/export_format.h"

#include "core/image/error.h"

#include <algorithm>
#include <cctype>

#include <fmt/format.h>

namespace noctis {

namespace {

/// In lower case, with the dot.
std::string endingIn(const std::filesystem::path& file) {
    std::string ending = file.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return ending;
}

}  // namespace

const std::vector<ExportFormat>& exportFormats() {
    static const std::vector<ExportFormat> formats{
        {.label = "OpenEXR",
         .endings = {".exr"},
         .depths = {{16, SampleType::Half, true, "half float"},
                    {32, SampleType::Float, true, "float"}},
         .layers = true,
         .alwaysStraight = false},
        {.label = "TIFF",
         .endings = {".tif", ".tiff"},
         .depths = {{16, SampleType::Short, false, "16 bits"},
                    {8, SampleType::Byte, false, "8 bits"},
                    {32, SampleType::Float, true, "float, linear"}},
         .layers = false,
         .alwaysStraight = false},
        {.label = "PNG",
         .endings = {".png"},
         .depths = {{16, SampleType::Short, false, "16 bits"},
                    {8, SampleType::Byte, false, "8 bits"}},
         .layers = false,
         .alwaysStraight = true}};
    return formats;
}

const ExportFormat* findExportFormat(const std::filesystem::path& file) {
    const std::string ending = endingIn(file);
    for (const ExportFormat& format : exportFormats())
        if (std::ranges::find(format.endings, ending) != format.endings.end())
            return &format;
    return nullptr;
}

const ExportFormat& exportFormatOf(const std::filesystem::path& file) {
    if (const ExportFormat* format = findExportFormat(file))
        return *format;
    std::vector<std::string_view> endings;
    for (const ExportFormat& format : exportFormats())
        endings.push_back(format.endings.front());
    const std::string_view last = endings.back();
    endings.pop_back();
    const std::string ending = endingIn(file);
    throw Error(ErrorCode::UnknownName,
                fmt::format("{} can't be written as {}; use {} or {}", file.string(),
                            ending.empty() ? "a file without an ending" : ending,
                            fmt::join(endings, ", "), last));
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
