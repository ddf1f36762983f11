#include "core/project/project_file.h"

#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/passes/interpretation_text.h"
#include "core/recipe/recipe_json.h"
#include "core/settings/value_type.h"

#include <array>
#include <set>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

const std::set<std::string>& knownFields() {
    static const std::set<std::string> fields{"format",
                                              "version",
                                              "scene",
                                              "pass_files",
                                              "view",
                                              "views",
                                              "frame",
                                              "passes",
                                              "readings",
                                              "recipe",
                                              "display",
                                              "ramp",
                                              "pins",
                                              "crop",
                                              "frame_ranges",
                                              "assumed_yfov_radians",
                                              "moved",
                                              "lens",
                                              "frames_per_second",
                                              "view_pass_files"};
    return fields;
}

// In the order of LensReading::By.
constexpr std::array<const char*, 3> kLensBy{"focal_length", "angle_across", "angle_up"};

LensReading::By lensByNamed(const std::string& name) {
    for (std::size_t i = 0; i < kLensBy.size(); ++i)
        if (kLensBy[i] == name)
            return static_cast<LensReading::By>(i);
    throw Error(ErrorCode::BadSetting, fmt::format("has a lens told by {}, which can't be", name));
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

View viewFromJson(const Json& json) {
    View view;
    view.name = json.at("name").get<std::string>();
    const auto numbers = json.at("camera_to_world").get<std::array<float, 16>>();
    for (int i = 0; i < 16; ++i)
        view.camera.cameraToWorld[i / 4][i % 4] = numbers[static_cast<std::size_t>(i)];
    view.camera.yfovRadians = json.value("yfov_radians", view.camera.yfovRadians);
    view.camera.orthographicHeight = json.value("orthographic_height", 0.0F);
    view.camera.nearDistance = json.value("near", view.camera.nearDistance);
    view.camera.farDistance = json.value("far", view.camera.farDistance);
    return view;
}

Json toJson(const PassRequest& request) {
    return {{"pass", request.name()}, {"settings", settingsToJson(request.settings)}};
}

PassRequest passFromJson(const Json& json) {
    const auto id = json.at("pass").get<std::string>();
    const auto known = passNamed(id);
    if (!known)
        throw Error(ErrorCode::UnknownName, fmt::format("there is no pass {}", id));
    PassRequest request = passRequest(known->kind, known->subject);
    if (json.contains("settings"))
        request.settings = settingsFromJson(passParameters(known->kind), json.at("settings"));
    return request;
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

Interpretation readingFromJson(const std::string& pass, const Json& json) {
    const auto reading = interpretationFromText(json.dump());
    if (!reading)
        throw Error(ErrorCode::BadFile,
                    fmt::format("has a reading of {} that can't be used", pass));
    return *reading;
}

void fill(Project& project, const Json& json, const fs::path& folder, const Catalogue& catalogue) {
    if (json.contains("scene"))
        project.scene = absoluteFrom(json["scene"].get<std::string>(), folder);
    for (const Json& file : json.value("pass_files", Json::array()))
        project.passFiles.push_back(absoluteFrom(file.get<std::string>(), folder));
    const Json viewFiles = json.value("view_pass_files", Json::object());
    for (const auto& [view, files] : viewFiles.items())
        for (const Json& file : files)
            project.viewFiles[view].push_back(absoluteFrom(file.get<std::string>(), folder));
    if (json.contains("view"))
        project.view = viewFromJson(json["view"]);
    for (const Json& view : json.value("views", Json::array()))
        project.views.push_back(viewFromJson(view));
    const Json frame = json.value("frame", Json::object());
    project.width = frame.value("width", project.width);
    project.height = frame.value("height", project.height);
    project.aspectLocked = frame.value("aspect_locked", true);
    if (project.width < 1 || project.height < 1 || project.width > kMaximumSide ||
        project.height > kMaximumSide)
        throw Error(ErrorCode::BadSetting, fmt::format("a frame of {} x {} pixels can't be used",
                                                       project.width, project.height));
    const Json lens = json.value("lens", Json::object());
    project.lens.sensorMillimetres = lens.value("sensor_mm", project.lens.sensorMillimetres);
    if (!(project.lens.sensorMillimetres >= kLeastSensor &&
          project.lens.sensorMillimetres <= kLargestSensor))
        throw Error(ErrorCode::BadSetting, "has a sensor width that can't be");
    project.lens.by = lensByNamed(lens.value("by", std::string(kLensBy[0])));
    if (json.contains("passes"))
        for (const Json& pass : json["passes"])
            project.passes.push_back(passFromJson(pass));
    else
        project.passes = usualPasses();
    const Json ramp = json.value("ramp", Json::object());
    project.ramp = {ramp.value("near", 0.0F), ramp.value("far", 0.0F)};
    project.crop = json.value("crop", project.crop);
    const Json ranges = json.value("frame_ranges", Json::object());
    for (const auto& [view, range] : ranges.items()) {
        const auto ends = range.get<std::array<int, 2>>();
        project.frameRanges[view] = {ends[0], ends[1]};
    }
    project.framesPerSecond = json.value("frames_per_second", project.framesPerSecond);
    if (!(project.framesPerSecond >= kSlowest && project.framesPerSecond <= kFastest))
        throw Error(ErrorCode::BadSetting, "has frames a second that can't be");
    for (const Json& pin : json.value("pins", Json::array())) {
        const auto at = pin.at("position").get<std::array<float, 3>>();
        project.pins.push_back({pin.at("name").get<std::string>(), V3f(at[0], at[1], at[2])});
    }
    const Json moved = json.value("moved", Json::object());
    project.moved.lights = placesFromJson(moved.value("lights", Json::object()));
    project.moved.suns = placesFromJson(moved.value("suns", Json::object()));
    project.moved.locators = placesFromJson(moved.value("locators", Json::object()));
    const Json readings = json.value("readings", Json::object());
    for (const auto& [name, reading] : readings.items())
        project.readings.passes[name] = readingFromJson(name, reading);
    project.readings.yfovRadians = json.value("assumed_yfov_radians", kAssumedYfovRadians);
    if (!(project.readings.yfovRadians > 0.0F && project.readings.yfovRadians < 3.14F))
        throw Error(ErrorCode::BadSetting, "has an angle of view that can't be");
    if (json.contains("recipe"))
        project.recipe = recipeFromJson(json["recipe"], catalogue, folder);
    const Json display = json.value("display", Json::object());
    project.exposure = display.value("exposure", 0.0F);
    project.viewTransform = viewTransformNamed(display.value("view", std::string("film")));
    Json unknown = Json::object();
    for (const auto& [key, value] : json.items())
        if (!knownFields().contains(key))
            unknown[key] = value;
    if (!unknown.empty())
        project.unknown = std::make_shared<const std::string>(unknown.dump());
}

}  // namespace

std::string projectToText(const Project& project, const fs::path& folder,
                          const Catalogue& catalogue) {
    Json json = project.unknown ? Json::parse(*project.unknown) : Json::object();
    json["format"] = "noctis-project";
    json["version"] = kProjectVersion;
    if (!project.scene.empty())
        json["scene"] = relativeTo(project.scene, folder);
    json["pass_files"] = Json::array();
    for (const fs::path& file : project.passFiles)
        json["pass_files"].push_back(relativeTo(file, folder));
    json["view_pass_files"] = Json::object();
    for (const auto& [view, files] : project.viewFiles)
        for (const fs::path& file : files)
            json["view_pass_files"][view].push_back(relativeTo(file, folder));
    if (project.view)
        json["view"] = toJson(*project.view);
    json["views"] = Json::array();
    for (const View& view : project.views)
        json["views"].push_back(toJson(view));
    json["frame"] = {{"width", project.width},
                     {"height", project.height},
                     {"aspect_locked", project.aspectLocked}};
    json["lens"] = {{"sensor_mm", project.lens.sensorMillimetres},
                    {"by", kLensBy[static_cast<std::size_t>(project.lens.by)]}};
    json["passes"] = Json::array();
    for (const PassRequest& pass : project.passes)
        json["passes"].push_back(toJson(pass));
    json["ramp"] = {{"near", project.ramp.nearest}, {"far", project.ramp.farthest}};
    json["crop"] = project.crop;
    json["frame_ranges"] = Json::object();
    for (const auto& [view, range] : project.frameRanges)
        json["frame_ranges"][view] = {range.first, range.last};
    json["frames_per_second"] = project.framesPerSecond;
    json["pins"] = Json::array();
    for (const Pin& pin : project.pins)
        json["pins"].push_back(
            {{"name", pin.name}, {"position", {pin.position.x, pin.position.y, pin.position.z}}});
    json["moved"] = {{"lights", toJson(project.moved.lights)},
                     {"suns", toJson(project.moved.suns)},
                     {"locators", toJson(project.moved.locators)}};
    json["readings"] = Json::object();
    for (const auto& [name, reading] : project.readings.passes)
        json["readings"][name] = Json::parse(textFromInterpretation(reading));
    json["assumed_yfov_radians"] = project.readings.yfovRadians;
    json["recipe"] = recipeToJson(project.recipe, catalogue, folder);
    json["display"] = {{"exposure", project.exposure},
                       {"view", viewTransformId(project.viewTransform)}};
    return json.dump(2) + "\n";
}

Project projectFromText(const std::string& text, const fs::path& folder,
                        const Catalogue& catalogue) {
    const Json json = parseJson(text);
    if (!json.is_object() || json.value("format", Json()) != "noctis-project")
        throw Error(ErrorCode::BadFile, "is no Noctis project: its format is not noctis-project");
    if (json.value("version", Json(1)).is_number() &&
        json.value("version", Json(1)).get<double>() > kProjectVersion)
        throw Error(ErrorCode::NewerVersion, "was written by a newer Noctis; open it there");
    Project project;
    try {
        fill(project, json, folder, catalogue);
    } catch (const Json::exception& error) {
        throw Error(ErrorCode::BadFile,
                    fmt::format("has a field of a wrong type ({})", error.what()));
    }
    return project;
}

void saveProject(const Project& project, const fs::path& path, const Catalogue& catalogue) {
    const fs::path absolute = fs::absolute(path);
    writeTextFile(absolute, projectToText(project, absolute.parent_path(), catalogue));
}

Project openProject(const fs::path& path, const Catalogue& catalogue) {
    const fs::path absolute = fs::absolute(path);
    const std::string text = readTextFile(absolute);
    try {
        return projectFromText(text, absolute.parent_path(), catalogue);
    } catch (const Error& error) {
        throw Error(error.code(), fmt::format("{}: {}", path.string(), error.what()));
    }
}

fs::path autosavePath(const fs::path& projectPath, const fs::path& folderForUnsaved) {
    if (projectPath.empty())
        return folderForUnsaved / "unsaved.noctis-autosave";
    return projectPath.parent_path() / ("." + projectPath.filename().string() + "-autosave");
}

}  // namespace noctis
