#include "core/image/json_text.h"

#include "core/image/error.h"

#include <algorithm>
#include <cctype>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

namespace {

/// While it is parsed, as even taking apart what is nested too deeply may overflow the stack.
bool isShallow(int depth, Json::parse_event_t event, Json&) {
    const bool opens =
        event == Json::parse_event_t::array_start || event == Json::parse_event_t::object_start;
    if (opens && depth >= kDeepestJson)
        throw Error(ErrorCode::BadFile,
                    fmt::format("is nested more than {} deep, which can't be used", kDeepestJson));
    return true;
}

}  // namespace

Json parseJson(std::string_view text) {
    try {
        return Json::parse(text, isShallow);
    } catch (const Json::parse_error& error) {
        if (std::all_of(text.begin(), text.end(), [](unsigned char c) { return std::isspace(c); }))
            throw Error(ErrorCode::BadFile, "is empty; open an older copy");
        const auto upTo = static_cast<std::ptrdiff_t>(std::min(error.byte, text.size()));
        const auto line = 1 + std::count(text.begin(), text.begin() + upTo, '\n');
        throw Error(
            ErrorCode::BadFile,
            fmt::format("is damaged at line {}; repair it there, or open an older copy", line));
    } catch (const Json::exception&) {
        // The library doesn't report a number out of range as a parse error.
        throw Error(ErrorCode::BadFile, "is damaged; open an older copy");
    }
}

Json parseJsonIfAny(std::string_view text) {
    try {
        return Json::parse(text, isShallow, false);
    } catch (const std::exception&) {
        return Json(Json::value_t::discarded);
    }
}

}  // namespace noctis
