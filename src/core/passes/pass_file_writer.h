#pragma once

#include "core/passes/pass_file.h"

#include <filesystem>
#include <string>
#include <vector>

namespace noctis {

/// Writes the passes of a frame a few at a time, so that they needn't all be in memory. Until finish(), they
/// are in files beside the target, which are deleted with the writer.
/// Exact    the file holds what writePasses would write, bit for bit. In one part, or in folders, passes are
///          kept in memory, or written as they come.
/// Errors   as writePasses.
class PassFileWriter {
public:
    PassFileWriter(std::filesystem::path target, PassFileOptions options);
    ~PassFileWriter();
    PassFileWriter(const PassFileWriter&) = delete;
    PassFileWriter& operator=(const PassFileWriter&) = delete;

    /// Adds passes with new names. Coverage comes with beauty, whose alpha it is.
    void add(const PassSet& some);
    /// order: the order of the passes in the file; passes it doesn't name come last.
    void finish(const std::vector<std::string>& order);

private:
    struct Part {
        std::string name;
        std::filesystem::path file;
        int index = 0;
    };

    std::filesystem::path m_target;
    PassFileOptions m_options;
    PassSet m_kept;  ///< for a file of one part
    std::vector<Part> m_parts;
    int m_files = 0;
};

}  // namespace noctis
