#include "core/passes/pass_file_writer.h"

#include "core/image/safe_write.h"

#include <algorithm>

namespace noctis {

namespace fs = std::filesystem;

namespace {

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
    m_files.push_back(std::make_unique<OutputFile>(m_target));
    const OutputFile& file = *m_files.back();
    imageWriter(m_target, filePartsOf(some, m_options))(*m_files.back());
    int index = 0;
    for (const Pass& pass : some.passes)
        m_parts.push_back({&file, index++, pass.name});
}

void PassFileWriter::finish(const std::vector<std::string>& order) {
    if (m_options.layout == PassLayout::OnePart) {
        sortByOrder(m_kept.passes, order);
        return writePasses(m_target, m_kept, m_options);
    }
    if (m_parts.empty())
        return;
    sortByOrder(m_parts, order);
    writeThenRename(m_target, [&](OutputFile& file) { joinExr(file, m_parts); });
}

}  // namespace noctis
