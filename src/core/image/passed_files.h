#pragma once

#include "core/image/input_file.h"

#include <filesystem>
#include <map>
#include <memory>

namespace noctis {

/// Files that are open, by the names they were opened by.
using OpenFiles = std::map<std::filesystem::path, std::shared_ptr<const InputFile>>;

/// Passes a file that is open to the process at the other end of a socket. Waits while the socket is full.
/// False if nobody is there any more, or if its name is longer than any path can be.
bool passFile(int socket, const InputFile& file) noexcept;

/// Takes all files that were passed so far; never waits.
void takePassedFiles(int socket, OpenFiles& files);

/// Two connected sockets for it, which are closed with this; -1 where there are none.
class FilePassage {
public:
    FilePassage();
    ~FilePassage();
    FilePassage(const FilePassage&) = delete;
    FilePassage& operator=(const FilePassage&) = delete;

    [[nodiscard]] int here() const noexcept { return m_ends[0]; }
    [[nodiscard]] int there() const noexcept { return m_ends[1]; }

private:
    int m_ends[2] = {-1, -1};
};

}  // namespace noctis
