#include "core/image/trial.h"

#include "core/image/error.h"
#include "core/image/image_file.h"
#include "core/scene/import.h"
#include "support/files.h"
#include "support/hills.h"

#include <array>
#include <chrono>
#include <fstream>
#include <iterator>
#include <optional>
#include <thread>

#include <catch2/catch.hpp>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace noctis;
using test::Folder;

namespace {

ErrorCode codeOf(const std::function<void()>& work, std::string* sentence = nullptr) {
    try {
        work();
    } catch (const Error& error) {
        if (sentence != nullptr)
            *sentence = error.what();
        return error.code();
    }
    FAIL("nothing was thrown");
    return ErrorCode::BadSetting;
}

/// Brackets nested so deeply that a reader which recurses runs out of stack.
std::string nested(int depth) { return "{\"asset\":" + std::string(depth, '[') + "}"; }

/// A triangle whose corners are in a.bin.
const char* kGltfOfOneBuffer =
    R"({"asset":{"version":"2.0"},"buffers":[{"uri":"a.bin","byteLength":36}],
        "bufferViews":[{"buffer":0,"byteLength":36}],
        "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3"}],
        "meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],
        "nodes":[{"mesh":0}],"scenes":[{"nodes":[0]}],"scene":0})";

}  // namespace

TEST_CASE("a scene whose reading overflows the stack is refused, and we live on", "[trial]") {
    const Folder folder;
    const auto path = folder.write("deep.gltf", nested(4'000'000));
    std::string sentence;
    CHECK(codeOf([&] { (void)importScene(path); }, &sentence) == ErrorCode::BadFile);
    CHECK(sentence.find("deep.gltf") != std::string::npos);
    CHECK(sentence.find("export or copy it again") != std::string::npos);
}

TEST_CASE("a picture that needs more memory than allowed is refused with the limit", "[trial]") {
    const Folder folder;
    const auto path = folder / "big.png";
    writeImageFile(path, {{"", "", Image::filled(4000, 4000, 3, 0.5F), SampleType::Byte, {}}});
    TrialLimits limits;
    limits.memory = std::size_t{96} << 20U;
    std::string sentence;
#ifndef __SANITIZE_ADDRESS__
    CHECK(codeOf([&] { tryReading(InputFile(path), TrialKind::Picture, limits); }, &sentence) ==
          ErrorCode::TooLarge);
    CHECK(sentence.find("96 MB") != std::string::npos);
#endif
    CHECK_NOTHROW(tryReading(InputFile(path), TrialKind::Picture));
}

TEST_CASE("a file that is refused in good order passes the trial, as reading says why", "[trial]") {
    const Folder folder;
    CHECK_NOTHROW(tryReading(InputFile(folder.write("a.png", "no picture")), TrialKind::Picture));
    CHECK_NOTHROW(tryReading(InputFile(folder.write("a.obj", "v 0 0 0\n")), TrialKind::Scene));
}

TEST_CASE("what is no plain file is refused before it could be waited for", "[trial]") {
    const Folder folder;
    const auto pipe = folder / "pipe.obj";
    REQUIRE(::mkfifo(pipe.c_str(), 0600) == 0);
    CHECK(codeOf([&] { (void)importScene(pipe); }) == ErrorCode::FileAccess);
    CHECK(codeOf([&] { (void)readFileInfo(folder.path()); }) == ErrorCode::FileAccess);
    CHECK(codeOf([&] { (void)readFileInfo(folder / "none.png"); }) == ErrorCode::FileAccess);
}

