#include "core/project/project_fields.h"

#include "core/image/error.h"
#include "core/operations/registry.h"
#include "core/passes/frame_name.h"
#include "core/recipe/file_settings.h"
#include "core/recipe/recipe_json.h"
#include "core/scene/traceable.h"
#include "core/settings/value_type.h"

#include <array>
#include <cstdint>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

// In the order of LensReading::By.
constexpr std::array<const char*, 3> kLensBy{"focal_length", "angle_across", "angle_up"};

LensReading::By lensByNamed(const std::string& name) {
    for (std::size_t i = 0; i < kLensBy.size(); ++i)
        if (kLensBy[i] == name)
            return static_cast<LensReading::By>(i);
    throw Error(ErrorCode::BadSetting,
                fmt::format("has a lens set by {}, which this version doesn't know", name));
}

Json toJson(const View& view) {
    const Camera& c = view.camera;
    Json matrix = Json::array();
    for (int i = 0; i < 4; ++i)
        for (int j = 0; j < 4; ++j)
            matrix.push_back(c.cameraToWorld[i][j]);
    return {{"name", view.name},
            {"camera_to_world", matrix},
            {"yfov_radians", c.yfovRadians},
            {"orthographic_height", c.orthographicHeight},
            {"near", c.nearDistance},
            {"far", c.farDistance}};
}

View viewFromJson(const Json& json, Project& project) {
    View view;
    view.name = json.at("name").get<std::string>();
    const auto numbers = json.at("camera_to_world").get<std::array<float, 16>>();
    for (int i = 0; i < 16; ++i)
        view.camera.cameraToWorld[i / 4][i % 4] = numbers[static_cast<std::size_t>(i)];
    view.camera.yfovRadians = json.value("yfov_radians", view.camera.yfovRadians);
    view.camera.orthographicHeight = json.value("orthographic_height", 0.0F);
    view.camera.nearDistance = json.value("near", view.camera.nearDistance);
    view.camera.farDistance = json.value("far", view.camera.farDistance);
    if (makeTraceable(view.camera))
        project.warnings.push_back(fmt::format("View {} has a place or an angle that can't be "
                                               "traced, and was brought to one that can.",
                                               view.name));
    return view;
}

Json toJson(const std::map<std::string, V3f>& places) {
    Json json = Json::object();
    for (const auto& [name, at] : places)
        json[name] = {at.x, at.y, at.z};
    return json;
}

std::map<std::string, V3f> placesFromJson(const Json& json) {
    std::map<std::string, V3f> places;
    for (const auto& [name, place] : json.items()) {
        const auto at = place.get<std::array<float, 3>>();
        places[name] = V3f(at[0], at[1], at[2]);
    }
    return places;
}

PassReading readingFromJson(const std::string& pass, const Json& json) {
    const auto reading = readingFromText(json.dump());
    if (!reading)
        throw Error(ErrorCode::BadFile,
                    fmt::format("has a reading of {} that can't be used", pass));
    return *reading;
}

// --- passes to render ----------------------------------------------------------------------------

Json keptBeside(const std::shared_ptr<const std::string>& kept, Json empty) {
    return kept ? Json::parse(*kept) : std::move(empty);
}

/// Settings that can't be used are kept as they are, and the pass has their defaults.
PassRequest passFromJson(const Json& json, const PassName& pass, Project& project) {
    PassRequest request = passRequest(pass.kind, pass.subject);
    const Json settings = json.value("settings", Json::object());
    Json unknown = Json::object();
    for (const auto& [id, value] : settings.items()) {
        try {
            const Parameter& parameter = parameterNamed(passParameters(pass.kind), id);
            request.settings.set(parameter.id, valueFromJson(parameter, value));
        } catch (const Error& error) {
            unknown[id] = value;
            project.warnings.push_back(fmt::format("{}: {}; the default is used, and the setting "
                                                   "is kept in the project",
                                                   request.name(), error.what()));
        }
    }
    if (!unknown.empty())
        request.unknown = std::make_shared<const std::string>(unknown.dump());
    return request;
}

