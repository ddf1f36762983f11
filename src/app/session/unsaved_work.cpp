#include "app/session/unsaved_work.h"

#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/project/project_file.h"
#include "core/steps/registry.h"

#include <algorithm>
#include <random>
#include <sstream>

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <unistd.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr const char* kList = "unsaved-projects";

bool isThere(const fs::path& path) {
    std::error_code ignored;
    return fs::exists(path, ignored);
}

std::string newRunName() {
    std::random_device random;
    return fmt::format("{:08x}", random());
}

/// While it lives, no other run changes the list.
class ListLock {
public:
    explicit ListLock(const fs::path& folder)
        : m_file(::open((folder / (std::string(kList) + ".lock")).c_str(),
                        O_RDWR | O_CREAT | O_CLOEXEC, 0600)) {
        if (m_file >= 0)
            ::flock(m_file, LOCK_EX);
    }
    ~ListLock() {
        if (m_file >= 0)
            ::close(m_file);
    }
    ListLock(const ListLock&) = delete;
    ListLock& operator=(const ListLock&) = delete;

private:
    int m_file;
};

}  // namespace

UnsavedWork::UnsavedWork(fs::path dataFolder)
    : m_folder(std::move(dataFolder)), m_run(newRunName()), m_frames(m_folder / "frames") {
    for (const UnsavedProject& project : listed())
        if (isThere(project.kept)) {
            if (!m_frames.isAnotherRun(project.run))
                m_earlier.push_back(project);
        } else if (isThere(project.kept.parent_path())) {
            unlist(project);  // it was removed; without its folder the disk may be elsewhere
        }
    if (listed().empty())
        m_frames.clearEnded();
}

/// Three lines for each: the process, where it is kept, its own file.
std::vector<UnsavedProject> UnsavedWork::listed() const {
    std::vector<UnsavedProject> all;
    try {
        std::istringstream lines(readTextFile(m_folder / kList));
        std::string run;
        std::string kept;
        std::string file;
        while (std::getline(lines, run) && std::getline(lines, kept) && std::getline(lines, file))
            all.push_back({kept, file, std::atoi(run.c_str())});
    } catch (const Error&) {
        all.clear();  // nothing was left
    }
    return all;
}

void UnsavedWork::write(const std::vector<UnsavedProject>& list) const {
    std::string text;
    for (const UnsavedProject& each : list)
        text += fmt::format("{}\n{}\n{}\n", each.run, each.kept.string(), each.file.string());
    writeTextFile(m_folder / kList, text);
}

void UnsavedWork::list(const UnsavedProject& project) const {
    const ListLock lock(m_folder);
    std::vector<UnsavedProject> all = listed();
    std::erase_if(all, [&](const UnsavedProject& each) { return each.kept == project.kept; });
    all.push_back(project);
    write(all);
}

void UnsavedWork::unlist(const UnsavedProject& project) const noexcept {
    try {
        const ListLock lock(m_folder);
        std::vector<UnsavedProject> all = listed();
        if (std::erase_if(all, [&](const auto& each) { return each.kept == project.kept; }) > 0)
            write(all);
    } catch (const std::exception&) {
        return;  // the disk is full, or gone
    }
}

void UnsavedWork::drop(const UnsavedProject& project) const noexcept {
    unlist(project);
    std::error_code ignored;
    fs::remove(project.kept, ignored);
}

void UnsavedWork::take(UnsavedProject left) {
    std::erase(m_earlier, left);
    m_own = std::move(left);
}

void UnsavedWork::decline(const UnsavedProject& left) {
    drop(left);
    std::erase(m_earlier, UnsavedProject(left));
    if (listed().empty())
        m_frames.clearEnded();
}

void UnsavedWork::keep(const Project& project, const fs::path& file) {
    makeFolder(m_folder);
    const UnsavedProject now{autosavePath(file, m_folder, m_run), file, getpid()};
    saveProject(project, now.kept, stepCatalogue());
    list(now);
    if (m_own && m_own->kept != now.kept)
        drop(*m_own);
    m_own = now;
}

void UnsavedWork::forget() {
    if (m_own)
        drop(*std::exchange(m_own, std::nullopt));
    m_frames.clearProject();
}

UnsavedProject UnsavedWork::leave(const Project& project, const fs::path& file) {
    const UnsavedProject left{m_frames.fileOf({}).replace_filename("project.noctis-autosave"), file,
                              getpid()};
    makeFolder(left.kept.parent_path());
    saveProject(project, left.kept, stepCatalogue());
    list(left);
    if (m_own)
        drop(*std::exchange(m_own, std::nullopt));
    m_frames.nextProject();
    return left;
}

}  // namespace noctis
