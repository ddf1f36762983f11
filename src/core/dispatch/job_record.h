#pragma once

#include <cstdint>
#include <filesystem>
#include <map>
#include <string>
#include <vector>

namespace noctis {

/// What a job has written, kept on disk line by line, so that it can go on after it was killed.
class JobRecord {
public:
    /// file: the record; those of other shares of the job, which begin with its name, are read, too. Lines that can't be
    /// read are left out: what they say is done again.
    explicit JobRecord(std::filesystem::path file);

    /// Whether a piece was made from the same and none of its files was changed or removed since.
    [[nodiscard]] bool stands(const std::string& piece, std::uint64_t madeFrom) const;
    /// Errors   Error(FileAccess).
    void add(const std::string& piece, std::uint64_t madeFrom,
             const std::vector<std::filesystem::path>& files);

private:
    struct Made {
        std::uint64_t from = 0;
        std::map<std::filesystem::path, std::string> stamps;
    };
    void read(const std::filesystem::path& file);

    std::filesystem::path m_file;
    std::map<std::string, Made> m_made;
};

/// Where the record of a job is, of a share of it: beside its file.
std::filesystem::path recordFileOf(const std::filesystem::path& job, int part, int parts);
/// The folder for what a job keeps until it is whole, the same for all its shares: beside its record.
std::filesystem::path keptBeside(const std::filesystem::path& record);

}  // namespace noctis
