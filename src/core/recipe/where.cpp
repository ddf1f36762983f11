#include "core/recipe/where.h"

#include "core/image/error.h"

#include <algorithm>

#include <fmt/format.h>

namespace noctis {

namespace {

/// A file nested more deeply than this isn't a recipe, but meant to exhaust the stack.
constexpr int kDeepest = 64;

Where plain(const Where& where, const NamedWheres& named, std::vector<std::string>& within,
            int depth) {
    if (depth > kDeepest)
        throw Error(ErrorCode::BadSetting, "its Where is nested too deeply");
    if (where.kind == Where::Kind::Unknown)
        throw Error(ErrorCode::UnknownName, where.problem);
    Where out = where;
    if (where.kind == Where::Kind::SameAs) {
        const auto found = named.find(where.name);
        if (found == named.end())
            throw Error(ErrorCode::UnknownName,
                        fmt::format("there is no Where named '{}'", where.name));
        if (std::find(within.begin(), within.end(), where.name) != within.end())
            throw Error(ErrorCode::BadSetting,
                        fmt::format("the Where '{}' refers to itself", where.name));
        within.push_back(where.name);
        Where same = plain(found->second, named, within, depth + 1);
        within.pop_back();
        if (where.shaping == MaskShaping{})
            return same;
        out.kind = Where::Kind::All;  // of one part: that part, shaped once more
        out.name.clear();
        out.parts = {std::move(same)};
        return out;
    }
    for (Where& part : out.parts)
        part = plain(part, named, within, depth + 1);
    return out;
}

}  // namespace

bool Where::operator==(const Where& other) const {
    const bool sameKept = kept == other.kept || (kept && other.kept && *kept == *other.kept);
    return kind == other.kind && name == other.name && settings == other.settings &&
           parts == other.parts && shaping == other.shaping && sameKept;
}

Where plainWhere(const Where& where, const NamedWheres& named) {
    std::vector<std::string> within;
    return plain(where, named, within, 0);
}

}  // namespace noctis
