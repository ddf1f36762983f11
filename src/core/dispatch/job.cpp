#include "core/dispatch/job.h"

#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/image/safe_write.h"
#include "core/passes/frame_name.h"
#include "core/settings/number_list.h"

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <random>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

template <typename Value> struct Named {
    std::string_view id;
    Value value;
};

constexpr std::array kKinds{
    Named<JobKind>{"passes", JobKind::Passes}, Named<JobKind>{"finished", JobKind::Finished},
    Named<JobKind>{"sheet", JobKind::Sheet}, Named<JobKind>{"relief", JobKind::Relief}};
constexpr std::array kRenders{Named<JobRender>{"none", JobRender::None},
                              Named<JobRender>{"missing", JobRender::Missing},
                              Named<JobRender>{"all", JobRender::All}};
constexpr std::array kPackings{Named<PassPacking>{"one_file", PassPacking::OneFile},
                               Named<PassPacking>{"file_each", PassPacking::FileEach},
                               Named<PassPacking>{"folder_each", PassPacking::FolderEach}};
constexpr int kMostPadding = 1024;  // px
constexpr std::array kKnown{"format", "version", "id", "kind",    "project",
                            "views",  "frames",  "to", "settings"};

template <typename Table, typename Value>
std::string_view nameIn(const Table& table, const Value& value) {
    return std::ranges::find_if(table, [&](const auto& row) { return row.value == value; })->id;
}

[[noreturn]] void unusable(const std::string& text) { throw Error(ErrorCode::BadFile, text); }

template <typename Table> auto valueIn(const Table& table, const std::string& id, const char* key) {
    for (const auto& row : table)
        if (row.id == id)
            return row.value;
    std::vector<std::string_view> ids;
    for (const auto& row : table)
        ids.push_back(row.id);
    unusable(fmt::format("{} is {}, which is none of {}", key, id, fmt::join(ids, ", ")));
}

/// Below the folder relative to it, elsewhere absolute: a job goes along with its files.
std::string pathText(const fs::path& path, const fs::path& folder) {
    const fs::path relative = path.lexically_relative(folder);
    return relative.empty() || *relative.begin() == ".." ? path.string() : relative.string();
}

/// A whole number from least to most.
int wholeIn(const Json& json, const char* key, int least, int most) {
    if (json.is_number_integer()) {
        const auto number = json.get<std::int64_t>();
        if (number >= least && number <= most)
            return static_cast<int>(number);
    }
    unusable(fmt::format("{} must be a whole number from {} to {}", key, least, most));
}

std::vector<int> wholesIn(const Json& json, const char* key, std::size_t count, int least) {
    if (!json.is_array() || json.size() != count)
        unusable(fmt::format("{} must have {} whole numbers", key, count));
    std::vector<int> numbers;
    for (const Json& each : json)
        numbers.push_back(wholeIn(each, key, least, kMaximumSide));
    return numbers;
}

float numberIn(const Json& json, const char* key) {
    if (json.is_number())
        if (const auto number = json.get<double>(); std::isfinite(number))
            return static_cast<float>(number);
    unusable(fmt::format("{} must be a number", key));
}

bool boolIn(const Json& json, const char* key) {
    if (!json.is_boolean())
        unusable(fmt::format("{} must be true or false", key));
    return json.get<bool>();
}

std::string textIn(const Json& json, const char* key) {
    if (!json.is_string())
        unusable(fmt::format("{} must be a text", key));
    return json.get<std::string>();
}

std::vector<std::string> textsIn(const Json& json, const char* key) {
    if (!json.is_array())
        unusable(fmt::format("{} must be a list of texts", key));
    std::vector<std::string> texts;
    for (const Json& each : json)
        texts.push_back(textIn(each, key));
    return texts;
}

