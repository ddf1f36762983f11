#include "cli/commands.h"
#include "cli/progress.h"
#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/image/safe_write.h"
#include "core/operations/registry.h"
#include "core/relief/derived_maps.h"
#include "core/relief/height_file.h"
#include "core/relief/relief_mesh.h"
#include "core/relief/sources.h"
#include "core/scene/import.h"
#include "core/scene/scene_files.h"
#include "core/settings/value_type.h"
#include "core/steps/registry.h"

#include <algorithm>
#include <memory>
#include <tuple>

#include <fmt/format.h>

namespace noctis {

namespace {

using Json = nlohmann::json;

constexpr int kMostTiles = 10'000;

struct ReliefOptions {
    std::vector<std::string> source;
    std::string from;
    std::string out;
    std::string view;
    std::string size;
    std::string metres;
    float metresPerPixel = 0.0F;
    std::string edges;
    std::string space;
    bool flipY = false;
    std::string plane;
    float within = 0.0F;
    std::string detail;
    float wavelength = 0.0F;
    std::vector<std::string> settings;
    std::string as = "height";
    bool open = false;
    float base = 0.005F;
    std::size_t triangles = 0;
    float heightError = 0.0F;
    std::string tiles;
    std::vector<std::string> reads;
    int bits = 0;
    bool dithered = false;
    bool json = false;
};

std::vector<float> numbersIn(const std::string& text, std::size_t count, const std::string& what) {
    std::vector<float> numbers;
    const Json json = parseJsonIfAny("[" + text + "]");
    if (json.is_array())
        for (const Json& each : json)
            if (each.is_number())
                numbers.push_back(each.get<float>());
    if (numbers.size() != count)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{} is '{}', but must be {} numbers separated by commas", what,
                                text, count));
    return numbers;
}

ReliefInput tracedInput(const ReliefOptions& options, const RunContext& run) {
    const Scene scene = importScene(options.source.front(), run.stop);
    if (run.stopped())
        return {};
    const View view = options.view.empty() ? scene.views.front() : viewNamed(scene, options.view);
    const bool parallel = view.camera.orthographic();
    auto [width, height] = twoNumbers(
        options.size.empty() ? (parallel ? "1024x1024" : "1280x720") : options.size, 'x', "--size");
    if (parallel && options.metresPerPixel > 0.0F) {
        // The picture's height in metres is the view's: its size follows.
        const double rows = std::max(
            1.0, static_cast<double>(view.camera.orthographicHeight / options.metresPerPixel));
        const double columns = std::max(1.0, rows * width / std::max(height, 1));
        requireCells(columns, rows);
        width = static_cast<int>(std::lround(columns));
        height = static_cast<int>(std::lround(rows));
    }
    requireCells(width, height);
    const Accelerator accelerator(scene);
    return traceReliefInput(scene, accelerator, view, width, height, run);
}

void set(Relief& relief, const std::string& option, const std::string& id, const Value& value) {
    const ReliefSourceType& type = reliefSource(relief.source);
    const auto found = std::find_if(type.parameters.begin(), type.parameters.end(),
                                    [&](const Parameter& p) { return p.id == id; });
    if (found == type.parameters.end())
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{} has no meaning for heights from {}", option, relief.source));
    relief.settings.set(id, checkedValue(*found, value));
}

void setPlane(Relief& relief, const std::string& plane) {
    if (plane == "ground" || plane == "fit") {
        set(relief, "--plane", "plane", plane);
        return;
    }
    const std::vector<float> n = numbersIn(plane, 6, "--plane");
    set(relief, "--plane", "plane", std::string("own"));
    set(relief, "--plane", "point", V3f(n[0], n[1], n[2]));
    set(relief, "--plane", "normal", V3f(n[3], n[4], n[5]));
}

/// Two heights: of black and white for a grey picture, the range that is written for all else.
void setMetres(Relief& relief, const std::string& metres) {
    const std::vector<float> ends = numbersIn(metres, 2, "--metres");
    if (relief.source == "grey") {
        relief.settings.set("black", ends[0]);
        relief.settings.set("white", ends[1]);
        return;
    }
    Step range = newOperation(reliefCatalogue(), "range", relief);
    range.settings.set("by", std::string("heights"));
    range.settings.set("from", ends[0]);
    range.settings.set("to", ends[1]);
    relief.operations.push_back(std::move(range));
}

