#pragma once

#include "core/image/run_context.h"

#include <cstdio>
#include <functional>

#include <CLI/App.hpp>
#include <nlohmann/json.hpp>

namespace noctis {

/// Where a command writes, how it is stopped, and how many files it has written by then.
struct CommandContext {
    std::FILE* out;
    std::FILE* err;
    std::stop_token stop;
    int& written;
};

/// Each adds its subcommand; when that is chosen, what it returns runs after parsing.
using Command = std::function<void(const CommandContext&)>;
void addSceneCommand(CLI::App& app, Command& chosen);
void addRenderCommand(CLI::App& app, Command& chosen);
void addPassesCommand(CLI::App& app, Command& chosen);
void addProbeCommand(CLI::App& app, Command& chosen);
void addStepsCommand(CLI::App& app, Command& chosen);
/// --read PASS=WORD[,WORD...], which may be given again.
void addReadOption(CLI::App& command, std::vector<std::string>& reads);

void addExportCommand(CLI::App& app, Command& chosen);
void addFinishCommand(CLI::App& app, Command& chosen);
void addReliefCommand(CLI::App& app, Command& chosen);
void addRunCommand(CLI::App& app, Command& chosen);

/// A number for JSON; what is not finite becomes the string "inf", "-inf" or "nan".
nlohmann::json jsonNumber(float value);
void printJson(const CommandContext& context, const nlohmann::json& json);

/// "A,B" or "AxB" as two whole numbers. Errors: Error(BadSetting).
std::pair<int, int> twoNumbers(const std::string& text, char separator, const std::string& what);

}  // namespace noctis
