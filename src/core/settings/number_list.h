#pragma once

#include <charconv>
#include <optional>
#include <string_view>
#include <system_error>
#include <vector>

namespace noctis {

/// The numbers of a text with one separator between two: "1,2,3", "640x360". None if there is anything else in it.
template <typename Number>
std::optional<std::vector<Number>> numbersBetween(std::string_view text, char separator) {
    std::vector<Number> numbers;
    const char* at = text.data();
    const char* const end = text.data() + text.size();
    while (true) {
        Number number{};
        const auto [next, failure] = std::from_chars(at, end, number);
        if (failure != std::errc())
            return {};
        numbers.push_back(number);
        if (next == end)
            return numbers;
        if (*next != separator)
            return {};
        at = next + 1;
    }
}

}  // namespace noctis