Json framingToJson(const Framing& framing) {
    Json json = Json::object();
    if (framing.crop)
        json["crop"] = {framing.crop->x0, framing.crop->y0, framing.crop->width(),
                        framing.crop->height()};
    if (framing.longest > 0)
        json["size"] = framing.longest;
    else if (framing.width > 0 || framing.height > 0)
        json["size"] = {framing.width, framing.height};
    if (framing.letterbox > 0.0F)
        json["letterbox"] = framing.letterbox;
    if (framing.bySample)
        json["by_sample"] = true;
    return json;
}

Framing framingFromJson(const Json& json) {
    Framing framing;
    if (const auto crop = json.find("crop"); crop != json.end()) {
        const std::vector<int> numbers = wholesIn(*crop, "crop", 4, 0);
        framing.crop =
            Tile{numbers[0], numbers[1], numbers[0] + numbers[2], numbers[1] + numbers[3]};
    }
    if (const auto size = json.find("size"); size != json.end()) {
        if (size->is_array()) {
            const std::vector<int> numbers = wholesIn(*size, "size", 2, 0);
            framing.width = numbers[0];
            framing.height = numbers[1];
        } else {
            framing.longest = wholeIn(*size, "size", 1, kMaximumSide);
        }
    }
    if (const auto ratio = json.find("letterbox"); ratio != json.end()) {
        framing.letterbox = numberIn(*ratio, "letterbox");
        if (!(framing.letterbox >= 0.01F && framing.letterbox <= 100.0F))
            unusable("letterbox must be width over height, from 0.01 to 100");
    }
    if (const auto sample = json.find("by_sample"); sample != json.end())
        framing.bySample = boolIn(*sample, "by_sample");
    return framing;
}

Json sheetToJson(const SheetLayout& sheet) {
    Json json = Json::object();
    if (sheet.columns > 0)
        json["columns"] = sheet.columns;
    json["trim"] = sheet.trimmed;
    json["padding"] = sheet.padding;
    json["power_of_two"] = sheet.powerOfTwo;
    if (sheet.pivot)
        json["pivot"] = *sheet.pivot;
    return json;
}

SheetLayout sheetFromJson(const Json& json) {
    SheetLayout sheet;
    if (const auto columns = json.find("columns"); columns != json.end())
        sheet.columns = wholeIn(*columns, "columns", 1, kMostFrames);
    if (const auto trim = json.find("trim"); trim != json.end())
        sheet.trimmed = boolIn(*trim, "trim");
    if (const auto padding = json.find("padding"); padding != json.end())
        sheet.padding = wholeIn(*padding, "padding", 0, kMostPadding);
    if (const auto power = json.find("power_of_two"); power != json.end())
        sheet.powerOfTwo = boolIn(*power, "power_of_two");
    if (const auto pivot = json.find("pivot"); pivot != json.end()) {
        const std::vector<int> place = wholesIn(*pivot, "pivot", 2, -kMaximumSide);
        sheet.pivot = std::array{place[0], place[1]};
    }
    return sheet;
}

Json reliefToJson(const ReliefSettings& relief) {
    Json json = {{"as", relief.as}};
    if (!relief.ids.empty())
        json["reliefs"] = relief.ids;
    if (relief.as == kSolidWritten) {
        json["base"] = relief.base;
        json["within"] = relief.within;
    }
    return json;
}

float metresIn(const Json& json, const char* key) {
    const float metres = numberIn(json, key);
    if (metres < 0.0F)
        unusable(fmt::format("{} must be 0 m or more", key));
    return metres;
}

ReliefSettings reliefFromJson(const Json& json) {
    ReliefSettings relief;
    if (const auto as = json.find("as"); as != json.end())
        relief.as = textIn(*as, "as");
    if (const auto ids = json.find("reliefs"); ids != json.end())
        relief.ids = textsIn(*ids, "reliefs");
    if (const auto base = json.find("base"); base != json.end())
        relief.base = metresIn(*base, "base");
    if (const auto within = json.find("within"); within != json.end())
        relief.within = metresIn(*within, "within");
    return relief;
}

