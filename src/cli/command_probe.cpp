#include "cli/commands.h"
#include "core/passes/pass_file.h"
#include "core/passes/probe.h"

#include <memory>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

namespace {

using Json = nlohmann::json;

Json readingJson(const ProbedValue& reading) {
    Json value = Json::array();
    for (const float v : reading.value)
        value.push_back(jsonNumber(v));
    return {{"channels", reading.channels},
            {"value", value},
            {"unit", reading.unit},
            {"meaning", reading.meaning}};
}

}  // namespace

void addProbeCommand(CLI::App& app, Command& chosen) {
    struct Options {
        std::vector<std::string> files;
        std::vector<std::string> at;
        std::vector<std::string> reads;
        bool json = false;
    };
    const auto options = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("probe", "Print every pass's value at the given pixels");
    command->add_option("FILE", options->files, "Pass files of one frame")->required();
    command->add_option("--at", options->at, "A pixel as X,Y; can be repeated")
        ->required()
        ->allow_extra_args(false);
    addReadOption(*command, options->reads);
    command->add_flag("--json", options->json, "Print one JSON document");
    command->callback([&chosen, options] {
        chosen = [options](const CommandContext& context) {
            Readings how;
            const PassSet set =
                readPassesAs({options->files.begin(), options->files.end()}, how, options->reads);
            Json probes = Json::array();
            for (const std::string& text : options->at) {
                const auto [x, y] = twoNumbers(text, ',', "--at");
                Json passes = Json::object();
                const std::vector<ProbedValue> readings = probeAt(set, x, y);
                if (!options->json)
                    fmt::print(context.out, "{},{}\n", x, y);
                for (const ProbedValue& reading : readings) {
                    passes[reading.pass] = readingJson(reading);
                    if (!options->json)
                        fmt::print(context.out, "  {:<12} {:.6g} {}  {}\n", reading.pass,
                                   fmt::join(reading.value, " "), reading.unit, reading.meaning);
                }
                probes.push_back({{"at", Json{x, y}}, {"passes", passes}});
            }
            if (options->json)
                printJson(context, {{"probes", probes}});
        };
    });
}

}  // namespace noctis
