#include "app/session/unsaved_work.h"

#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/project/project_file.h"
#include "core/steps/registry.h"

#include <algorithm>
#include <sstream>

#include <fmt/format.h>
#include <unistd.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr const char* kList = "unsaved-projects";

bool isThere(const fs::path& path) {
    std::error_code ignored;
    return fs::exists(path, ignored);
}

}  // namespace

UnsavedWork::UnsavedWork(fs::path dataFolder)
    : m_folder(std::move(dataFolder)), m_frames(m_folder / "frames") {
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
    std::vector<UnsavedProject> all = listed();
    std::erase_if(all, [&](const UnsavedProject& each) { return each.kept == project.kept; });
    all.push_back(project);
    write(all);
}

void UnsavedWork::unlist(const UnsavedProject& project) const noexcept {
    try {
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

fs::path UnsavedWork::freePlace() const {
    fs::path place;
    int number = 0;
    do
        place = m_folder / fmt::format("earlier-{}.noctis-autosave", ++number);
    while (isThere(place));
    return place;
}

/// To another place: paths in a project are relative to where it is.
void UnsavedWork::makeRoom(const fs::path& kept) {
    const auto there =
        std::find_if(m_earlier.begin(), m_earlier.end(),
                     [&](const UnsavedProject& project) { return project.kept == kept; });
    if (there == m_earlier.end())
        return;
    Project project;
    try {
        project = openProject(kept, stepCatalogue());
    } catch (const Error&) {
        m_earlier.erase(there);  // it is damaged: there is nothing to go back to
        return;
    }
    UnsavedProject moved = *there;
    moved.kept = freePlace();
    saveProject(project, moved.kept, stepCatalogue());
    std::error_code ignored;
    fs::last_write_time(moved.kept, fs::last_write_time(kept, ignored), ignored);
    list(moved);
    drop(*there);
    *there = moved;
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
    const UnsavedProject now{autosavePath(file, m_folder), file, getpid()};
    makeRoom(now.kept);
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
