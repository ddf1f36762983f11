// Every setting that names a file says so by its type, wherever settings live, so that nothing replaces it.
#include "core/operations/registry.h"
#include "core/project/project.h"
#include "core/relief/sources.h"
#include "core/settings/value_type.h"
#include "core/steps/registry.h"
#include "support/files.h"

#include <algorithm>
#include <set>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

/// Calls visit with each parameter, those of records too.
template <typename Visit>
void forEachParameter(const std::vector<Parameter>& parameters, const Visit& visit) {
    for (const Parameter& parameter : parameters) {
        visit(parameter);
        forEachParameter(parameter.fields, visit);
    }
}

template <typename Visit> void forEachRegistry(const Visit& visit) {
    for (const StepType& type : stepCatalogue().types())
        visit(type.id, type.parameters);
    for (const CriterionType& type : stepCatalogue().criteria())
        visit(type.id, type.parameters);
    for (const OperationType& type : reliefCatalogue().operations)
        visit(type.id, type.parameters);
    for (const ReliefSourceType& type : reliefSources())
        visit(type.id, type.parameters);
    for (const PassKindInfo& info : passKinds())
        visit(std::string(info.id), passParameters(info.kind));
}

/// The settings with a file in each that can name one; how many those are.
int fillFiles(const std::vector<Parameter>& parameters, Settings& settings) {
    int files = 0;
    for (const Parameter& parameter : parameters)
        if (parameter.type == ValueType::File) {
            settings.set(parameter.id, FilePath{"/somewhere/" + parameter.id});
            ++files;
        }
    return files;
}

}  // namespace

TEST_CASE("a setting that is picked as a file is a file by its type", "[project][inputs]") {
    int files = 0;
    forEachRegistry([&](const std::string& owner, const std::vector<Parameter>& parameters) {
        forEachParameter(parameters, [&](const Parameter& parameter) {
            INFO(owner << "." << parameter.id);
            const bool picked =
                parameter.use == TextUse::PictureFile || parameter.use == TextUse::FontFile;
            CHECK(picked == (parameter.type == ValueType::File));
            files += parameter.type == ValueType::File ? 1 : 0;
        });
    });
    CHECK(files >= 4);
}

TEST_CASE("all files that a project's settings name are among its inputs", "[project][inputs]") {
    Project project;
    int files = 0;
    for (const StepType& type : stepCatalogue().types()) {
        Step step = stepCatalogue().newStep(type.id, project.recipe);
        files += fillFiles(type.parameters, step.settings);
        project.recipe.steps.push_back(step);
    }
    for (const CriterionType& type : stepCatalogue().criteria()) {
        Where where = stepCatalogue().newCriterion(type.id);
        files += fillFiles(type.parameters, where.settings);
        project.recipe.wheres[type.id] = where;
    }
    Relief relief = newRelief("grey");
    for (const OperationType& type : reliefCatalogue().operations) {
        Step operation = newOperation(reliefCatalogue(), type.id, relief);
        files += fillFiles(type.parameters, operation.settings);
        relief.operations.push_back(operation);
    }
    project.reliefs.push_back(relief);
    for (const PassKindInfo& info : passKinds())
        if (canRender(info.kind)) {
            PassRequest pass = passRequest(info.kind);
            files += fillFiles(passParameters(info.kind), pass.settings);
            project.passes.push_back(pass);
        }
    const std::vector<std::filesystem::path> inputs = inputsOf(project, {});
    CHECK(std::count_if(inputs.begin(), inputs.end(), [](const std::filesystem::path& file) {
              return file.parent_path() == "/somewhere";
          }) == files);
    CHECK(files >= 4);
}

TEST_CASE("what a project's scene names belongs to it", "[project][inputs]") {
    const test::Folder folder;
    for (const char* name : {"wood grain.png", "buffer.bin", "skin.png", "other.png"})
        folder.write(name, "x");
    folder.write("a.mtl", "newmtl a\nmap_Kd -s 1 1 1 skin.png\n");
    const std::vector<std::filesystem::path> outputs{
        folder / "wood grain.png", folder / "other.png", folder / "buffer.bin",
        folder / "skin.png",       folder / "a.mtl",     folder / "new.png"};
    const auto named = [&](const std::string& scene, const std::string& text) {
        Project project;
        project.scene = folder.write(scene, text);
        std::set<std::string> names;
        for (const std::filesystem::path& file : inputsOf(project, outputs))
            names.insert(file.filename().string());
        return names;
    };
    using Names = std::set<std::string>;
    CHECK(named("a.gltf",
                R"({"images":[{"uri":"wood%20grain.png"}],"buffers":[{"uri":"./buffer.bin"}]})") ==
          Names{"a.gltf", "wood grain.png", "buffer.bin"});
    CHECK(named("a.obj", "# other.pn\nmtllib a.mtl\r\nv 0 0 0\n") ==
          Names{"a.obj", "a.mtl", "skin.png"});
    CHECK(named("a.dae", "<init_from>file.png</init_from><init_from>other.png</init_from>") ==
          Names{"a.dae", "other.png"});
    CHECK(named("b.fbx", std::string("S\x09\0\0\0.\\skin.png\0", 15)) ==
          Names{"b.fbx", "skin.png"});
}
