#include "core/recipe/where.h"

#include "core/image/error.h"
#include "core/settings/value_type.h"

#include <algorithm>
#include <charconv>
#include <utility>

#include <fmt/format.h>

namespace noctis {

namespace {

/// A file nested more deeply than this isn't a recipe, but meant to exhaust the stack.
constexpr int kDeepest = 64;

/// The names that are being replaced, and how many parts there are by now.
struct Expansion {
    std::vector<std::string> names;
    std::size_t parts = 0;
};

Where plain(const Where& where, const NamedWheres& named, Expansion& expansion, int depth) {
    std::vector<std::string>& within = expansion.names;
    if (depth > kDeepest)
        throw Error(ErrorCode::BadSetting, "its Where is nested too deeply");
    requireFewParts(++expansion.parts);
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
        Where same = plain(found->second, named, expansion, depth + 1);
        within.pop_back();
        if (where.refinement == MaskRefinement{})
            return same;
        out.kind = Where::Kind::All;  // of one part: that part, shaped once more
        out.name.clear();
        out.parts = {std::move(same)};
        return out;
    }
    for (Where& part : out.parts)
        part = plain(part, named, expansion, depth + 1);
    return out;
}

}  // namespace

void requireFewParts(std::size_t parts) {
    if (parts > kMostWhereParts)
        throw Error(
            ErrorCode::TooLarge,
            fmt::format("its Where has more than {} parts, with those it names", kMostWhereParts));
}

bool Where::operator==(const Where& other) const {
    const bool sameKept = kept == other.kept || (kept && other.kept && *kept == *other.kept);
    return kind == other.kind && name == other.name && settings == other.settings &&
           parts == other.parts && refinement == other.refinement && tracks == other.tracks &&
           sameKept;
}

void addFilesOf(const Where& where, std::vector<std::filesystem::path>& files) {
    addFilesOf(where.settings, files);
    for (const Where& part : where.parts)
        addFilesOf(part, files);
}

Where plainWhere(const Where& where, const NamedWheres& named) {
    Expansion expansion;
    return plain(where, named, expansion, 0);
}

const Where* criterionAt(const Where& where, std::string_view path) {
    const Where* at = &where;
    if (path == "/")
        path = {};
    while (!path.empty()) {
        std::size_t index = 0;
        const char* end = path.data() + path.size();
        const auto [rest, error] = std::from_chars(path.data() + 1, end, index);
        if (error != std::errc() || index >= at->parts.size())
            return nullptr;
        at = &at->parts[index];
        path = std::string_view(rest, static_cast<std::size_t>(end - rest));
    }
    return at->kind == Where::Kind::Criterion ? at : nullptr;
}

Where* criterionAt(Where& where, std::string_view path) {
    return const_cast<Where*>(criterionAt(std::as_const(where), path));
}

}  // namespace noctis