Relief reliefOf(const ReliefOptions& o, const ReliefInput& input, bool traced) {
    Relief relief = newRelief(o.from);
    if (o.metresPerPixel > 0.0F && !(traced && input.passes.camera->orthographic()))
        set(relief, "--metres-a-pixel", "metres_a_pixel", o.metresPerPixel);
    if (!o.edges.empty())
        set(relief, "--edges", "edges", o.edges);
    if (!o.space.empty())
        set(relief, "--space", "space", o.space == "tangent" ? std::string("camera") : o.space);
    if (o.flipY && o.detail.empty())
        set(relief, "--flip-y", "flip_y", true);
    if (o.within > 0.0F)
        set(relief, "--within", "within", o.within);
    const bool perspective = (o.from == "depth" || o.from == "position") && input.passes.camera &&
                             !input.passes.camera->orthographic();
    if (!o.plane.empty())
        setPlane(relief, o.plane);
    else if (perspective)
        throw Error(ErrorCode::BadSetting, "the view is in perspective; set the base plane with "
                                           "--plane ground, --plane fit or --plane X,Y,Z,NX,NY,NZ");
    if (!o.detail.empty()) {
        if (!(o.wavelength > 0.0F))
            throw Error(ErrorCode::BadSetting, "--detail needs --wavelength, the length in metres "
                                               "where form and detail are joined");
        Step detail = newOperation(reliefCatalogue(), "from_normals", relief);
        detail.settings.set("file", FilePath{std::filesystem::absolute(o.detail)});
        detail.settings.set("wavelength", o.wavelength);
        detail.settings.set("flip_y", o.flipY);
        if (!o.space.empty())
            detail.settings.set("space", o.space == "tangent" ? std::string("camera") : o.space);
        relief.operations.push_back(std::move(detail));
    }
    for (const std::string& setting : o.settings)
        applyOperationSetting(reliefCatalogue(), relief, setting);
    if (!o.metres.empty())
        setMetres(relief, o.metres);
    return relief;
}

HeightField tileOf(const HeightField& field, const ReliefInput& input, int x, int y, int across,
                   int down) {
    const OperationType& crop = reliefCatalogue().operation("crop");
    const auto part = [](int i, int of) { return static_cast<float>(i) / static_cast<float>(of); };
    HeightField tile = crop.apply(field,
                                  settingsWith(crop, {{"left", part(x, across)},
                                                      {"right", part(x + 1, across)},
                                                      {"top", part(y, down)},
                                                      {"bottom", part(y + 1, down)}}),
                                  {input, 1, {}}, {});
    tile.range = writtenRange(field);  // tiles that meet have one range
    return tile;
}

/// "map.tif" of tile 2, 3 is "map_2_3.tif".
std::filesystem::path fileOfTile(const std::filesystem::path& path, int x, int y) {
    std::filesystem::path file = path;
    file.replace_filename(
        fmt::format("{}_{}_{}{}", path.stem().string(), x + 1, y + 1, path.extension().string()));
    return file;
}

void writeOne(const ReliefOptions& o, const std::filesystem::path& path, const HeightField& field,
              SampleType type, const std::string& source, const RunContext& run) {
    if (o.as == "height") {
        writeHeights(path, field, {type, o.dithered, source});
    } else if (o.as == "mesh") {
        const ReliefMesh mesh =
            reliefMesh(field, {!o.open, o.base, o.triangles, o.heightError}, run);
        if (!run.stopped())
            writeReliefMesh(path, mesh, "relief");
    } else {
        const DerivedMap& map = derivedMap(o.as);
        const Image made = map.make(field);
        writeMap(path, type == SampleType::Float ? made : map.encoded(made), type,
                 std::string(map.id), field);
    }
}

/// Across and down; 1 x 1 where none are asked for.
std::pair<int, int> tilesOf(const ReliefOptions& o) {
    return o.tiles.empty() ? std::pair(1, 1) : twoNumbers(o.tiles, 'x', "--tiles");
}

