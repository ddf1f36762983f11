#include "core/recipe/where_json.h"

#include "core/image/error.h"
#include "core/recipe/file_settings.h"
#include "core/settings/keys_json.h"
#include "core/settings/value_type.h"

#include <cmath>
#include <set>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

/// No recipe is nested more deeply than this.
constexpr std::size_t kDeepest = 64;
constexpr float kLargestReach = 1000.0F;  ///< px, of growing and softening

float numberIn(const Json& json, const char* key, float least, float most) {
    const float value = json.at(key).get<float>();
    if (!(value >= least && value <= most))
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{} must be from {:g} to {:g}", key, least, most));
    return value;
}

MaskRefinement refinementFrom(const Json& json) {
    MaskRefinement refinement;
    if (json.contains("grow"))
        refinement.grow = numberIn(json, "grow", -kLargestReach, kLargestReach);
    if (json.contains("soften"))
        refinement.soften = numberIn(json, "soften", 0.0F, kLargestReach);
    if (json.contains("levels")) {
        const Json& levels = json["levels"];
        if (!levels.is_array() || levels.size() != 3)
            throw Error(ErrorCode::BadSetting, "levels must be [black, white, gamma]");
        refinement.black = levels[0].get<float>();
        refinement.white = levels[1].get<float>();
        refinement.gamma = levels[2].get<float>();
        if (!(refinement.white > refinement.black) || !(refinement.gamma > 0.0F) ||
            !std::isfinite(refinement.white - refinement.black) || !std::isfinite(refinement.gamma))
            throw Error(ErrorCode::BadSetting, "levels need black below white and a gamma above 0");
    }
    return refinement;
}

void addRefinement(Json& json, const MaskRefinement& refinement) {
    if (refinement.grow != 0.0F)
        json["grow"] = refinement.grow;
    if (refinement.soften != 0.0F)
        json["soften"] = refinement.soften;
    if (refinement.hasLevels())
        json["levels"] = {refinement.black, refinement.white, refinement.gamma};
}

/// A criterion's settings stand beside its "by"; the ends of a span as "from" and "to".
Settings criterionSettings(const CriterionType& type, const Json& json) {
    static const std::set<std::string> own{"by", "grow", "soften", "levels", "keys", "flicker"};
    Json flat = Json::object();
    for (const auto& [key, value] : json.items())
        if (!own.contains(key))
            flat[key] = value;
    for (const Parameter& parameter : type.parameters) {
        if (parameter.type != ValueType::Span)
            continue;
        Json span = Json::object();
        for (const char* end : {"from", "to"})
            if (flat.contains(end)) {
                span[end] = flat[end];
                flat.erase(end);
            }
        flat[parameter.id] = span;
    }
    return settingsFromJson(type.parameters, flat);
}

/// Where in a Where is being read.
struct Within {
    std::size_t depth = 0;
    std::size_t& parts;
};

Where whereFrom(const Json& json, const Catalogue& catalogue, const fs::path& folder,
                const Within& within);

Where understood(const Json& json, const Catalogue& catalogue, const fs::path& folder,
                 const Within& within) {
    const Within inner{within.depth + 1, within.parts};
    if (!json.is_object())
        throw Error(ErrorCode::BadFile, "its Where isn't an object");
    Where where;
    where.refinement = refinementFrom(json);
    int kinds = 0;
    for (const auto& [key, kind] : {std::pair{"all", Where::Kind::All}, {"any", Where::Kind::Any}})
        if (json.contains(key)) {
            ++kinds;
            where.kind = kind;
            if (!json[key].is_array())
                throw Error(ErrorCode::BadFile, fmt::format("'{}' of its Where isn't a list", key));
            for (const Json& part : json[key])
                where.parts.push_back(whereFrom(part, catalogue, folder, inner));
        }
    if (json.contains("not")) {
        ++kinds;
        where.kind = Where::Kind::Not;
        where.parts = {whereFrom(json["not"], catalogue, folder, inner)};
    }
    if (json.contains("same_as")) {
        ++kinds;
        where.kind = Where::Kind::SameAs;
        where.name = json["same_as"].get<std::string>();
    }
    if (json.contains("by")) {
        ++kinds;
        const CriterionType& type = catalogue.criterion(json["by"].get<std::string>());
        where.kind = Where::Kind::Criterion;
        where.name = type.id;
        where.settings = withFiles(criterionSettings(type, json), [&](const fs::path& p) {
            return absoluteFrom(p.string(), folder);
        });
        where.tracks = tracksFromJson(json, [&](const std::string& path) -> const Parameter& {
            return movingParameter(type.parameters, path);
        });
    }
    if (kinds > 1 || (kinds == 0 && !json.empty()))
        throw Error(ErrorCode::BadFile,
                    "its Where needs one of \"all\", \"any\", \"not\", \"same_as\" and \"by\"");
    if (where.kind != Where::Kind::Criterion)
        for (const auto& [key, value] : json.items())
            if (!std::set<std::string>{"all", "any", "not", "same_as", "grow", "soften", "levels"}
                     .contains(key))
                throw Error(ErrorCode::UnknownName,
                            fmt::format("its Where has an unknown field {}", key));
    return where;
}

Where whereFrom(const Json& json, const Catalogue& catalogue, const fs::path& folder,
                const Within& within) {
    std::string problem;
    try {
        if (within.depth > kDeepest)
            throw Error(ErrorCode::BadSetting, "its Where is nested too deeply");
        requireFewParts(++within.parts);
        return understood(json, catalogue, folder, within);
    } catch (const Error& error) {
        problem = error.what();
    } catch (const Json::exception&) {
        problem = "a field of its Where has the wrong type";
    }
    Where unknown;
    unknown.kind = Where::Kind::Unknown;
    unknown.kept = keptText(json);
    unknown.problem = problem;
    return unknown;
}

}  // namespace

Json whereToJson(const Where& where, const fs::path& folder) {
    if (where.kind == Where::Kind::Unknown)
        return Json::parse(*where.kept);
    Json json = Json::object();
    Json parts = Json::array();
    for (const Where& part : where.parts)
        parts.push_back(whereToJson(part, folder));
    switch (where.kind) {
    case Where::Kind::All:
        json["all"] = parts;
        break;
    case Where::Kind::Any:
        json["any"] = parts;
        break;
    case Where::Kind::Not:
        json["not"] = parts.at(0);
        break;
    case Where::Kind::SameAs:
        json["same_as"] = where.name;
        break;
    default:
        for (const auto& [id, value] : withFiles(where.settings, [&](const fs::path& p) {
                 return fs::path(relativeTo(p, folder));
             })) {
            if (std::holds_alternative<Span>(value))
                json.update(valueToJson(value));
            else
                json[id] = valueToJson(value);
        }
        json["by"] = where.name;
        addTracks(json, where.tracks);
    }
    addRefinement(json, where.refinement);
    return json;
}

Where whereFromJson(const Json& json, const Catalogue& catalogue, const fs::path& folder) {
    std::size_t parts = 0;
    return whereFrom(json, catalogue, folder, {0, parts});
}

}  // namespace noctis
