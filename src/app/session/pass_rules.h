#pragma once

#include "core/passes/pass_reading.h"

#include <filesystem>

namespace noctis {

/// How an artist wants passes of certain names read in the next files of the same maker; kept beside the
/// application's settings.
class PassRules {
public:
    /// A file that can't be read counts as none.
    explicit PassRules(std::filesystem::path file);

    /// By the name that files give the pass.
    [[nodiscard]] const ReadingMap& all() const { return m_rules; }
    /// Errors   Error(FileAccess).
    void keep(const std::string& key, const PassReading& reading);
    /// Errors   Error(FileAccess).
    void remove(const std::string& key);

private:
    void write() const;

    std::filesystem::path m_file;
    ReadingMap m_rules;
};

/// In a few words: "Normals, camera axes, stored 0 to 1".
std::string inWords(const PassReading& reading);

}  // namespace noctis