/// Everything that is written.
std::vector<std::filesystem::path> outputsOf(const ReliefOptions& o) {
    const auto [across, down] = tilesOf(o);
    if (across < 1 || down < 1 || static_cast<double>(across) * down > kMostTiles)
        throw Error(ErrorCode::BadSetting, fmt::format("--tiles {} can't be written; there may be "
                                                       "1 to {} tiles",
                                                       o.tiles, kMostTiles));
    std::vector<std::filesystem::path> outputs;
    for (int y = 0; y < down; ++y)
        for (int x = 0; x < across; ++x) {
            const std::filesystem::path file =
                o.tiles.empty() ? std::filesystem::path(o.out) : fileOfTile(o.out, x, y);
            for (std::filesystem::path& each :
                 o.as == "height" ? filesOfHeights(file) : std::vector{file})
                outputs.push_back(std::move(each));
        }
    return outputs;
}

int write(const ReliefOptions& o, const HeightField& field, const ReliefInput& input,
          SampleType type, const std::string& source, const RunContext& run) {
    if (o.tiles.empty()) {
        writeOne(o, o.out, field, type, source, run);
        return run.stopped() ? 0 : 1;
    }
    const auto [across, down] = tilesOf(o);
    if (across > field.width() || down > field.height())
        throw Error(ErrorCode::BadSetting, fmt::format("--tiles {} can't be cut from {} x {} cells",
                                                       o.tiles, field.width(), field.height()));
    int written = 0;
    for (int y = 0; y < down && !run.stopped(); ++y)
        for (int x = 0; x < across && !run.stopped(); ++x) {
            writeOne(o, fileOfTile(o.out, x, y), tileOf(field, input, x, y, across, down), type,
                     source, run);
            written += run.stopped() && o.as == "mesh" ? 0 : 1;
        }
    return written;
}

SampleType typeOf(const ReliefOptions& options) {
    const std::string ending = std::filesystem::path(options.out).extension().string();
    const bool exr = ending == ".exr" || ending == ".EXR";
    switch (options.bits) {
    case 0:
        return exr ? SampleType::Float : SampleType::Short;
    case 8:
        return SampleType::Byte;
    case 16:
        return SampleType::Short;
    default:
        return SampleType::Float;
    }
}

void print(const ReliefOptions& options, const HeightField& field, const HeightReport& report,
           const CommandContext& context) {
    if (options.json) {
        const auto vector = [](const V3f& v) { return Json{v.x, v.y, v.z}; };
        printJson(context, {{"size", {field.width(), field.height()}},
                            {"metres_a_pixel", field.metresPerPixel},
                            {"range", {jsonNumber(report.range[0]), jsonNumber(report.range[1])}},
                            {"step", report.step},
                            {"clipped", report.clipped},
                            {"holes", report.holes},
                            {"black_to_white", report.blackToWhite()},
                            {"grey_of_zero", report.greyOfZero()},
                            {"level", field.level},
                            {"plane",
                             {{"origin", vector(field.plane.origin)},
                              {"right", vector(field.plane.right)},
                              {"up", vector(field.plane.up)},
                              {"normal", vector(field.plane.normal)}}},
                            {"notes", report.notes},
                            {"warnings", report.warnings}});
        return;
    }
    const auto length = [](float metres) { return lengthText(static_cast<double>(metres)); };
    fmt::print(context.out, "{} x {}, {} a pixel\n", field.width(), field.height(),
               length(field.metresPerPixel));
    fmt::print(context.out, "range: {} to {} above {}\n", length(report.range[0]),
               length(report.range[1]), field.level);
    if (report.step > 0.0F)
        fmt::print(context.out, "step: {}\n", length(report.step));
    fmt::print(context.out, "from black to white: {:.6g} m, grey of height 0: {:.4f}\n",
               report.blackToWhite(), report.greyOfZero());
    fmt::print(context.out, "clipped: {:.2f} %, holes: {:.2f} %\n", 100.0 * report.clipped,
               100.0 * report.holes);
    for (const std::string& note : report.notes)
        fmt::print(context.err, "note: {}\n", note);
    for (const std::string& warning : report.warnings)
        fmt::print(context.err, "warning: {}\n", warning);
}

