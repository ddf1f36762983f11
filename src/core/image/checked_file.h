#pragma once

#include <cstddef>
#include <cstdint>
#include <filesystem>

namespace noctis {

/// An output file that records its failures: the libraries that write pictures ignore some of them, above all a
/// disk that is full at the last bytes.
class CheckedFile {
public:
    /// Errors   Error(FileAccess) if it can't be opened.
    explicit CheckedFile(const std::filesystem::path& path);
    ~CheckedFile();
    CheckedFile(const CheckedFile&) = delete;
    CheckedFile& operator=(const CheckedFile&) = delete;

    /// Whether all of it was written. A failure stays until finish() throws it.
    bool writeAt(std::uint64_t at, const void* bytes, std::size_t count) noexcept;
    std::size_t readAt(std::uint64_t at, void* bytes, std::size_t count) noexcept;
    /// The end of what was written.
    [[nodiscard]] std::uint64_t size() const noexcept { return m_size; }

    /// Flushes everything to the disk and checks that all of it is there.
    /// Errors   Error(FileAccess) for the first failure of any write.
    void finish();

private:
    std::filesystem::path m_path;
    int m_file = -1;
    int m_failure = 0;  ///< the first one, as errno
    std::uint64_t m_size = 0;
};

}  // namespace noctis
