#include "core/recipe/frame_context.h"

namespace noctis {

FrameContext::FrameContext(PassSet full, int factor)
    : m_set(factor > 1 ? shrink(full, factor) : std::move(full)), m_factor(factor) {}

const Image& FrameContext::pass(PassKind kind) const {
    const std::scoped_lock lock(m_mutex);
    auto found = m_resolved.find(kind);
    if (found == m_resolved.end())
        found = m_resolved.emplace(kind, resolvePass(m_set, kind).image).first;
    return found->second;
}

}  // namespace noctis
