#include "app/session/frame_shelf.h"

#include "core/image/error.h"

#include <algorithm>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr std::size_t kMostBytes = std::size_t{2} << 30U;

std::size_t bytesOf(const Frame& frame) {
    std::size_t values = 0;
    for (const Pass& pass : frame.passes.passes)
        values += static_cast<std::size_t>(pass.image.width()) *
                  static_cast<std::size_t>(pass.image.height()) *
                  static_cast<std::size_t>(pass.image.channels());
    return values * sizeof(float);
}

/// By name first: two views may stand in the same place.
template <typename Frames> auto findIn(Frames& frames, const View& view) {
    const auto named = std::find_if(frames.begin(), frames.end(), [&](const Frame& frame) {
        return frame.passes.view == view.name;
    });
    return named != frames.end() ? named
                                 : std::find_if(frames.begin(), frames.end(),
                                                [&](const Frame& f) { return f.isOf(view); });
}

}  // namespace

void FrameShelf::put(Frame frame) {
    std::erase_if(m_frames, [&](const Frame& old) { return old.passes.view == frame.passes.view; });
    m_frames.push_front(std::move(frame));
    letGo();
}

void FrameShelf::putFiles(const std::string& view, std::vector<fs::path> files, bool unsaved) {
    Frame frame;
    try {
        frame.passes = readPassesWithoutPixels(files);
    } catch (const Error&) {
        frame.passes = {};  // reported when its pixels are needed
    }
    frame.passes.view = view;  // whatever the files call it
    frame.files = std::move(files);
    frame.unsaved = unsaved;
    frame.inFilesOnly = true;
    m_frames.push_back(std::move(frame));
}

void FrameShelf::letGo() {
    std::size_t bytes = 0;
    for (Frame& frame : m_frames) {
        bytes += bytesOf(frame);
        if (bytes <= kMostBytes || frame.files.empty())
            continue;
        bytes -= bytesOf(frame);
        frame.inFilesOnly = true;
        for (Pass& pass : frame.passes.passes)
            pass.image = pass.raw = {};
    }
}

std::optional<Frame> FrameShelf::take(const View& view) {
    const auto found = findIn(m_frames, view);
    if (found == m_frames.end() || found->inFilesOnly)
        return std::nullopt;
    Frame frame = std::move(*found);
    m_frames.erase(found);
    return frame;
}

std::vector<fs::path> FrameShelf::filesToRead(const View& view) const {
    const auto found = findIn(m_frames, view);
    if (found == m_frames.end() || !found->inFilesOnly || found->unreadable)
        return {};
    return found->files;
}

void FrameShelf::putRead(const std::vector<fs::path>& files, std::optional<PassSet> read) {
    for (Frame& frame : m_frames) {
        if (!frame.inFilesOnly || frame.files != files)
            continue;
        frame.unreadable = !read;
        if (!read)
            continue;
        read->view = frame.passes.view;
        frame.passes = std::move(*read);
        frame.inFilesOnly = false;
        return;
    }
}

const Frame* FrameShelf::find(const View& view) const {
    const auto found = findIn(m_frames, view);
    return found == m_frames.end() || found->unreadable || found->passes.empty() ? nullptr
                                                                                 : &*found;
}

Frame* FrameShelf::named(const std::string& view) {
    const auto found = std::find_if(m_frames.begin(), m_frames.end(),
                                    [&](const Frame& f) { return f.passes.view == view; });
    return found == m_frames.end() ? nullptr : &*found;
}

const Frame* FrameShelf::withoutFile() const {
    const auto found = std::find_if(m_frames.begin(), m_frames.end(),
                                    [](const Frame& f) { return f.files.empty(); });
    return found == m_frames.end() ? nullptr : &*found;
}

std::map<std::string, std::vector<fs::path>> FrameShelf::files() const {
    std::map<std::string, std::vector<fs::path>> files;
    for (const Frame& frame : m_frames)
        if (!frame.files.empty())
            files[frame.passes.view] = frame.files;
    return files;
}

bool FrameShelf::unsaved() const {
    return std::any_of(m_frames.begin(), m_frames.end(), [](const Frame& f) { return f.unsaved; });
}

std::map<std::string, std::vector<fs::path>> FrameShelf::save(const fs::path& project) {
    for (Frame& frame : m_frames)
        if (frame.unsaved)
            saveFrame(frame, project);
    letGo();
    return files();
}

}  // namespace noctis
