#pragma once

#include <string_view>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

/// No text of any file is nested more deeply: what is made of deeper ones overflows the stack.
inline constexpr int kDeepestJson = 256;

/// Parses a text of any origin.
/// Errors   Error(BadFile) saying where it is damaged, without the file's name.
nlohmann::json parseJson(std::string_view text);

/// The same for texts that may be anything, such as attributes of pictures: what can't be parsed is discarded, which
/// is no object, array, string or number.
nlohmann::json parseJsonIfAny(std::string_view text);

}  // namespace noctis
