#pragma once

#include <string_view>
#include <vector>

namespace noctis {

/// A text cut at each separator.
inline std::vector<std::string_view> pieces(std::string_view text, char separator) {
    std::vector<std::string_view> parts;
    while (true) {
        const auto at = text.find(separator);
        parts.push_back(text.substr(0, at));
        if (at == std::string_view::npos)
            return parts;
        text.remove_prefix(at + 1);
    }
}

}  // namespace noctis
