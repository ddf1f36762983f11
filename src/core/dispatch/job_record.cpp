#include "core/dispatch/job_record.h"

#include "core/image/json_text.h"
#include "core/image/safe_write.h"
#include "core/recipe/picture_files.h"

#include <cerrno>
#include <fstream>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

constexpr std::string_view kEnding = ".record";

}  // namespace

fs::path recordFileOf(const fs::path& job, int part, int parts) {
    fs::path file = job;
    file += std::string(kEnding);
    if (parts > 1)
        file += fmt::format("-{}-of-{}", part, parts);
    return file;
}

fs::path keptBeside(const fs::path& record) {
    fs::path kept = record.parent_path() / record.stem();
    kept += ".kept";
    return kept;
}

JobRecord::JobRecord(fs::path file) : m_file(std::move(file)) {
    std::string all = m_file.filename().string();
    if (const std::size_t ending = all.rfind(kEnding); ending != std::string::npos)
        all.resize(ending + kEnding.size());
    std::error_code missing;
    for (const auto& entry : fs::directory_iterator(folderOf(m_file), missing))
        if (entry.path().filename().string().starts_with(all))
            read(entry.path());
}

void JobRecord::read(const fs::path& file) {
    std::ifstream in(file);
    for (std::string line; std::getline(in, line);) {
        const Json json = parseJsonIfAny(line);
        if (!json.is_object() || !json.value("piece", Json()).is_string() ||
            !json.value("from", Json()).is_number_unsigned() ||
            !json.value("files", Json()).is_object())
            continue;
        Made made{json["from"].get<std::uint64_t>(), {}};
        for (const auto& [path, stamp] : json["files"].items())
            if (stamp.is_string())
                made.stamps[path] = stamp.get<std::string>();
        m_made[json["piece"].get<std::string>()] = std::move(made);
    }
}

bool JobRecord::stands(const std::string& piece, std::uint64_t madeFrom) const {
    const auto found = m_made.find(piece);
    if (found == m_made.end() || found->second.from != madeFrom || found->second.stamps.empty())
        return false;
    for (const auto& [file, stamp] : found->second.stamps)
        if (stamp.empty() || PictureFiles::stampOf(file) != stamp)
            return false;
    return true;
}

void JobRecord::add(const std::string& piece, std::uint64_t madeFrom,
                    const std::vector<fs::path>& files) {
    Made made{madeFrom, {}};
    Json stamps = Json::object();
    for (const fs::path& file : files) {
        made.stamps[file] = PictureFiles::stampOf(file);
        stamps[file.string()] = made.stamps[file];
    }
    // A line is added, never changed: a run that is killed leaves all that it had done.
    std::ofstream out(m_file, std::ios::app);
    out << Json{{"piece", piece}, {"from", madeFrom}, {"files", stamps}}.dump() << '\n';
    out.flush();
    if (!out)
        throwCannotWrite(m_file, errno);
    m_made[piece] = std::move(made);
}

}  // namespace noctis