void readPasses(Project& project, const Json& passes, const fs::path& folder) {
    Json unknown = Json::array();
    for (const Json& pass : passes) {
        const auto id = pass.at("pass").get<std::string>();
        if (const auto known = passNamed(id); known && canRender(known->kind)) {
            project.passes.push_back(passFromJson(pass, *known, project));
            Settings& settings = project.passes.back().settings;
            settings = withFiles(settings, [&](const fs::path& file) {
                return absoluteFrom(file.string(), folder);
            });
            continue;
        }
        unknown.push_back(pass);
        project.warnings.push_back(fmt::format(
            "{}: this version can't render such a pass; it is kept in the project", id));
    }
    if (!unknown.empty())
        project.unknownPasses = std::make_shared<const std::string>(unknown.dump());
}

Json writtenPasses(const Project& project, const fs::path& folder) {
    Json passes = Json::array();
    for (const PassRequest& pass : project.passes) {
        Json settings = settingsToJson(withFiles(pass.settings, [&](const fs::path& file) {
            return fs::path(relativeTo(file, folder));
        }));
        settings.update(keptBeside(pass.unknown, Json::object()));
        passes.push_back({{"pass", pass.name()}, {"settings", std::move(settings)}});
    }
    for (const Json& pass : keptBeside(project.unknownPasses, Json::array()))
        passes.push_back(pass);
    return passes;
}

// --- reliefs -------------------------------------------------------------------------------------

void readReliefs(Project& project, const Json& reliefs, const FieldContext& context) {
    Json unknown = Json::array();
    for (const Json& json : reliefs) {
        try {
            Relief relief = reliefFromJson(
                json, operationTypes(reliefCatalogue(), context.catalogue), context.folder);
            if (relief.id.empty() || reliefOf(project, relief.id) != nullptr)
                relief.id = fmt::format("relief_{}", project.reliefs.size() + 1);
            project.reliefs.push_back(std::move(relief));
        } catch (const std::exception& error) {
            unknown.push_back(json);
            project.warnings.push_back(fmt::format(
                "A height map can't be used and is kept in the project: {}", error.what()));
        }
    }
    if (!unknown.empty())
        project.unknownReliefs = std::make_shared<const std::string>(unknown.dump());
}

Json writtenReliefs(const Project& project, const FieldContext& context) {
    Json reliefs = Json::array();
    for (const Relief& relief : project.reliefs)
        reliefs.push_back(reliefToJson(relief, operationTypes(reliefCatalogue(), context.catalogue),
                                       context.folder));
    for (const Json& json : keptBeside(project.unknownReliefs, Json::array()))
        reliefs.push_back(json);
    return reliefs;
}

// --- the rest ------------------------------------------------------------------------------------

Json filesToJson(const std::vector<fs::path>& files, const fs::path& folder) {
    Json json = Json::array();
    for (const fs::path& file : files)
        json.push_back(relativeTo(file, folder));
    return json;
}

std::vector<fs::path> filesFromJson(const Json& json, const fs::path& folder) {
    std::vector<fs::path> files;
    for (const Json& file : json)
        files.push_back(absoluteFrom(file.get<std::string>(), folder));
    return files;
}

void readFrame(Project& project, const Json& frame) {
    project.width = frame.value("width", project.width);
    project.height = frame.value("height", project.height);
    project.aspectLocked = frame.value("aspect_locked", true);
    if (project.width < 1 || project.height < 1 || project.width > kMaximumSide ||
        project.height > kMaximumSide)
        throw Error(ErrorCode::BadSetting, fmt::format("a frame of {} x {} pixels can't be used",
                                                       project.width, project.height));
}

void readLens(Project& project, const Json& lens) {
    project.lens.sensorMillimetres = lens.value("sensor_mm", project.lens.sensorMillimetres);
    if (!(project.lens.sensorMillimetres >= kLeastSensor &&
          project.lens.sensorMillimetres <= kLargestSensor))
        throw Error(ErrorCode::BadSetting, fmt::format("the sensor must be {:g} to {:g} mm wide",
                                                       kLeastSensor, kLargestSensor));
    project.lens.by = lensByNamed(lens.value("by", std::string(kLensBy[0])));
}