void relief(const ReliefOptions& options, const CommandContext& context) {
    (void)reliefSource(options.from);
    if (options.as != "height" && options.as != "mesh")
        (void)derivedMap(options.as);
    std::vector<std::filesystem::path> files(options.source.begin(), options.source.end());
    std::vector<std::filesystem::path> inputs = files;
    if (!options.detail.empty())
        inputs.emplace_back(options.detail);
    const std::vector<std::filesystem::path> outputs = outputsOf(options);
    const bool traced = isSceneFile(options.source.front());
    if (traced)
        inputs = filesOfScene(options.source.front(), outputs);
    requireNoInput(outputs, inputs);
    for (const std::filesystem::path& output : outputs)
        requireWritable(output);
    const RunContext run{.stop = context.stop, .progress = {}};
    Readings readings;
    if (!traced && !options.reads.empty())  // what they settle, as two known distances do
        (void)readPassesAs(files, readings, options.reads);
    ReliefInput input = traced ? tracedInput(options, run) : readReliefInput(files, readings);
    if (run.stopped())
        return;
    for (const std::string& warning : input.passes.warnings)
        fmt::print(context.err, "warning: {}\n", warning);
    const Relief relief = reliefOf(options, input, traced);
    requireNoInput(outputs, filesOf(relief));
    const std::string source = fmt::format("{} of {}", options.from, input.source);
    ReliefEvaluator evaluator(reliefCatalogue(), stepCatalogue());
    evaluator.setInput(std::move(input));
    const HeightField field = evaluator.evaluate(relief, 1, {}, run);
    if (context.stop.stop_requested())
        return;
    const SampleType type = typeOf(options);
    context.written += write(options, field, evaluator.input(), type, source, run);
    print(options, field, reportOf(field, type), context);
}

}  // namespace

void addReliefCommand(CLI::App& app, Command& chosen) {
    const auto o = std::make_shared<ReliefOptions>();
    CLI::App* command = app.add_subcommand("relief", "Make a height map, in metres");
    command
        ->add_option("SOURCE", o->source,
                     "Pass files of one frame, a picture, or a scene with --view")
        ->required();
    command->add_option("--from", o->from, "depth, position, normal or grey")->required();
    command->add_option("-o,--out", o->out, "The file to write: .exr, .tif or .png")->required();
    command->add_option("--view", o->view, "The view of a scene; the first one if left out");
    command->add_option("--size", o->size, "Size of the map traced from a scene, WxH pixels");
    command->add_option(
        "--metres", o->metres,
        "A,B: the heights of black and white; the range to write, for all but grey");
    command->add_option("--metres-a-pixel", o->metresPerPixel, "The size of a cell, m")
        ->check(CLI::PositiveNumber);
    command->add_option("--edges", o->edges, "For normals: free or periodic edges")
        ->check(CLI::IsMember({"free", "periodic"}));
    command->add_option("--space", o->space, "For normals: camera, tangent or world axes")
        ->check(CLI::IsMember({"camera", "tangent", "world"}));
    command->add_flag("--flip-y", o->flipY, "For normals: +y points down the picture");
    command->add_option(
        "--plane", o->plane,
        "The plane that a view in perspective is laid onto: ground, fit or X,Y,Z,NX,NY,NZ");
    command
        ->add_option("--within", o->within,
                     "Leave out what is farther from the camera than this, m")
        ->check(CLI::PositiveNumber);
    command->add_option("--detail", o->detail, "A picture of normals to take fine detail from");
    command->add_option("--wavelength", o->wavelength, "Forms shorter than this count as detail, m")
        ->check(CLI::PositiveNumber);
    command->add_option("--set", o->settings, "An operation's setting: operation.setting=value")
        ->allow_extra_args(true);
    command->add_option("--bits", o->bits, "8, 16 or 32 (float); the format's default if left out")
        ->check(CLI::IsMember({8, 16, 32}));
    command->add_option("--as", o->as,
                        "height, mesh (.glb, .ply, .obj, .stl), normal, normal_down, slope, "
                        "curvature, occlusion, shade or contours");
    command->add_flag("--open", o->open, "Write a mesh without walls and floor");
    command
        ->add_option("--base", o->base,
                     "How far the floor of a closed mesh lies below its lowest point, m")
        ->check(CLI::NonNegativeNumber);
    command->add_option("--triangles", o->triangles, "The most triangles a mesh may have");
    command
        ->add_option("--height-error", o->heightError, "How far a mesh may deviate from the map, m")
        ->check(CLI::NonNegativeNumber);
    command->add_option("--tiles", o->tiles, "Cut the map into AxB files named name_1_1 and so on");
    command->add_flag("--dither", o->dithered, "Hide the steps of few bits in fine noise");
    addReadOption(*command, o->reads);
    command->add_flag("--json", o->json, "Print one JSON document");
    command->callback(
        [&chosen, o] { chosen = [o](const CommandContext& context) { relief(*o, context); }; });
}

}  // namespace noctis