Json passesToJson(const JobSettings& s) {
    Json json = Json::object();
    if (!s.passes.empty())
        json["passes"] = s.passes;
    json["packing"] = nameIn(kPackings, s.packing);
    if (s.span) {
        json["normalise"] = {s.span->nearest, s.span->farthest};
        json["bright"] = s.span->brightNear ? "near" : "far";
    }
    return json;
}

Json settingsToJson(const Job& job) {
    const JobSettings& s = job.settings;
    Json json = framingToJson(s.picture.framing);
    if (s.picture.bits > 0)
        json["bits"] = s.picture.bits;
    if (s.picture.dither)
        json["dither"] = true;
    if (job.kind == JobKind::Relief) {
        json.update(reliefToJson(s.relief));
        return json;
    }
    if (s.bridge)
        json["bridge"] = true;
    if (s.render != JobRender::None)
        json["render"] = nameIn(kRenders, s.render);
    for (const ObjectSet& set : s.sets)
        json["sets"].push_back({{"name", set.name}, {"only", set.only}});
    if (job.kind == JobKind::Passes) {
        json.update(passesToJson(s));
        return json;
    }
    if (s.picture.straightAlpha)
        json["alpha"] = "straight";
    if (job.kind == JobKind::Sheet)
        json.update(sheetToJson(s.sheet));
    return json;
}

std::vector<ObjectSet> setsFromJson(const Json& json) {
    if (!json.is_array())
        unusable("sets must be a list of sets");
    std::vector<ObjectSet> sets;
    for (const Json& each : json) {
        if (!each.is_object() || !each.contains("name") || !each.contains("only"))
            unusable("each of sets must have a name and only");
        sets.push_back({textIn(each["name"], "name"), textIn(each["only"], "only")});
    }
    return sets;
}

JobSettings settingsFromJson(const Json& json) {
    if (!json.is_object())
        unusable("settings must be an object");
    JobSettings s;
    s.picture.framing = framingFromJson(json);
    if (const auto bits = json.find("bits"); bits != json.end())
        s.picture.bits = wholeIn(*bits, "bits", 8, 32);
    if (const auto alpha = json.find("alpha"); alpha != json.end()) {
        const std::string text = textIn(*alpha, "alpha");
        if (text != "straight" && text != "associated")
            unusable("alpha must be straight or associated");
        s.picture.straightAlpha = text == "straight";
    }
    if (const auto dither = json.find("dither"); dither != json.end())
        s.picture.dither = boolIn(*dither, "dither");
    if (const auto bridge = json.find("bridge"); bridge != json.end())
        s.bridge = boolIn(*bridge, "bridge");
    if (const auto passes = json.find("passes"); passes != json.end())
        s.passes = textsIn(*passes, "passes");
    if (const auto packing = json.find("packing"); packing != json.end())
        s.packing = valueIn(kPackings, textIn(*packing, "packing"), "packing");
    if (const auto render = json.find("render"); render != json.end())
        s.render = valueIn(kRenders, textIn(*render, "render"), "render");
    if (const auto sets = json.find("sets"); sets != json.end())
        s.sets = setsFromJson(*sets);
    s.sheet = sheetFromJson(json);
    s.relief = reliefFromJson(json);
    if (const auto ends = json.find("normalise"); ends != json.end()) {
        if (!ends->is_array() || ends->size() != 2)
            unusable("normalise must be two distances in metres");
        s.span = GreySpan{numberIn((*ends)[0], "normalise"), numberIn((*ends)[1], "normalise")};
        if (s.span->nearest < 0.0F || s.span->farthest <= s.span->nearest)
            unusable("normalise must be two distances in metres, the nearer one first");
        const std::string bright =
            json.contains("bright") ? textIn(json["bright"], "bright") : "far";
        if (bright != "near" && bright != "far")
            unusable("bright must be near or far");
        s.span->brightNear = bright == "near";
    }
    return s;
}

void requireId(const std::string& id) {
    const bool fits = std::ranges::all_of(
        id, [](unsigned char c) { return std::isalnum(c) != 0 || c == '-' || c == '_'; });
    if (id.empty() || id.size() > 64 || !fits)
        unusable("id must have 1 to 64 letters, digits, - and _");
}

}  // namespace

