#include "cli/run.h"

#include "cli/commands.h"
#include "cli/interruption.h"
#include "core/image/error.h"
#include "core/settings/counted.h"

#include <charconv>
#include <cmath>

#include <CLI/CLI.hpp>
#include <fmt/format.h>

namespace noctis {

namespace {

enum ExitStatus { kDone = 0, kBadUsage = 2, kBadInput = 3, kFileTrouble = 4, kStopped = 5 };

int statusOf(ErrorCode code) {
    switch (code) {
    case ErrorCode::FileAccess:
        return kFileTrouble;
    case ErrorCode::BadSetting:
    case ErrorCode::UnknownName:
        return kBadUsage;
    default:
        return kBadInput;
    }
}

/// What is there after a stop.
std::string stoppedText(int written) {
    return written == 0 ? "nothing was written"
                        : fmt::format("{} {} written before",
                                      counted(static_cast<std::size_t>(written), "file"),
                                      written == 1 ? "was" : "were");
}

/// The library's own words for a wrong or missing command don't name it.
void printUsageError(const CLI::App& app, const std::vector<std::string>& arguments,
                     const std::string& error, std::FILE* err) {
    if (const auto chosen = app.get_subcommands(); !chosen.empty()) {
        fmt::print(err, "noctis-cli: {}; see noctis-cli {} --help\n", error,
                   chosen.front()->get_name());
        return;
    }
    std::string names;
    for (const CLI::App* command : app.get_subcommands([](const CLI::App*) { return true; }))
        names += (names.empty() ? "" : ", ") + command->get_name();
    const std::string what =
        arguments.size() < 2 ? "a command is missing" : arguments[1] + " is not a command";
    fmt::print(err, "noctis-cli: {}; choose one of {}, or see noctis-cli --help\n", what, names);
}

}  // namespace

nlohmann::json jsonNumber(float value) {
    if (std::isnan(value))
        return "nan";
    if (std::isinf(value))
        return value > 0.0F ? "inf" : "-inf";
    return value;
}

void printJson(const CommandContext& context, const nlohmann::json& json) {
    fmt::print(context.out, "{}\n",
               json.dump(2, ' ', false, nlohmann::json::error_handler_t::replace));
}

void addReadOption(CLI::App& command, std::vector<std::string>& reads) {
    command
        .add_option("--read", reads,
                    "Read a pass differently, such as depth=inverse,near=4@320,200,far=60@10,20 or "
                    "Nrm=kind=normal,encoded,space=camera,green=down; can be repeated")
        ->allow_extra_args(false);
}

std::pair<int, int> twoNumbers(const std::string& text, char separator, const std::string& what) {
    const auto at = text.find(separator);
    std::pair<int, int> numbers;
    const char* end = text.data() + text.size();
    const auto isWhole = [](const char* from, const char* to, int& number) {
        const auto read = std::from_chars(from, to, number);
        return read.ec == std::errc() && read.ptr == to;
    };
    if (at == std::string::npos || !isWhole(text.data(), text.data() + at, numbers.first) ||
        !isWhole(text.data() + at + 1, end, numbers.second))
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{} is '{}', but must be two whole numbers with '{}' between them",
                                what, text, separator));
    return numbers;
}

int runCli(const std::vector<std::string>& arguments, std::FILE* out, std::FILE* err) {
    CLI::App app("Noctis: make utility passes and finish pictures with them", "noctis-cli");
    app.require_subcommand(1);
    app.set_version_flag("--version", "noctis-cli " NOCTIS_VERSION, "Print the version");
    Command chosen;
    addSceneCommand(app, chosen);
    addRenderCommand(app, chosen);
    addPassesCommand(app, chosen);
    addProbeCommand(app, chosen);
    addStepsCommand(app, chosen);
    addExportCommand(app, chosen);
    addFinishCommand(app, chosen);
    addReliefCommand(app, chosen);
    addRunCommand(app, chosen);
    std::vector<std::string> reversed(arguments.rbegin(), arguments.rend() - 1);
    try {
        app.parse(reversed);
    } catch (const CLI::CallForVersion&) {
        fmt::print(out, "{}\n", app.version());
        return kDone;
    } catch (const CLI::CallForHelp&) {
        fmt::print(out, "{}", app.help());
        return kDone;
    } catch (const CLI::ParseError& error) {
        printUsageError(app, arguments, error.what(), err);
        return kBadUsage;
    }
    const Interruption interruption;
    int written = 0;
    int status = kDone;
    try {
        chosen(CommandContext{out, err, interruption.token(), written});
        if (interruption.token().stop_requested()) {
            fmt::print(err, "noctis-cli: stopped; {}\n", stoppedText(written));
            status = kStopped;
        }
    } catch (const Error& error) {
        fmt::print(err, "noctis-cli: {}\n", error.what());
        status = statusOf(error.code());
    } catch (const std::bad_alloc&) {
        fmt::print(err, "noctis-cli: not enough memory; try a smaller size\n");
        status = kBadInput;
    } catch (const std::exception& error) {
        fmt::print(err, "noctis-cli: {}\n", error.what());
        status = kBadInput;
    }
    return status;
}

}  // namespace noctis
