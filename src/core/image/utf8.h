#pragma once

#include <string>
#include <string_view>

namespace noctis {

/// Whether every byte belongs to a well-formed character. Source: RFC 3629.
bool isUtf8(std::string_view text) noexcept;

/// A text as it is, or where it is not UTF-8 the same bytes read as Latin-1: "K\xf6rper" gives "Körper".
std::string asUtf8(std::string_view text);

/// The characters of a text, read as asUtf8 does.
std::u32string charactersOf(std::string_view text);

}  // namespace noctis
