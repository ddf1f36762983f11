#pragma once

#include "app/session/frame.h"

#include <filesystem>
#include <list>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// The frames of views that are not shown, so that nothing is rendered twice for looking elsewhere in
/// between. The pixels of saved ones are released when memory is short, and read again when they are asked
/// for; what the passes were made of stays known.
class FrameShelf {
public:
    /// In the place of the one of the same view.
    void put(Frame frame);
    /// Files that hold a view's frame, whose pixels are read when it is asked for.
    void putFiles(const std::string& view, std::vector<std::filesystem::path> files, bool unsaved);
    /// The view's frame, which leaves the shelf; none if there is none, or its pixels must be read first.
    std::optional<Frame> take(const View& view);
    /// The files whose pixels must be read before the view's frame can be taken; may be empty.
    [[nodiscard]] std::vector<std::filesystem::path> filesToRead(const View& view) const;
    /// What was read of these files; nothing if they could not be read.
    void putRead(const std::vector<std::filesystem::path>& files, std::optional<PassSet> read);
    /// The view's frame, maybe without its pixels.
    [[nodiscard]] const Frame* find(const View& view) const;
    /// The one of that name.
    [[nodiscard]] Frame* named(const std::string& view);
    /// One that no file holds.
    [[nodiscard]] const Frame* withoutFile() const;
    [[nodiscard]] bool unsaved() const;
    /// The files of each view that has some.
    [[nodiscard]] std::map<std::string, std::vector<std::filesystem::path>> files() const;
    /// Releases pixels that are in files, if there are too many.
    void letGo();
    /// Writes what is unsaved beside a project, and returns the files of each view.
    /// Errors   as writePasses.
    std::map<std::string, std::vector<std::filesystem::path>>
    save(const std::filesystem::path& project);
    void clear() { m_frames.clear(); }

private:
    std::list<Frame> m_frames;  ///< the latest first
};

}  // namespace noctis