TEST_CASE("reading a scene can be stopped, in its trial and after it", "[trial][scene]") {
    const Folder folder;
    const auto path = test::hillsFile(folder, 600);
    for (const bool tried : {false, true}) {
        std::stop_source source;
        std::jthread soon([&] {
            std::this_thread::sleep_for(std::chrono::milliseconds(30));
            source.request_stop();
        });
        const Scene scene = tried
                                ? importTriedScene({.file = std::make_shared<const InputFile>(path),
                                                    .others = {},
                                                    .opened = {},
                                                    .stop = source.get_token()})
                                : importScene(path, source.get_token());
        CAPTURE(tried);
        CHECK(scene.meshes.empty());
        CHECK(scene.views.empty());
    }
    CHECK(triangleCount(importScene(path)) == 720'000);
}

TEST_CASE("a pipe among a scene's files is refused at once", "[trial][scene]") {
    const Folder folder;
    REQUIRE(::mkfifo((folder / "a.bin").c_str(), 0600) == 0);
    REQUIRE(::mkfifo((folder / "pipe.mtl").c_str(), 0600) == 0);
    const auto began = std::chrono::steady_clock::now();
    const auto gltf = folder.write("a.gltf", kGltfOfOneBuffer);
    CHECK_THROWS_AS(importScene(gltf), Error);
    const auto obj = folder.write("a.obj", "mtllib pipe.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
    const Scene scene = importScene(obj);
    CHECK(triangleCount(scene) == 1);
    REQUIRE(scene.warnings.size() == 1);
    CHECK_THAT(scene.warnings.front(), Catch::Contains("pipe.mtl"));
    CHECK(std::chrono::steady_clock::now() - began < std::chrono::seconds(30));
}

TEST_CASE("what a scene names is read from the files that its trial read", "[trial][scene]") {
    const Folder folder;
    const auto triangle = [&](const std::string& name, float width) {
        const std::array<float, 9> corners{0, 0, 0, width, 0, 0, 0, 1, 0};
        std::ofstream(folder / name, std::ios::binary)
            .write(reinterpret_cast<const char*>(corners.data()), sizeof(corners));
    };
    triangle("a.bin", 3.0F);
    const auto file = std::make_shared<const InputFile>(folder.write("a.gltf", kGltfOfOneBuffer));
    const auto others = tryReading(*file, TrialKind::Scene);
    REQUIRE(others);
    triangle("b.bin", 7.0F);
    std::filesystem::rename(folder / "b.bin", folder / "a.bin");
    const auto widthBy = [&](const std::optional<OpenFiles>& files) {
        return boundsOf(importTriedScene({.file = file, .others = files, .opened = {}, .stop = {}}))
            .size()
            .x;
    };
    CHECK(widthBy(others) == 3.0F);
    CHECK(widthBy(std::nullopt) == 7.0F);
    // What the trial didn't find isn't looked for again: it wasn't tried.
    CHECK_THROWS_AS(widthBy(OpenFiles()), Error);
}

TEST_CASE("a scene that is refused leaves none of its files open", "[trial][scene]") {
    const Folder folder;
    const auto gltf = folder.write("a.gltf", kGltfOfOneBuffer);
    folder.write("a.bin", "too short for a triangle");
    const auto open = [] {
        const std::filesystem::directory_iterator all("/proc/self/fd");
        return std::distance(all, std::filesystem::directory_iterator());
    };
    CHECK_THROWS_AS(importScene(gltf), Error);
    const auto before = open();
    CHECK_THROWS_AS(importScene(gltf), Error);
    CHECK(open() == before);
}

TEST_CASE("files are passed through a socket, by their names, until nobody takes them any more",
          "[trial][files]") {
    const Folder folder;
    OpenFiles taken;
    std::optional<FilePassage> passage(std::in_place);
    const InputFile file(folder.write("a b.txt", "some text"));
    REQUIRE(passFile(passage->there(), file));
    REQUIRE(passFile(passage->there(), InputFile(folder.write("ü.txt", "more"))));
    takePassedFiles(passage->here(), taken);
    REQUIRE(taken.size() == 2);
    CHECK(taken.at(folder / "a b.txt")->size() == 9);
    CHECK(taken.at(folder / "ü.txt")->size() == 4);
    CHECK(taken.at(folder / "a b.txt")->descriptor() != file.descriptor());
    const int there = ::dup(passage->there());
    ::shutdown(passage->here(), SHUT_RDWR);
    CHECK_FALSE(passFile(there, file));
    ::close(there);
}

TEST_CASE("what the trial's stack holds, the reader's holds", "[trial][scene]") {
    const Folder folder;
    // A chain of nodes, and extras as deep as the reading of JSON allows.
    std::string nodes;
    constexpr int kChain = 20'000;
    for (int i = 0; i < kChain; ++i)
        nodes += fmt::format("{}{{\"children\":[{}]}}", i == 0 ? "" : ",", i + 1);
    const std::string head = R"({"asset":{"version":"2.0"},"scenes":[{"nodes":[0]}],"scene":0,)";
    CHECK_THROWS_AS(importScene(folder.write("chain.gltf", head + "\"nodes\":[" + nodes + ",{}]}")),
                    Error);
    std::string extras = "1";
    for (int i = 0; i < kChain; ++i)
        extras = "{\"a\":" + extras + "}";
    CHECK_THROWS_AS(
        importScene(folder.write("extras.gltf", head + "\"nodes\":[{\"extras\":" + extras + "}]}")),
        Error);
}

namespace {

/// Whether a process runs whose arguments name that file.
bool anyoneReads(const std::filesystem::path& file) {
    std::error_code failed;
    for (const auto& entry : std::filesystem::directory_iterator("/proc", failed)) {
        std::ifstream in(entry.path() / "cmdline");
        const std::string words{std::istreambuf_iterator<char>(in), {}};
        if (words.find(file.string()) != std::string::npos &&
            words.find("noctis-trial") != std::string::npos)
            return true;
    }
    return false;
}

template <typename Holds> bool soon(const Holds& holds) {
    for (int i = 0; i < 1000; ++i) {
        if (holds())
            return true;
        std::this_thread::sleep_for(std::chrono::milliseconds(10));
    }
    return false;
}

}  // namespace

TEST_CASE("a trial ends with the process that began it", "[trial]") {
    const Folder folder;
    const auto path = test::hillsFile(folder, 900);
    const ::pid_t child = ::fork();
    if (child == 0) {
        try {
            tryReading(InputFile(path), TrialKind::Scene);
        } catch (...) {
        }
        ::pause();
        ::_exit(0);
    }
    REQUIRE(soon([&] { return anyoneReads(path); }));
    ::kill(child, SIGKILL);
    ::waitpid(child, nullptr, 0);
    CHECK(soon([&] { return !anyoneReads(path); }));
}

#ifndef __SANITIZE_ADDRESS__  // which has ten times the time
TEST_CASE("a trial has a limited time of the processor", "[trial]") {
    const Folder folder;
    // A star of one face, whose division into triangles takes seconds.
    std::string text;
    std::string face = "f";
    constexpr int kPoints = 20'000;
    for (int i = 0; i < kPoints; ++i) {
        const double angle = 6.2831853 * i / kPoints;
        const double radius = 2.0 + i % 2;
        text +=
            fmt::format("v {:.4f} {:.4f} 0\n", radius * std::cos(angle), radius * std::sin(angle));
        face += fmt::format(" {}", i + 1);
    }
    const auto path = folder.write("star.obj", text + face + "\n");
    TrialLimits limits;
    limits.time = std::chrono::seconds(1);
    CHECK_THROWS_WITH(tryReading(InputFile(path), TrialKind::Scene, limits),
                      Catch::Contains("too long for its size"));
}
#endif
