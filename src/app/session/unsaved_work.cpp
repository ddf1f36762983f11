#include "app/session/unsaved_work.h"

#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/project/project_file.h"
#include "core/steps/registry.h"

#include <sstream>

namespace noctis {

namespace fs = std::filesystem;

UnsavedWork::UnsavedWork(fs::path dataFolder)
    : m_folder(std::move(dataFolder)), m_frames(m_folder / "frames") {
    try {
        std::istringstream lines(readTextFile(placeFile()));
        std::string kept;
        std::string file;
        std::getline(lines, kept);
        std::getline(lines, file);
        if (fs::exists(kept))
            m_earlier = {kept, file};
    } catch (const Error&) {
        m_earlier.reset();  // nothing was left
    }
    if (!m_earlier)
        m_frames.clearEnded();
}

fs::path UnsavedWork::aside() const { return m_folder / "earlier.noctis-autosave"; }

void UnsavedWork::tell(const UnsavedProject& where) {
    writeTextFile(placeFile(), where.kept.string() + '\n' + where.file.string());
}

/// To another place: paths in a project are relative to where it is.
void UnsavedWork::makeRoom() {
    if (!m_earlier || m_earlier->kept == aside())
        return;
    try {
        saveProject(openProject(m_earlier->kept, stepCatalogue()), aside(), stepCatalogue());
    } catch (const Error&) {
        m_earlier.reset();  // it is damaged: there is nothing to go back to
        return;
    }
    std::error_code ignored;
    fs::remove(m_earlier->kept, ignored);
    m_earlier->kept = aside();
    tell(*m_earlier);
}

std::optional<UnsavedProject> UnsavedWork::takeEarlier() {
    return std::exchange(m_earlier, std::nullopt);
}

void UnsavedWork::declineEarlier() {
    if (!m_earlier)
        return;
    std::error_code ignored;
    fs::remove(m_earlier->kept, ignored);
    m_earlier.reset();
    m_frames.clearEnded();
}

void UnsavedWork::keep(const Project& project, const fs::path& file) {
    fs::create_directories(m_folder);
    makeRoom();
    const fs::path kept = autosavePath(file, m_folder);
    saveProject(project, kept, stepCatalogue());
    tell({kept, file});
}

void UnsavedWork::forget(const fs::path& file) {
    const fs::path kept = autosavePath(file, m_folder);
    std::error_code ignored;
    if (m_earlier) {
        if (m_earlier->kept == kept)
            makeRoom();
        else
            tell(*m_earlier);  // to be offered again
    } else {
        fs::remove(placeFile(), ignored);
        fs::remove(aside(), ignored);
    }
    fs::remove(kept, ignored);
    m_frames.clearProject();
}

UnsavedProject UnsavedWork::leave(const Project& project, const fs::path& file) {
    const fs::path kept = m_frames.fileOf({}).replace_filename("project.noctis-autosave");
    fs::create_directories(kept.parent_path());
    saveProject(project, kept, stepCatalogue());
    std::error_code ignored;
    fs::remove(autosavePath(file, m_folder), ignored);
    m_frames.nextProject();
    return {kept, file};
}

}  // namespace noctis
