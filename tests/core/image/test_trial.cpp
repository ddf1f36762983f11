#include "core/image/trial.h"

#include "core/image/error.h"
#include "core/image/image_file.h"
#include "core/scene/import.h"
#include "support/files.h"
#include "support/hills.h"

#include <thread>

#include <catch2/catch.hpp>
#include <sys/stat.h>

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
    CHECK(codeOf([&] { tryReading(path, TrialKind::Picture, limits); }, &sentence) ==
          ErrorCode::TooLarge);
    CHECK(sentence.find("96 MB") != std::string::npos);
#endif
    CHECK_NOTHROW(tryReading(path, TrialKind::Picture));
}

TEST_CASE("a file that is refused in good order passes the trial, as reading says why", "[trial]") {
    const Folder folder;
    CHECK_NOTHROW(tryReading(folder.write("a.png", "no picture"), TrialKind::Picture));
    CHECK_NOTHROW(tryReading(folder.write("a.obj", "v 0 0 0\n"), TrialKind::Scene));
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
        const Scene scene = tried ? importTriedScene(path, source.get_token())
                                  : importScene(path, source.get_token());
        CAPTURE(tried);
        CHECK(scene.meshes.empty());
        CHECK(scene.views.empty());
    }
    CHECK(triangleCount(importScene(path)) == 720'000);
}
