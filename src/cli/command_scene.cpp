#include "cli/commands.h"
#include "core/scene/import.h"
#include "core/settings/counted.h"

#include <memory>

#include <fmt/format.h>

namespace noctis {

namespace {

using Json = nlohmann::json;

Json vectorJson(const V3f& v) { return {jsonNumber(v.x), jsonNumber(v.y), jsonNumber(v.z)}; }

std::string_view lightKindName(LightKind kind) {
    switch (kind) {
    case LightKind::Sun:
        return "sun";
    case LightKind::Spot:
        return "spot";
    case LightKind::Point:
        break;
    }
    return "point";
}

Json sceneJson(const Scene& scene) {
    const Box3f bounds = boundsOf(scene);
    Json json{{"triangles", triangleCount(scene)}, {"objects", scene.objects}};
    json["materials"] = Json::array();
    for (const Material& material : scene.materials)
        json["materials"].push_back(material.name);
    json["bounds"] = {{"min", vectorJson(bounds.min)}, {"max", vectorJson(bounds.max)}};
    json["views"] = Json::array();
    for (const View& view : scene.views)
        json["views"].push_back({{"name", view.name},
                                 {"yfov_degrees", view.camera.yfovRadians * 180.0F / 3.14159265F},
                                 {"orthographic", view.camera.orthographic()},
                                 {"orthographic_height", view.camera.orthographicHeight},
                                 {"position", vectorJson(view.camera.position())}});
    json["lights"] = Json::array();
    for (const Light& light : scene.lights)
        json["lights"].push_back({{"name", light.name},
                                  {"kind", lightKindName(light.kind)},
                                  {"position", vectorJson(light.position)},
                                  {"direction", vectorJson(light.direction)},
                                  {"power", Json{light.power.r, light.power.g, light.power.b}}});
    for (const Instance& instance : scene.instances) {
        const Mesh& mesh = scene.meshes[static_cast<std::size_t>(instance.mesh)];
        const Material& material = scene.materials[static_cast<std::size_t>(mesh.material)];
        if (material.emits())
            json["lights"].push_back(
                {{"name", scene.objects[static_cast<std::size_t>(instance.object)]},
                 {"kind", "surface"},
                 {"emission",
                  Json{material.emission.r, material.emission.g, material.emission.b}}});
    }
    json["locators"] = Json::array();
    for (const Locator& locator : scene.locators)
        json["locators"].push_back(
            {{"name", locator.name}, {"position", vectorJson(locator.toWorld.translation())}});
    json["warnings"] = scene.warnings;
    json["notes"] = scene.notes;
    return json;
}

void printScene(const CommandContext& context, const Scene& scene) {
    const Box3f bounds = boundsOf(scene);
    fmt::print(context.out, "{}, {}, {}\n", counted(triangleCount(scene), "triangle"),
               counted(scene.objects.size(), "object"),
               counted(scene.materials.size(), "material"));
    fmt::print(context.out, "bounds: {:.3f} {:.3f} {:.3f} to {:.3f} {:.3f} {:.3f} m\n",
               bounds.min.x, bounds.min.y, bounds.min.z, bounds.max.x, bounds.max.y, bounds.max.z);
    for (const View& view : scene.views)
        fmt::print(context.out, "view: {}\n", view.name);
    for (const Light& light : scene.lights)
        fmt::print(context.out, "light: {} ({})\n", light.name, lightKindName(light.kind));
    for (const Locator& locator : scene.locators)
        fmt::print(context.out, "locator: {}\n", locator.name);
    for (const std::string& note : scene.notes)
        fmt::print(context.out, "note: {}\n", note);
    for (const std::string& warning : scene.warnings)
        fmt::print(context.err, "warning: {}\n", warning);
}

}  // namespace

void addSceneCommand(CLI::App& app, Command& chosen) {
    struct Options {
        std::string scene;
        bool json = false;
    };
    const auto options = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("scene", "Print what is in a scene");
    command->add_option("SCENE", options->scene, "The scene file")->required();
    command->add_flag("--json", options->json, "Print one JSON document");
    command->callback([&chosen, options] {
        chosen = [options](const CommandContext& context) {
            const Scene scene = importScene(options->scene, context.stop);
            if (context.stop.stop_requested())
                return;
            if (options->json)
                printJson(context, sceneJson(scene));
            else
                printScene(context, scene);
        };
    });
}

}  // namespace noctis
