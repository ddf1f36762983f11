#include "core/image/utf8.h"

namespace noctis {

namespace {

/// How many bytes the character at the start of text has; 0 if it is malformed.
std::size_t characterLength(std::string_view text) noexcept {
    const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
    const unsigned first = byte(0);
    if (first < 0x80U)
        return 1;
    const std::size_t length = first >= 0xf0U ? 4 : first >= 0xe0U ? 3 : 2;
    if (first < 0xc2U || first > 0xf4U || text.size() < length)
        return 0;
    for (std::size_t i = 1; i < length; ++i)
        if ((byte(i) & 0xc0U) != 0x80U)
            return 0;
    const unsigned second = byte(1);
    const bool overlong = (first == 0xe0U && second < 0xa0U) || (first == 0xf0U && second < 0x90U);
    const bool beyond = (first == 0xedU && second > 0x9fU) || (first == 0xf4U && second > 0x8fU);
    return overlong || beyond ? 0 : length;
}

}  // namespace

bool isUtf8(std::string_view text) noexcept {
    while (!text.empty()) {
        const std::size_t length = characterLength(text);
        if (length == 0)
            return false;
        text.remove_prefix(length);
    }
    return true;
}

std::string asUtf8(std::string_view text) {
    if (isUtf8(text))
        return std::string(text);
    std::string valid;
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte < 0x80U) {
            valid += c;
        } else {
            valid += static_cast<char>(0xc0U | byte >> 6U);
            valid += static_cast<char>(0x80U | (byte & 0x3fU));
        }
    }
    return valid;
}

std::u32string charactersOf(std::string_view text) {
    const std::string valid = asUtf8(text);
    std::u32string characters;
    for (std::string_view rest = valid; !rest.empty();) {
        const std::size_t length = characterLength(rest);
        // The first byte's payload is what its leading ones leave: 7, 5, 4 or 3 bits.
        char32_t character =
            static_cast<unsigned char>(rest[0]) & (length == 1 ? 0x7fU : 0x7fU >> length);
        for (std::size_t i = 1; i < length; ++i)
            character = character << 6U | (static_cast<unsigned char>(rest[i]) & 0x3fU);
        characters += character;
        rest.remove_prefix(length);
    }
    return characters;
}

}  // namespace noctis
