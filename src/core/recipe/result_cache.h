#pragma once

#include "core/image/image.h"

#include <cstdint>
#include <list>
#include <map>
#include <optional>
#include <string>

namespace noctis {

/// Images by name, as they were worked: a picture and the passes that were written, a mask, a small pass.
using Result = std::map<std::string, Image>;

/// Results by a hash of all that went into them. Beyond the budget the least used go first.
/// Threads  one at a time.
class ResultCache {
public:
    explicit ResultCache(std::size_t budgetBytes) : m_budget(budgetBytes) {}

    /// None if it is not there; the pointer holds until the next keep().
    [[nodiscard]] const Result* recall(std::uint64_t key);
    void keep(std::uint64_t key, Result result);
    void clear();

private:
    struct Kept {
        Result result;
        std::size_t bytes = 0;
        std::list<std::uint64_t>::iterator use;
    };
    std::size_t m_budget;
    std::size_t m_used = 0;
    std::map<std::uint64_t, Kept> m_kept;
    std::list<std::uint64_t> m_uses;  ///< the latest first
};

}  // namespace noctis
