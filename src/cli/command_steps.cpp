#include "cli/commands.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"

#include <memory>

#include <fmt/format.h>

namespace noctis {

namespace {

using Json = nlohmann::json;

std::string_view typeName(const Parameter& parameter) {
    if (parameter.isSwitch())
        return "switch";
    if (parameter.isColour())
        return "colour";
    if (parameter.isChoice())
        return parameter.choices.empty() ? "text" : "choice";
    return parameter.unit == Unit::Count ? "whole" : "number";
}

Json parameterJson(const Parameter& parameter) {
    Json json{{"id", parameter.id},
              {"label", parameter.label},
              {"type", typeName(parameter)},
              {"unit", unitName(parameter.unit)},
              {"default", valueToJson(parameter.initial)},
              {"help", parameter.help}};
    json["min"] = parameter.isNumber() ? jsonNumber(parameter.range.min) : Json();
    json["max"] = parameter.isNumber() ? jsonNumber(parameter.range.max) : Json();
    if (!parameter.choices.empty()) {
        json["choices"] = Json::array();
        for (const Choice& choice : parameter.choices)
            json["choices"].push_back(choice.id);
    }
    return json;
}

Json stepJson(const StepType& type) {
    Json parameters = Json::array();
    for (const Parameter& parameter : type.parameters)
        parameters.push_back(parameterJson(parameter));
    return {{"id", type.id},           {"label", type.label}, {"phase", phaseName(type.phase)},
            {"version", type.version}, {"help", type.help},   {"parameters", parameters}};
}

void printStep(const CommandContext& context, const StepType& type) {
    fmt::print(context.out, "{} ({}): {}\n", type.id, phaseLabel(type.phase), type.help);
    for (const Parameter& p : type.parameters) {
        const std::string range =
            p.isNumber() ? fmt::format("{:g} to {:g}{}{}", p.range.min, p.range.max,
                                       unitName(p.unit).empty() ? "" : " ", unitName(p.unit))
                         : std::string(typeName(p));
        fmt::print(context.out, "  {:<14} {:<22} default {:<10} {}: {}\n", p.id, range,
                   textFromValue(p.initial), p.label, p.help);
    }
}

}  // namespace

void addStepsCommand(CLI::App& app, Command& chosen) {
    struct Options {
        std::string step;
        bool json = false;
    };
    const auto options = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("steps", "Lists the steps and their settings");
    command->add_option("STEP", options->step, "One step only");
    command->add_flag("--json", options->json, "Prints one JSON document");
    command->callback([&chosen, options] {
        chosen = [options](const CommandContext& context) {
            std::vector<StepType> types = stepCatalogue().types();
            if (!options->step.empty())
                types = {stepCatalogue().type(options->step)};
            Json steps = Json::array();
            for (const StepType& type : types) {
                steps.push_back(stepJson(type));
                if (!options->json)
                    printStep(context, type);
            }
            if (options->json)
                printJson(context, {{"steps", steps}});
        };
    });
}

}  // namespace noctis
