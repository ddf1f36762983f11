#pragma once

#include "core/passes/pass_set.h"

#include <map>
#include <memory>
#include <mutex>

namespace noctis {

/// The frame a recipe is worked on: its passes at the scale of the work, derived when first asked
/// for.
/// Threads  safe to read from any number.
class FrameContext {
public:
    /// factor: the work is done at 1/factor of the size of full.
    explicit FrameContext(PassSet full, int factor = 1);

    [[nodiscard]] int width() const noexcept { return m_set.width; }
    [[nodiscard]] int height() const noexcept { return m_set.height; }
    /// A length in pixels of the full picture times this is one in pixels of the work.
    [[nodiscard]] float pixelScale() const noexcept { return 1.0F / static_cast<float>(m_factor); }
    [[nodiscard]] Camera camera() const { return m_set.cameraOrAssumed(); }
    [[nodiscard]] const PassSet& passes() const noexcept { return m_set; }

    /// Errors   Error(MissingPass) where it is neither there nor derivable.
    [[nodiscard]] const Image& pass(PassKind kind) const;

private:
    PassSet m_set;
    int m_factor;
    mutable std::mutex m_mutex;
    mutable std::map<PassKind, Image> m_resolved;
};

}  // namespace noctis
