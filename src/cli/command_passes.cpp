#include "cli/commands.h"
#include "core/passes/pass_file.h"
#include "core/passes/statistics.h"
#include "core/settings/parameter.h"

#include <algorithm>
#include <memory>

#include <fmt/format.h>

namespace noctis {

namespace {

using Json = nlohmann::json;

/// The range over all channels, finite values only.
Statistics rangeOf(const Pass& pass) {
    // A matte's ids are names, not numbers: its coverage counts.
    const bool matte = passKindInfo(pass.kind).matte();
    if (matte)
        return statisticsOf(pass.image, std::min(1, pass.image.channels() - 1));
    Statistics all = statisticsOf(pass.image, 0);
    for (int c = 1; c < pass.image.channels(); ++c) {
        const Statistics s = statisticsOf(pass.image, c);
        if (s.counted == 0)
            continue;
        all.minimum = all.counted > 0 ? std::min(all.minimum, s.minimum) : s.minimum;
        all.maximum = all.counted > 0 ? std::max(all.maximum, s.maximum) : s.maximum;
        all.counted += s.counted;
    }
    return all;
}

std::string interpretationText(const Pass& pass) {
    return pass.interpretation ? describe(*pass.interpretation)
                               : std::string(passKindInfo(pass.kind).unit);
}

Json passJson(const Pass& pass) {
    Json channels = Json::array();
    for (int c = 0; c < pass.image.channels(); ++c)
        channels.push_back(pass.image.channelName(c));
    const Statistics range = rangeOf(pass);
    Json json{{"name", pass.name},
              {"kind", passKindInfo(pass.kind).id},
              {"channels", channels},
              {"type", sampleTypeName(pass.type)},
              {"interpretation", interpretationText(pass)},
              {"range", Json{jsonNumber(range.minimum), jsonNumber(range.maximum)}},
              {"sampling", pass.sampling == Sampling::Centre ? "centre" : "filtered"},
              {"unit", passKindInfo(pass.kind).unit},
              {"settings", pass.settings},
              {"warnings", pass.warnings}};
    if (!pass.why.empty())
        json["why"] = pass.why;
    if (pass.normals)
        json["reading"] = describe(*pass.normals);
    if (pass.derived)
        json["derived"] = true;
    if (pass.interpretation && !pass.interpretation->reason.empty())
        json["reason"] = pass.interpretation->reason;
    if (!pass.manifest.empty())
        json["names"] = pass.manifest.size();
    return json;
}

void printSet(const CommandContext& context, const std::string& file, const PassSet& set) {
    fmt::print(context.out, "{}: {} x {}\n", file, set.width, set.height);
    for (const Pass& pass : set.passes) {
        const Statistics range = rangeOf(pass);
        fmt::print(context.out, "  {:<12} {:<10} {} channel{}, {}, {} to {}{}\n", pass.name,
                   passKindInfo(pass.kind).id, pass.image.channels(),
                   pass.image.channels() == 1 ? "" : "s", sampleTypeName(pass.type),
                   formatNumber(range.minimum, Unit::None), formatNumber(range.maximum, Unit::None),
                   pass.interpretation ? "  " + interpretationText(pass) : "");
        for (const std::string& warning : pass.warnings)
            fmt::print(context.out, "    {}\n", warning);
    }
    for (const std::string& warning : set.warnings)
        fmt::print(context.err, "warning: {}\n", warning);
}

/// The requests for passes that this file has.
std::vector<std::string> readsOf(const std::string& file, const std::vector<std::string>& reads) {
    std::vector<std::string> out;
    if (reads.empty())
        return out;
    const PassSet set = readPasses({file});
    for (const std::string& read : reads)
        if (std::ranges::any_of(set.passes, [name = readRequestFromText(read).pass](const Pass& p) {
                return p.key == name || p.name == name;
            }))
            out.push_back(read);
    return out;
}

}  // namespace

void addPassesCommand(CLI::App& app, Command& chosen) {
    struct Options {
        std::vector<std::string> files;
        std::vector<std::string> reads;
        bool json = false;
    };
    const auto options = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("passes", "List the passes of files");
    command->add_option("FILE", options->files, "Pass files")->required();
    addReadOption(*command, options->reads);
    command->add_flag("--json", options->json, "Print one JSON document");
    command->callback([&chosen, options] {
        chosen = [options](const CommandContext& context) {
            Json files = Json::array();
            if (!options->reads.empty()) {
                Readings all;  // a name that none of the files has is an error
                (void)readPassesAs({options->files.begin(), options->files.end()}, all,
                                   options->reads);
            }
            for (const std::string& file : options->files) {
                Readings readings;
                const PassSet set = readPassesAs({file}, readings, readsOf(file, options->reads));
                if (!options->json) {
                    printSet(context, file, set);
                    continue;
                }
                Json passes = Json::array();
                for (const Pass& pass : set.passes)
                    passes.push_back(passJson(pass));
                files.push_back({{"file", file},
                                 {"size", Json{set.width, set.height}},
                                 {"view", set.view},
                                 {"camera", set.camera.has_value()},
                                 {"passes", passes},
                                 {"warnings", set.warnings}});
            }
            if (options->json)
                printJson(context, {{"files", files}});
        };
    });
}

}  // namespace noctis
