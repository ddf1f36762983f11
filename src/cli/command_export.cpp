#include "cli/commands.h"
#include "cli/framing_options.h"
#include "core/dispatch/export_format.h"
#include "core/dispatch/pass_export.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"

#include <memory>

#include <fmt/format.h>

namespace noctis {

namespace {

struct ExportOptions {
    std::vector<std::string> files;
    std::string pass;
    std::string span;
    std::string bright = "far";
    FramingTexts framing;
    std::vector<std::string> reads;
    std::string out;
    int bits = 0;
};

PassStorage storageOf(const ExportOptions& options) {
    PassStorage storage;
    storage.bits = options.bits;
    if (options.bright != "near" && options.bright != "far")
        throw Error(ErrorCode::BadSetting, "--bright must be near or far");
    if (!options.span.empty()) {
        storage.span = greySpanFromText(options.span);
        storage.span->brightNear = options.bright == "near";
    }
    storage.framing = framingOf(options.framing);
    return storage;
}

void exportOne(const ExportOptions& options, const CommandContext& context) {
    const PassStorage storage = storageOf(options);
    (void)exportDepthOf(options.out, options.bits);
    const std::vector<std::filesystem::path> files(options.files.begin(), options.files.end());
    requireNoInput({options.out}, files);
    requireWritable(options.out);
    Readings readings;
    const PassSet set = readPassesAs(files, readings, options.reads);
    for (const std::string& warning : set.warnings)
        fmt::print(context.err, "warning: {}\n", warning);
    const Pass* pass = set.find(options.pass);
    if (pass == nullptr) {
        std::vector<std::string> names;
        for (const Pass& each : set.passes)
            names.push_back(each.name);
        throw Error(ErrorCode::UnknownName, fmt::format("there is no pass {}; there are {}",
                                                        options.pass, fmt::join(names, ", ")));
    }
    if (context.stop.stop_requested())
        return;
    exportPass(options.out, set, *pass, storage);
    ++context.written;
}

}  // namespace

void addExportCommand(CLI::App& app, Command& chosen) {
    const auto o = std::make_shared<ExportOptions>();
    CLI::App* command = app.add_subcommand("export", "Write one pass as a picture");
    command->add_option("PASSFILE", o->files, "The pass files")->required();
    command->add_option("--pass", o->pass, "The pass, by its name")->required();
    command->add_option("--normalise", o->span,
                        "NEAR,FAR in metres: the distances that become the ends of the grey");
    command->add_option("--bright", o->bright, "Which end is white: near or far");
    command->add_option("--bits", o->bits, "8, 16 or 32 (float); the format's default if left out")
        ->check(CLI::IsMember({8, 16, 32}));
    addFramingOptions(*command, o->framing);
    command->add_option("-o,--out", o->out, "The picture to write: .exr, .tif or .png")->required();
    addReadOption(*command, o->reads);
    command->callback(
        [&chosen, o] { chosen = [o](const CommandContext& context) { exportOne(*o, context); }; });
}

}  // namespace noctis
