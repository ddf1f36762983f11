#pragma once

#include "core/image/exr_file.h"
#include "core/passes/pass_file.h"

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace noctis {

/// Writes the passes of a frame a few at a time, so that they needn't all be in memory. Until finish(), they
/// are in parts of files beside the target, which are deleted with the writer.
/// Exact    the file holds what writePasses would write, bit for bit. In one part, or in folders, passes are
///          kept in memory, or written as they come.
/// Errors   as writePasses.
class PassFileWriter {
public:
    PassFileWriter(std::filesystem::path target, PassFileOptions options);

    /// Adds passes with new names. Coverage comes with beauty, whose alpha it is.
    void add(const PassSet& some);
    /// order: the order of the passes in the file; passes it doesn't name come last.
    void finish(const std::vector<std::string>& order);

private:
    std::filesystem::path m_target;
    PassFileOptions m_options;
    PassSet m_kept;  ///< for a file of one part
    std::vector<std::unique_ptr<OutputFile>> m_files;
    std::vector<ExrPart> m_parts;
};

}  // namespace noctis
