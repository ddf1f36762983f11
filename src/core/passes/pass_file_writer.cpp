#include "core/passes/pass_file_writer.h"

#include "core/image/error.h"
#include "core/image/exr_file.h"
#include "core/image/safe_write.h"

#include <algorithm>

#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

fs::path besideOf(const fs::path& target, int number) {
    return target.parent_path() / fmt::format(".{}.{}.exr", target.filename().string(), number);
}

/// A message about a file beside the target, as one about the target, which is the name people know.
std::string aboutTarget(std::string message, const fs::path& beside, const fs::path& target) {
    const std::string name = beside.filename().string();
    if (const std::size_t at = message.find(name); at != std::string::npos)
        message.replace(at, name.size(), target.filename().string());
    return message;
}

template <typename Named>
void sortByOrder(std::vector<Named>& things, const std::vector<std::string>& order) {
    const auto placeOf = [&](const Named& thing) {
        return std::find(order.begin(), order.end(), thing.name) - order.begin();
    };
    std::stable_sort(things.begin(), things.end(),
                     [&](const Named& a, const Named& b) { return placeOf(a) < placeOf(b); });
}

}  // namespace

PassFileWriter::PassFileWriter(fs::path target, PassFileOptions options)
    : m_target(std::move(target)), m_options(options) {}

PassFileWriter::~PassFileWriter() {
    std::error_code ignored;
    for (int i = 0; i < m_files; ++i)
        fs::remove(besideOf(m_target, i), ignored);
}

void PassFileWriter::add(const PassSet& some) {
    if (some.empty())
        return;
    if (m_options.layout == PassLayout::FolderPerPass)
        return writePasses(m_target, some, m_options);
    if (m_options.layout == PassLayout::OnePart) {
        std::vector<Pass> passes = std::move(m_kept.passes);
        m_kept = some;
        m_kept.passes.insert(m_kept.passes.begin(), std::make_move_iterator(passes.begin()),
                             std::make_move_iterator(passes.end()));
        return;
    }
    const fs::path file = besideOf(m_target, m_files++);
    try {
        writePasses(file, some, m_options);
    } catch (const Error& error) {
        throw Error(error.code(), aboutTarget(error.what(), file, m_target));
    }
    int index = 0;
    for (const Pass& pass : some.passes)
        m_parts.push_back({pass.name, file, index++});
}

void PassFileWriter::finish(const std::vector<std::string>& order) {
    if (m_options.layout == PassLayout::OnePart) {
        sortByOrder(m_kept.passes, order);
        return writePasses(m_target, m_kept, m_options);
    }
    if (m_parts.empty())
        return;
    sortByOrder(m_parts, order);
    std::vector<ExrPart> parts;
    for (const Part& part : m_parts)
        parts.push_back({part.file, part.index, part.name});
    writeThenRename(m_target, [&](const fs::path& beside) { joinExr(beside, parts); });
}

}  // namespace noctis
