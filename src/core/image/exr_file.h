#pragma once

#include "core/image/image_file.h"

namespace noctis {

/// EXR through OpenEXR itself; the terms are image_file.h's. Use those functions instead.
FileInfo readExrInfo(const InputFile& file);
Image readExrChannels(const FileInfo& info, const std::vector<int>& channels);
void writeExr(OutputFile& file, const std::vector<FilePart>& parts);

/// A part of an EXR file that was just written, and its name in another one.
struct ExrPart {
    const OutputFile* file = nullptr;
    int index = 0;
    std::string name;
};
/// Writes a file of these parts, copied as they are packed.
/// Errors   Error(FileAccess).
void joinExr(OutputFile& file, const std::vector<ExrPart>& parts);

/// The size that a file has when its pixels are read.
struct StoredSize {
    int width = 0;
    int height = 0;
    int channels = 0;
};
/// Errors   Error(BadFile) if it isn't the one that the file stated.
void requireUnchanged(const FileInfo& info, const StoredSize& now);

}  // namespace noctis
