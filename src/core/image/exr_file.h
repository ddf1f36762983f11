#pragma once

#include "core/image/image_file.h"

namespace noctis {

/// EXR through OpenEXR itself; the terms are image_file.h's. Use those functions instead.
FileInfo readExrInfo(const std::filesystem::path& path);
Image readExrChannels(const std::filesystem::path& path, const FileInfo& info,
                      const std::vector<int>& channels);
void writeExr(const std::filesystem::path& path, const std::vector<FilePart>& parts);

/// A part of an EXR file, and its name in another one.
struct ExrPart {
    std::filesystem::path file;
    int index = 0;
    std::string name;
};
/// Writes a file of these parts, copied as they are packed.
/// Errors   Error(FileAccess).
void joinExr(const std::filesystem::path& path, const std::vector<ExrPart>& parts);

}  // namespace noctis
