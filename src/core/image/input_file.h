#pragma once

#include <cstddef>
#include <cstdint>
#include <filesystem>
#include <string>

namespace noctis {

/// A file opened for reading. It is opened once and stays open: its size, its trial (see trial.h) and its content
/// are those of one file, whatever takes its name meanwhile.
/// Threads  any.
class InputFile {
public:
    /// Errors   Error(FileAccess) if there is nothing there, if it can't be read, or if it isn't a regular file: a
    ///          pipe could be read for ever.
    explicit InputFile(std::filesystem::path path);
    /// A file that is already open under this descriptor, which is taken over.
    /// Errors   as above.
    InputFile(std::filesystem::path path, int descriptor);
    ~InputFile();
    InputFile(const InputFile&) = delete;
    InputFile& operator=(const InputFile&) = delete;

    /// The name it was opened by: for messages and its ending, never to open it again.
    [[nodiscard]] const std::filesystem::path& path() const noexcept { return m_path; }
    [[nodiscard]] int descriptor() const noexcept { return m_descriptor; }
    /// Bytes, when it was opened.
    [[nodiscard]] std::uint64_t size() const noexcept { return m_size; }
    /// A name of this very file, for libraries that open files by name only.
    [[nodiscard]] std::filesystem::path handle() const;
    /// How many of these bytes are there; never any beyond size().
    [[nodiscard]] std::size_t readAt(std::uint64_t at, void* bytes,
                                     std::size_t count) const noexcept;

private:
    void requireRegular();

    std::filesystem::path m_path;
    int m_descriptor;
    std::uint64_t m_size = 0;
};

/// The ending of a file's name, in lower case with the dot.
std::string endingOf(const std::filesystem::path& path);

/// All of it that is there.
/// Errors   Error(TooLarge) beyond the limit, in bytes.
std::string contentOf(const InputFile& file, std::size_t limit);

/// More than any project, recipe, look or sidecar has.
inline constexpr std::size_t kLargestText = std::size_t{64} << 20U;

/// Errors   as InputFile and contentOf.
std::string readTextFile(const std::filesystem::path& path, std::size_t limit = kLargestText);

}  // namespace noctis
