#pragma once

#include "core/dispatch/job.h"

#include <QStringList>

namespace noctis {

/// Settings of jobs under names, kept from run to run in a folder.
class JobPresets {
public:
    explicit JobPresets(std::filesystem::path folder) : m_folder(std::move(folder)) {}

    /// Of a kind of job, by name.
    [[nodiscard]] QStringList names(JobKind kind) const;
    /// Its settings and the pattern of its name; the rest of the job stays.
    /// Errors   as openJob.
    void putInto(Job& job, const QString& name) const;
    /// In the place of one of that name.
    /// Errors   Error(FileAccess).
    void keep(const Job& job, const QString& name) const;
    void remove(JobKind kind, const QString& name) const;

private:
    [[nodiscard]] std::filesystem::path fileOf(JobKind kind, const QString& name) const;

    std::filesystem::path m_folder;
};

}  // namespace noctis
