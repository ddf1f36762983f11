#pragma once

#include <cstddef>
#include <cstdint>
#include <filesystem>

namespace noctis {

/// A file being written beside its target, under a name that nobody can know beforehand, until it is put in place.
/// It records its failures: the libraries that write pictures ignore some of them, above all a disk that is full
/// at the last bytes. Parts that dead processes left in the folder are removed.
class OutputFile {
public:
    /// Errors   Error(FileAccess) if it can't be made.
    explicit OutputFile(std::filesystem::path target);
    /// Removes what wasn't put in place.
    ~OutputFile();
    OutputFile(const OutputFile&) = delete;
    OutputFile& operator=(const OutputFile&) = delete;

    [[nodiscard]] const std::filesystem::path& target() const noexcept { return m_target; }
    /// Its name until it is put in place.
    [[nodiscard]] const std::filesystem::path& part() const noexcept { return m_part; }
    /// A name of this very file, for reading back what was written.
    [[nodiscard]] std::filesystem::path handle() const;
    /// A descriptor of its own for a reader, who closes it.
    [[nodiscard]] int readingDescriptor() const noexcept;

    /// Whether all of it was written. A failure stays until finish() throws it.
    bool writeAt(std::uint64_t at, const void* bytes, std::size_t count) noexcept;
    std::size_t readAt(std::uint64_t at, void* bytes, std::size_t count) noexcept;
    /// The end of what was written.
    [[nodiscard]] std::uint64_t size() const noexcept { return m_size; }

    /// Flushes everything to the disk and checks that all of it is there.
    /// Errors   Error(FileAccess) for the first failure of any write.
    void finish();

    /// Gives it its final name, in the place of what has it. Errors: Error(FileAccess).
    void putInPlace();
    /// Undoes that: what had the name before has it again, where the file system can exchange names.
    void takeBack() noexcept;

private:
    std::filesystem::path m_target;
    std::filesystem::path m_part;
    int m_file = -1;
    int m_failure = 0;  ///< the first one, as errno
    std::uint64_t m_size = 0;
    bool m_placed = false;
    bool m_replaced = false;
    bool m_exchanged = false;  ///< what had the name before is under the part's
};

}  // namespace noctis
