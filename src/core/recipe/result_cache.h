#pragma once

#include "core/image/image.h"

#include <cstdint>
#include <list>
#include <map>
#include <optional>
#include <string>

namespace noctis {

/// Computed images by name: a picture and the passes written, a mask, a reduced pass.
using Result = std::map<std::string, Image>;

/// Results under a hash of all their inputs. Beyond the budget, the least used are dropped first.
/// Threads  one at a time.
class ResultCache {
public:
    explicit ResultCache(std::size_t budgetBytes) : m_budget(budgetBytes) {}

    /// Null if missing; the pointer is valid until the next keep().
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
