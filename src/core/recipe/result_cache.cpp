#include "core/recipe/result_cache.h"

namespace noctis {

const Result* ResultCache::recall(std::uint64_t key) {
    const auto found = m_kept.find(key);
    if (found == m_kept.end())
        return nullptr;
    m_uses.splice(m_uses.begin(), m_uses, found->second.use);
    return &found->second.result;
}

void ResultCache::keep(std::uint64_t key, Result result) {
    if (m_kept.contains(key))
        return;
    std::size_t bytes = 0;
    for (const auto& [name, image] : result)
        bytes += image.bytes();
    m_uses.push_front(key);
    m_kept.emplace(key, Kept{std::move(result), bytes, m_uses.begin()});
    m_used += bytes;
    while (m_used > m_budget && m_uses.size() > 1) {
        const auto oldest = m_kept.find(m_uses.back());
        m_used -= oldest->second.bytes;
        m_kept.erase(oldest);
        m_uses.pop_back();
    }
}

void ResultCache::clear() {
    m_kept.clear();
    m_uses.clear();
    m_used = 0;
}

}  // namespace noctis
