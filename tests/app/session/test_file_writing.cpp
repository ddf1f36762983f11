#include "app/session/file_writing.h"

#include "app/session/session.h"
#include "support/files.h"
#include "support/windows.h"

#include <QPushButton>
#include <QTest>

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

struct Desk {
    Folder folder;
    Session session{folder.path()};
    QPushButton button{"Write"};
    std::vector<QString> told;
    std::unique_ptr<FileWriting> writing = std::make_unique<FileWriting>(session, &button);

    Desk() {
        button.setToolTip("Writes it.");
        QObject::connect(&session, &Session::notified, &button,
                         [this](const QString& text, bool) { told.push_back(text); });
    }
    bool waitUntilDone() {
        return waitFor([&] { return button.text() == "Write"; });
    }
};

/// Half done at once, and then on until it is stopped or somebody lets it end.
FileWriting::Work slow(const std::filesystem::path& path, const std::atomic<bool>& end) {
    return [path, &end](const RunContext& run) -> std::optional<QString> {
        run.report(0.5F);
        while (!run.stopped() && !end)
            std::this_thread::sleep_for(std::chrono::milliseconds(1));
        if (run.stopped())
            return std::nullopt;
        std::ofstream(path) << "whole";
        return ", whole";
    };
}

}  // namespace

TEST_CASE("the button that begins a file stops it, and nothing is written", "[app][export]") {
    Desk desk;
    const std::atomic<bool> end = false;
    const std::filesystem::path path = desk.folder / "a.txt";
    QObject::connect(desk.writing.get(), &FileWriting::asked, &desk.button,
                     [&] { desk.writing->start(path, slow(path, end)); });
    QTest::mouseClick(&desk.button, Qt::LeftButton);
    CHECK(desk.button.text() == "Stop");
    REQUIRE(waitFor([&] { return desk.writing->percent() == 50; }));
    QTest::mouseClick(&desk.button, Qt::LeftButton);
    REQUIRE(desk.waitUntilDone());
    CHECK_FALSE(std::filesystem::exists(path));
    REQUIRE(desk.told.size() == 1);
    CHECK(desk.told[0].contains("wasn't written"));
}

TEST_CASE("a file that is written is reported, and so is why one couldn't be", "[app][export]") {
    Desk desk;
    const std::atomic<bool> end = true;
    const std::filesystem::path path = desk.folder / "a.txt";
    desk.writing->start(path, slow(path, end));
    REQUIRE(desk.waitUntilDone());
    CHECK(readTextFile(path) == "whole");
    REQUIRE(desk.told.size() == 1);
    CHECK(desk.told[0].endsWith("a.txt, whole"));
    desk.writing->start(path, [](const RunContext&) -> std::optional<QString> {
        throw std::runtime_error("the disk is full");
    });
    REQUIRE(desk.waitUntilDone());
    REQUIRE(desk.told.size() == 2);
    CHECK(desk.told[1] == "the disk is full");
}

TEST_CASE("a file that is being written is finished when Noctis closes", "[app][export]") {
    Desk desk;
    std::atomic<bool> end = false;
    const std::filesystem::path path = desk.folder / "a.txt";
    desk.writing->start(path, slow(path, end));
    std::jthread later([&] {
        std::this_thread::sleep_for(std::chrono::milliseconds(50));
        end = true;
    });
    desk.writing.reset();
    CHECK(readTextFile(path) == "whole");
}

TEST_CASE("a file that is written takes back what failed before", "[app][export]") {
    Desk desk;
    QStringList settled;
    QObject::connect(&desk.session, &Session::settled, &desk.button,
                     [&](const QString& text) { settled << text; });
    const auto path = desk.folder / "a.txt";
    const auto write = [&](FileWriting::Work work) {
        desk.writing->start(path, std::move(work));
        return waitFor([&] { return !desk.writing->running(); });
    };
    const auto fails = [](const RunContext&) -> std::optional<QString> {
        throw std::runtime_error("The disk is full.");
    };
    REQUIRE(write(fails));
    CHECK(settled.empty());
    REQUIRE(write([](const RunContext&) { return std::optional<QString>(", whole"); }));
    CHECK(settled == QStringList{"The disk is full."});
    REQUIRE(desk.told.size() == 2);
    CHECK(desk.told[1].startsWith("Wrote"));
    REQUIRE(write([](const RunContext&) { return std::optional<QString>(", again"); }));
    CHECK(settled.size() == 1);
}
