#include "app/dispatch/job_presets.h"

#include "app/look/picture_paint.h"
#include "core/image/safe_write.h"
#include "core/passes/frame_name.h"

#include <QDir>

namespace noctis {

namespace fs = std::filesystem;

fs::path JobPresets::fileOf(JobKind kind, const QString& name) const {
    return m_folder / jobKindId(kind) / (fileNameOf(name.toStdString()) + ".json");
}

QStringList JobPresets::names(JobKind kind) const {
    QStringList names;
    const QDir folder(qstring((m_folder / jobKindId(kind)).string()));
    for (const QFileInfo& file : folder.entryInfoList({QStringLiteral("*.json")}, QDir::Files,
                                                      QDir::Name | QDir::LocaleAware))
        names << file.completeBaseName();
    return names;
}

void JobPresets::putInto(Job& job, const QString& name) const {
    const Job kept = openJob(fileOf(job.kind, name));
    job.settings = kept.settings;
    job.to.replace_filename(kept.to.filename());
}

void JobPresets::keep(const Job& job, const QString& name) const {
    const fs::path file = fileOf(job.kind, name);
    makeFolder(file.parent_path());
    Job kept;
    kept.id = "preset";
    kept.kind = job.kind;
    kept.settings = job.settings;
    kept.settings.relief.ids.clear();  // those of this project
    kept.project = file.parent_path() / "any.noctis";
    kept.to = file.parent_path() / job.to.filename();
    saveJob(kept, file);
}

void JobPresets::remove(JobKind kind, const QString& name) const {
    std::error_code ignored;
    fs::remove(fileOf(kind, name), ignored);
}

}  // namespace noctis
