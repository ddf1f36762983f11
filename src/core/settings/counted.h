#pragma once

#include <cstddef>
#include <string>
#include <string_view>

#include <fmt/format.h>

namespace noctis {

/// "1 sample", "3 samples".
inline std::string counted(std::size_t count, std::string_view one) {
    return fmt::format("{} {}{}", count, one, count == 1 ? "" : "s");
}

}  // namespace noctis
