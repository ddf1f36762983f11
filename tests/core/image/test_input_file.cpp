#include "core/image/input_file.h"

#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/image/large_stack.h"
#include "support/files.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <sys/stat.h>

using namespace noctis;
using test::Folder;

TEST_CASE("only regular files are opened, and nothing is waited for", "[image][files]") {
    const Folder folder;
    REQUIRE(::mkfifo((folder / "pipe").c_str(), 0600) == 0);
    for (const std::filesystem::path& path :
         {folder / "pipe", folder.path(), folder / "none", std::filesystem::path("/dev/zero")}) {
        INFO(path);
        CHECK_THROWS_AS(InputFile(path), Error);
        CHECK_THROWS_AS(readTextFile(path), Error);
    }
    CHECK_THROWS_WITH(InputFile(folder / "none"), Catch::Contains("no such file"));
}

TEST_CASE("a file that is open stays the one it was", "[image][files]") {
    const Folder folder;
    const InputFile file(folder.write("a.txt", "before"));
    folder.write("b.txt", "something much longer");
    std::filesystem::rename(folder / "b.txt", folder / "a.txt");
    CHECK(file.size() == 6);
    std::string text(20, ' ');
    CHECK(file.readAt(0, text.data(), text.size()) == 6);
    CHECK(text.starts_with("before"));
    CHECK(readTextFile(file.handle()) == "before");
}

TEST_CASE("no more is read than there was when a file was opened", "[image][files]") {
    const Folder folder;
    const auto path = folder.write("a.txt", "four");
    const InputFile file(path);
    std::ofstream(path, std::ios::app) << " and more";
    std::string text(20, ' ');
    CHECK(file.readAt(0, text.data(), text.size()) == 4);
    CHECK(file.readAt(9, text.data(), text.size()) == 0);
    std::filesystem::resize_file(path, 2);
    CHECK(file.readAt(0, text.data(), text.size()) == 2);
}

TEST_CASE("a text beyond the limit is refused with it", "[image][files]") {
    const Folder folder;
    const auto path = folder.write("a.txt", std::string((std::size_t{2} << 20U) + 1, 'x'));
    CHECK(readTextFile(path).size() == (std::size_t{2} << 20U) + 1);
    CHECK_THROWS_WITH(readTextFile(path, std::size_t{2} << 20U), Catch::Contains("2 MB"));
}

TEST_CASE("JSON is refused where it is nested too deeply, before it is taken apart",
          "[image][json]") {
    const auto nested = [](int depth) {
        const auto count = static_cast<std::size_t>(depth);
        return std::string(count, '[') + std::string(count, ']');
    };
    CHECK(parseJson(nested(kDeepestJson)).is_array());
    for (const int depth : {kDeepestJson + 1, 100'000, 2'000'000}) {
        CHECK_THROWS_WITH(parseJson(nested(depth)), Catch::Contains("nested more than 256"));
        CHECK(parseJsonIfAny(nested(depth)).is_discarded());
        CHECK(parseJsonIfAny("{\"a\":" + nested(depth)).is_discarded());
    }
    CHECK_THROWS_WITH(parseJson("{\n\"a\": 1,\n]"), Catch::Contains("damaged at line 3"));
    CHECK_THROWS_AS(parseJson("[1e999]"), Error);
    CHECK(parseJsonIfAny("").is_discarded());
}

TEST_CASE("work on a large stack may recurse deeply, and throws where it was begun",
          "[image][files]") {
    constexpr int kDeep = 100'000;
    const std::function<int(int)> count = [&](int depth) {
        volatile char room[256] = {};  // which an optimiser can't drop
        return depth == 0 ? room[0] : 1 + count(depth - 1);
    };
    int found = 0;
    runWithStack(std::size_t{256} << 20U, [&] { found = count(kDeep); });
    CHECK(found == kDeep);
    CHECK_THROWS_WITH(
        runWithStack(std::size_t{1} << 20U, [] { throw Error(ErrorCode::BadFile, "from there"); }),
        "from there");
}
