#include "core/passes/pass_file_writer.h"

#include "core/image/error.h"
#include "core/image/exr_file.h"
#include "support/files.h"

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

namespace {

PassSet holding(std::initializer_list<std::pair<const char*, float>> passes) {
    PassSet set;
    set.view = "front";
    for (const auto& [name, value] : passes) {
        Pass pass;
        pass.name = name;
        pass.kind = passNamed(name) ? passNamed(name)->kind : PassKind::Colour;
        pass.image = Image(5, 4, passKindInfo(pass.kind).channels, value);
        set.put(std::move(pass));
    }
    return set;
}

std::vector<std::string> namesIn(const std::filesystem::path& file) {
    std::vector<std::string> names;
    for (const Pass& pass : readPasses({file}).passes)
        names.push_back(pass.name);
    return names;
}

int filesIn(const Folder& folder) {
    int count = 0;
    for ([[maybe_unused]] const auto& entry :
         std::filesystem::recursive_directory_iterator(folder / ""))
        ++count;
    return count;
}

}  // namespace

TEST_CASE("passes stand in the order asked for, those it does not name last", "[passes][files]") {
    const Folder folder;
    const auto layout = GENERATE(PassLayout::PartPerPass, PassLayout::OnePart);
    PassFileWriter writer(folder / "f.exr", {.layout = layout});
    writer.add(holding({{"occlusion", 0.5F}, {"occlusion.raw", 0.25F}}));
    writer.add(holding({{"depth", 7.0F}}));
    writer.add(PassSet());
    writer.finish({"depth", "occlusion"});
    const PassSet back = readPasses({folder / "f.exr"});
    CHECK(back.view == "front");
    CHECK(back.find(PassKind::Depth)->image(4, 3, 0) == 7.0F);
    CHECK(back.find("occlusion.raw")->image(0, 0, 0) == 0.25F);
    if (layout == PassLayout::PartPerPass)
        CHECK(namesIn(folder / "f.exr") ==
              std::vector<std::string>{"depth", "occlusion", "occlusion.raw"});
}

TEST_CASE("coverage is a separate pass, and an opaque picture says so", "[passes][files]") {
    const Folder folder;
    PassFileWriter writer(folder / "f.exr", {});
    writer.add(holding({{"coverage", 0.75F}, {"beauty", 0.5F}}));
    writer.add(holding({{"depth", 7.0F}}));
    writer.finish({"beauty", "depth"});
    const FileInfo info = readFileInfo(folder / "f.exr");
    CHECK(info.attributes.size() == 3);  // parts
    const PassSet back = readPasses({folder / "f.exr"});
    CHECK(back.find(PassKind::Coverage)->image(1, 1, 0) == 0.75F);
    CHECK(back.passes.size() == 3);
    CHECK(back.find(PassKind::Beauty)->image.channels() == 3);
}

TEST_CASE("a writer that is given up leaves nothing, and an old file as it was",
          "[passes][files]") {
    const Folder folder;
    writePasses(folder / "f.exr", holding({{"depth", 3.0F}}));
    {
        PassFileWriter writer(folder / "f.exr", {});
        writer.add(holding({{"depth", 7.0F}}));
        CHECK(filesIn(folder) == 2);
    }
    CHECK(filesIn(folder) == 1);
    CHECK(readPasses({folder / "f.exr"}).passes[0].image(0, 0, 0) == 3.0F);
}

TEST_CASE("in folders each pass is there as soon as it was added", "[passes][files]") {
    const Folder folder;
    PassFileWriter writer(folder / "f.exr", {.layout = PassLayout::FolderPerPass});
    writer.add(holding({{"depth", 7.0F}}));
    CHECK(std::filesystem::exists(folder / "depth" / "f.exr"));
    writer.add(holding({{"occlusion", 0.5F}}));
    writer.finish({"occlusion", "depth"});
    CHECK(namesIn(folder / "occlusion" / "f.exr") == std::vector<std::string>{"occlusion"});
    CHECK_FALSE(std::filesystem::exists(folder / "f.exr"));
}

TEST_CASE("joining what is empty or is no EXR is an error", "[image][files]") {
    const Folder folder;
    OutputFile out(folder / "out.exr");
    const OutputFile empty(folder / "empty.exr");
    OutputFile broken(folder / "broken.exr");
    broken.writeAt(0, "v/1\x01 no more", 13);
    CHECK_THROWS_AS(joinExr(out, {{&empty, 0, "depth"}}), Error);
    CHECK_THROWS_AS(joinExr(out, {{&broken, 0, "depth"}}), Error);
}