void readFramesPerSecond(Project& project, const Json& json) {
    project.framesPerSecond = json.get<double>();
    if (!(project.framesPerSecond >= kSlowest && project.framesPerSecond <= kFastest))
        throw Error(ErrorCode::BadSetting,
                    fmt::format("frames_per_second must be {:g} to {:g}", kSlowest, kFastest));
}

void readSequence(Project& project, const Json& json, const fs::path& folder) {
    if (json.is_null())
        return;
    Sequence sequence;
    const auto pattern = json.value("pattern", std::string());
    if (!pattern.empty())
        sequence.pattern = absoluteFrom(pattern, folder);
    sequence.first = json.value("first", sequence.first);
    sequence.last = json.value("last", sequence.first);
    sequence.step = json.value("step", sequence.step);
    sequence.rate = json.value("rate", sequence.rate);
    if (sequence.step < 1 || sequence.last < sequence.first ||
        std::int64_t{sequence.last} - sequence.first >= kMostFrames)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("sequence must go from first to a later last, by steps of 1 or "
                                "more, and have at most {} frames",
                                kMostFrames));
    if (!(sequence.rate >= kSlowest && sequence.rate <= kFastest))
        throw Error(ErrorCode::BadSetting,
                    fmt::format("the sequence's rate must be {:g} to {:g}", kSlowest, kFastest));
    project.sequence = sequence;
}

void readAngle(Project& project, const Json& json) {
    project.readings.yfovRadians = json.get<float>();
    if (!(project.readings.yfovRadians > 0.0F && project.readings.yfovRadians < 3.14F))
        throw Error(ErrorCode::BadSetting, "assumed_yfov_radians must lie between 0 and 3.14");
}

Json writtenPins(const Project& project) {
    Json pins = Json::array();
    for (const Pin& pin : project.pins)
        pins.push_back(
            {{"name", pin.name}, {"position", {pin.position.x, pin.position.y, pin.position.z}}});
    return pins;
}

Json writtenRanges(const Project& project) {
    Json ranges = Json::object();
    for (const auto& [view, range] : project.frameRanges)
        ranges[view] = {range.first, range.last};
    return ranges;
}

void readRanges(Project& project, const Json& ranges) {
    for (const auto& [view, range] : ranges.items()) {
        const auto ends = range.get<std::array<int, 2>>();
        project.frameRanges[view] = {ends[0], ends[1]};
    }
}

}  // namespace