std::string_view jobKindId(JobKind kind) { return nameIn(kKinds, kind); }

std::string newJobId() {
    const auto now = std::chrono::duration_cast<std::chrono::seconds>(
        std::chrono::system_clock::now().time_since_epoch());
    std::random_device random;
    return fmt::format("{:x}-{:08x}", now.count(), random());
}

std::string jobToText(const Job& job, const fs::path& folder) {
    Json json = job.unknown ? Json::parse(*job.unknown) : Json::object();
    json["format"] = "noctis-job";
    json["version"] = kJobVersion;
    json["id"] = job.id;
    json["kind"] = jobKindId(job.kind);
    json["project"] = pathText(job.project, folder);
    if (!job.views.empty())
        json["views"] = job.views;
    if (job.frames)
        json["frames"] = {job.frames->first, job.frames->last};
    json["to"] = pathText(job.to, folder);
    json["settings"] = settingsToJson(job);
    return json.dump(2) + "\n";
}

Job jobFromText(const std::string& text, const fs::path& folder) {
    const Json json = parseJson(text);
    if (!json.is_object() || json.value("format", Json()) != "noctis-job")
        unusable("is not a Noctis job: its format is not noctis-job");
    const Json version = json.value("version", Json(kJobVersion));
    if (version.is_number() && version.get<double>() > kJobVersion)
        throw Error(ErrorCode::NewerVersion,
                    "was written by a newer version of Noctis; run it there");
    const auto need = [&](const char* key) -> const Json& {
        const auto found = json.find(key);
        if (found == json.end())
            unusable(fmt::format("has no {}", key));
        return *found;
    };
    Job job;
    job.id = textIn(need("id"), "id");
    requireId(job.id);
    job.kind = valueIn(kKinds, textIn(need("kind"), "kind"), "kind");
    job.project = (folder / textIn(need("project"), "project")).lexically_normal();
    job.to = (folder / textIn(need("to"), "to")).lexically_normal();
    if (const auto views = json.find("views"); views != json.end())
        job.views = textsIn(*views, "views");
    if (const auto frames = json.find("frames"); frames != json.end()) {
        const bool two = frames->is_array() && frames->size() == 2;
        if (!two)
            unusable("frames must be the first and the last one");
        constexpr int kMost = 1'000'000'000;
        job.frames = FrameRange{wholeIn((*frames)[0], "frames", -kMost, kMost),
                                wholeIn((*frames)[1], "frames", -kMost, kMost)};
        if (job.frames->last < job.frames->first)
            unusable("frames must be the first and the last one, in this order");
    }
    if (const auto settings = json.find("settings"); settings != json.end())
        job.settings = settingsFromJson(*settings);
    Json unknown = Json::object();
    for (const auto& [key, value] : json.items())
        if (std::ranges::find(kKnown, key) == kKnown.end())
            unknown[key] = value;
    if (!unknown.empty())
        job.unknown = std::make_shared<const std::string>(unknown.dump());
    return job;
}

Job openJob(const fs::path& file) {
    const fs::path absolute = fs::absolute(file);
    const std::string text = readTextFile(absolute);
    try {
        return jobFromText(text, absolute.parent_path());
    } catch (const Error& error) {
        throw Error(error.code(), fmt::format("{}: {}", file.string(), error.what()));
    }
}

void saveJob(const Job& job, const fs::path& file) {
    const fs::path absolute = fs::absolute(file);
    writeTextFile(absolute, jobToText(job, absolute.parent_path()));
}

JobShare jobShareFromText(const std::string& text) {
    const auto numbers = numbersBetween<int>(text, '/');
    const bool two = numbers && numbers->size() == 2;
    const JobShare share{two ? numbers->front() : 0, two ? numbers->back() : 0};
    if (share.part < 1 || share.part > share.parts)
        throw Error(ErrorCode::BadSetting, "--part must be I/N with I from 1 to N");
    return share;
}

}  // namespace noctis
