#include "cli/commands.h"
#include "core/operations/registry.h"
#include "core/relief/sources.h"
#include "core/settings/value_type.h"
#include "core/steps/registry.h"

#include <memory>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

namespace {

using Json = nlohmann::json;

/// moves: whether what it belongs to is one that moves in time.
Json parameterJson(const Parameter& parameter, bool moves) {
    Json json{{"id", parameter.id},
              {"label", parameter.label},
              {"type", valueTypeName(parameter.type)},
              {"unit", unitName(parameter.unit)},
              {"default", valueToJson(parameter.initial)},
              {"help", parameter.help},
              {"still", parameter.still || !moves}};
    const bool ranged = parameter.isNumber() || parameter.type == ValueType::Span;
    json["min"] = ranged ? jsonNumber(parameter.range.min) : Json();
    json["max"] = ranged ? jsonNumber(parameter.range.max) : Json();
    for (const Choice& choice : parameter.choices)
        json["choices"].push_back(choice.id);
    for (const Parameter& field : parameter.fields)
        json["fields"].push_back(parameterJson(field, moves));
    return json;
}

Json declarationJson(const Declaration& declaration, bool moves = true) {
    Json parameters = Json::array();
    for (const Parameter& parameter : declaration.parameters)
        parameters.push_back(parameterJson(parameter, moves));
    return {{"id", declaration.id},
            {"label", declaration.label},
            {"help", declaration.help},
            {"parameters", parameters}};
}

Json stepJson(const StepType& type) {
    Json json = declarationJson(type);
    json["phase"] = phaseName(type.phase);
    json["version"] = type.version;
    return json;
}

void printParameters(const CommandContext& context, const Declaration& declaration) {
    for (const Parameter& p : declaration.parameters) {
        // Parts are stored from 0 to 1, whatever people see.
        const bool plain = unitName(p.unit).empty() || p.unit == Unit::Percent;
        const std::string range = p.isNumber()
                                      ? fmt::format("{:g} to {:g}{}{}", p.range.min, p.range.max,
                                                    plain ? "" : " ", plain ? "" : unitName(p.unit))
                                      : std::string(valueTypeName(p.type));
        fmt::print(context.out, "  {:<14} {:<22} default {:<10} {}: {}\n", p.id, range,
                   textFromValue(p.initial), p.label, p.help);
    }
}

void printStep(const CommandContext& context, const StepType& type) {
    fmt::print(context.out, "{} ({}): {}\n", type.id, phaseLabel(type.phase), type.help);
    printParameters(context, type);
}

void printCriterion(const CommandContext& context, const CriterionType& type) {
    fmt::print(context.out, "Where, by {}: {}\n", type.id, type.help);
    printParameters(context, type);
}

// --- docs/steps.md --------------------------------------------------------------------------------

/// Numbers have their unit; open ends are marked.
std::string rangeText(const Parameter& p) {
    if (!p.choices.empty()) {
        std::vector<std::string> ids;
        for (const Choice& choice : p.choices)
            ids.push_back(fmt::format("`{}`", choice.id));
        return fmt::format("{}", fmt::join(ids, ", "));
    }
    if (!p.isNumber())
        return std::string(valueTypeName(p.type));
    const bool percent = p.unit == Unit::Percent;
    return fmt::format("{:g} to {:g}{}{}", p.range.min, p.range.max,
                       unitName(p.unit).empty() || percent ? "" : " ",
                       percent ? "" : unitName(p.unit));
}

void printTable(const CommandContext& context, const std::vector<Parameter>& parameters,
                const std::string& prefix) {
    for (const Parameter& p : parameters) {
        const std::string initial = p.type == ValueType::Span ? "open" : textFromValue(p.initial);
        fmt::print(context.out, "| `{}{}` | {} | {} | {} |\n", prefix, p.id, rangeText(p),
                   initial.empty() ? "" : fmt::format("`{}`", initial), p.help);
        printTable(context, p.fields, p.id + "[].");
    }
}

void printDeclaration(const CommandContext& context, const Declaration& declaration,
                      std::string_view note) {
    fmt::print(context.out,
               "\n### {} (`{}`{})\n\n{}\n\n| setting | values | at first | meaning |\n"
               "|---|---|---|---|\n",
               declaration.label, declaration.id, note, declaration.help);
    printTable(context, declaration.parameters, "");
}

void printMarkdown(const CommandContext& context) {
    fmt::print(context.out, "# Steps\n\nMade by `scripts/generate` from the declarations.\n");
    for (const Phase phase : {Phase::Light, Phase::Air, Phase::Lens, Phase::Finish}) {
        fmt::print(context.out, "\n## {}\n", phaseLabel(phase));
        for (const StepType& type : stepCatalogue().types())
            if (type.phase == phase)
                printDeclaration(context, type, "");
    }
    fmt::print(context.out,
               "\n## What a Where can go by\n\nA `span` is written as `from` and `to`, either of "
               "which can be left out.\n");
    for (const CriterionType& type : stepCatalogue().criteria())
        printDeclaration(context, type, "");
    fmt::print(context.out,
               "\n## Where heights come from\n\nThe `--from` of `noctis-cli relief`.\n");
    for (const ReliefSourceType& type : reliefSources())
        printDeclaration(context, type, "");
    fmt::print(context.out,
               "\n## What is done to heights\n\nAs `--set operation.setting=value`, in the order "
               "they are given.\n");
    for (const OperationType& type : reliefCatalogue().operations)
        printDeclaration(context, type, "");
}

}  // namespace

void addStepsCommand(CLI::App& app, Command& chosen) {
    struct Options {
        std::string step;
        bool json = false;
        bool markdown = false;
    };
    const auto options = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand(
        "steps", "List the steps and the criteria of a Where, with their settings");
    command->add_option("STEP", options->step, "List this step only");
    command->add_flag("--json", options->json, "Print one JSON document");
    command->add_flag("--markdown", options->markdown, "Print docs/steps.md");
    command->callback([&chosen, options] {
        chosen = [options](const CommandContext& context) {
            if (options->markdown)
                return printMarkdown(context);
            std::vector<StepType> types = stepCatalogue().types();
            if (!options->step.empty())
                types = {stepCatalogue().type(options->step)};
            Json steps = Json::array();
            for (const StepType& type : types) {
                steps.push_back(stepJson(type));
                if (!options->json)
                    printStep(context, type);
            }
            Json criteria = Json::array();
            if (options->step.empty())
                for (const CriterionType& type : stepCatalogue().criteria()) {
                    criteria.push_back(declarationJson(type));
                    if (!options->json)
                        printCriterion(context, type);
                }
            Json heights = Json::array();
            Json operations = Json::array();
            if (options->step.empty() && options->json) {
                for (const ReliefSourceType& type : reliefSources())
                    heights.push_back(declarationJson(type, false));
                for (const OperationType& type : reliefCatalogue().operations)
                    operations.push_back(declarationJson(type, false));
            }
            if (options->json)
                printJson(context, {{"steps", steps},
                                    {"criteria", criteria},
                                    {"heights", heights},
                                    {"operations", operations}});
        };
    });
}

}  // namespace noctis