// A null is not written, and an absent field is not read.
const std::vector<ProjectField>& projectFields() {
    using C = const FieldContext&;
    static const std::vector<ProjectField> fields{
        {"scene",
         [](const Project& p, C c) {
             return p.scene.empty() ? Json() : Json(relativeTo(p.scene, c.folder));
         },
         [](Project& p, const Json& j, C c) {
             p.scene = absoluteFrom(j.get<std::string>(), c.folder);
         }},
        {"pass_files", [](const Project& p, C c) { return filesToJson(p.passFiles, c.folder); },
         [](Project& p, const Json& j, C c) { p.passFiles = filesFromJson(j, c.folder); }},
        {"view_pass_files",
         [](const Project& p, C c) {
             Json json = Json::object();
             for (const auto& [view, files] : p.viewFiles)
                 json[view] = filesToJson(files, c.folder);
             return json;
         },
         [](Project& p, const Json& j, C c) {
             for (const auto& [view, files] : j.items())
                 p.viewFiles[view] = filesFromJson(files, c.folder);
         }},
        {"view", [](const Project& p, C) { return p.view ? toJson(*p.view) : Json(); },
         [](Project& p, const Json& j, C) { p.view = viewFromJson(j, p); }},
        {"views",
         [](const Project& p, C) {
             Json json = Json::array();
             for (const View& view : p.views)
                 json.push_back(toJson(view));
             return json;
         },
         [](Project& p, const Json& j, C) {
             for (const Json& view : j)
                 p.views.push_back(viewFromJson(view, p));
         }},
        {"frame",
         [](const Project& p, C) {
             return Json{
                 {"width", p.width}, {"height", p.height}, {"aspect_locked", p.aspectLocked}};
         },
         [](Project& p, const Json& j, C) { readFrame(p, j); }},
        {"lens",
         [](const Project& p, C) {
             return Json{{"sensor_mm", p.lens.sensorMillimetres},
                         {"by", kLensBy[static_cast<std::size_t>(p.lens.by)]}};
         },
         [](Project& p, const Json& j, C) { readLens(p, j); }},
        {"passes", [](const Project& p, C c) { return writtenPasses(p, c.folder); },
         [](Project& p, const Json& j, C c) { readPasses(p, j, c.folder); }},
        {"ramp",
         [](const Project& p, C) {
             return Json{{"near", p.ramp.nearest}, {"far", p.ramp.farthest}};
         },
         [](Project& p, const Json& j, C) {
             p.ramp = {j.value("near", 0.0F), j.value("far", 0.0F)};
         }},
        {"crop", [](const Project& p, C) { return Json(p.crop); },
         [](Project& p, const Json& j, C) { p.crop = j.get<std::array<float, 4>>(); }},
        {"frame_ranges", [](const Project& p, C) { return writtenRanges(p); },
         [](Project& p, const Json& j, C) { readRanges(p, j); }},
        {"frames_per_second", [](const Project& p, C) { return Json(p.framesPerSecond); },
         [](Project& p, const Json& j, C) { readFramesPerSecond(p, j); }},
        {"sequence",
         [](const Project& p, C c) {
             if (!p.sequence)
                 return Json();
             return Json{{"pattern", relativeTo(p.sequence->pattern, c.folder)},
                         {"first", p.sequence->first},
                         {"last", p.sequence->last},
                         {"step", p.sequence->step},
                         {"rate", p.sequence->rate}};
         },
         [](Project& p, const Json& j, C c) { readSequence(p, j, c.folder); }},
        {"pins", [](const Project& p, C) { return writtenPins(p); },
         [](Project& p, const Json& j, C) {
             for (const Json& pin : j) {
                 const auto at = pin.at("position").get<std::array<float, 3>>();
                 p.pins.push_back({pin.at("name").get<std::string>(), V3f(at[0], at[1], at[2])});
             }
         }},
        {"moved",
         [](const Project& p, C) {
             return Json{{"lights", toJson(p.moved.lights)},
                         {"suns", toJson(p.moved.suns)},
                         {"locators", toJson(p.moved.locators)}};
         },
         [](Project& p, const Json& j, C) {
             p.moved.lights = placesFromJson(j.value("lights", Json::object()));
             p.moved.suns = placesFromJson(j.value("suns", Json::object()));
             p.moved.locators = placesFromJson(j.value("locators", Json::object()));
         }},
        {"readings",
         [](const Project& p, C) {
             Json json = Json::object();
             for (const auto& [name, reading] : p.readings.passes)
                 json[name] = Json::parse(textFromReading(reading));
             return json;
         },
         [](Project& p, const Json& j, C) {
             for (const auto& [name, reading] : j.items())
                 p.readings.passes[name] = readingFromJson(name, reading);
         }},
        {"assumed_yfov_radians", [](const Project& p, C) { return Json(p.readings.yfovRadians); },
         [](Project& p, const Json& j, C) { readAngle(p, j); }},
        {"recipe",
         [](const Project& p, C c) { return recipeToJson(p.recipe, c.catalogue, c.folder); },
         [](Project& p, const Json& j, C c) {
             p.recipe = recipeFromJson(j, c.catalogue, c.folder);
         }},
        {"reliefs", [](const Project& p, C c) { return writtenReliefs(p, c); },
         [](Project& p, const Json& j, C c) { readReliefs(p, j, c); }},
        {"display",
         [](const Project& p, C) {
             return Json{{"exposure", p.exposure}, {"view", viewTransformId(p.viewTransform)}};
         },
         [](Project& p, const Json& j, C) {
             p.exposure = j.value("exposure", 0.0F);
             p.viewTransform = viewTransformNamed(j.value("view", std::string("soft_shoulder")));
         }},
    };
    return fields;
}

}  // namespace noctis
