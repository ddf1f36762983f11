#include "app/look/theme.h"
#include "app/picture/picture_room.h"
#include "app/picture/time_strip.h"
#include "app/window/main_window.h"
#include "core/passes/pass_file.h"
#include "core/steps/registry.h"
#include "event_loop.h"
#include "harness.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QPushButton>
#include <QTemporaryDir>

#include <algorithm>

#include <fmt/format.h>

namespace bench {

namespace {

using namespace noctis;
namespace fs = std::filesystem;

constexpr int kWaitMs = 120'000;

/// Numbered names for copies of the demo's beauty and depth, which cost no room.
fs::path numberedFrames(const Demo& demo, const fs::path& folder, int count) {
    for (const char* pass : {"beauty", "depth"})
        for (int frame = 1; frame <= count; ++frame)
            fs::create_symlink(fs::absolute(demo.folder) / fmt::format("{}.exr", pass),
                               folder / fmt::format("{}.{:04}.exr", pass, frame));
    return folder;
}

SequenceFrames::Source sourceOf(const fs::path& folder) {
    Project project;
    project.passFiles = {folder / "beauty.0001.exr", folder / "depth.0001.exr"};
    return {frameFilesOf(project), {}};
}

struct OpenWindow {
    QTemporaryDir data;
    MainWindow window{data.path().toStdString()};

    explicit OpenWindow(const std::vector<fs::path>& files) {
        theme::apply(*qApp);
        window.open(files);
        runWindow([&] { return !window.session().reader().running(); }, kWaitMs);
        window.showRoom(window.picture());
        window.resize(1280, 800);
        window.show();
        settle();
    }
    void settle() {
        runWindow([] { return false; }, 1000);
        runWindow([&] { return window.picture().settled(); }, kWaitMs);
    }
};

/// Pictures a second while the demo's focus pull plays for the first and for the second time.
void played(const Demo& demo, std::vector<Row>& rows) {
    OpenWindow open({demo.folder / "focus_pull.noctis"});
    PictureRoom& room = open.window.picture();
    auto* play = room.findChild<QPushButton*>("play");
    std::vector<int> frames;
    std::vector<double> at;
    QElapsedTimer timer;
    QObject::connect(&room.worker(), &PictureWorker::pictureReady, &room, [&] {
        frames.push_back(open.window.session().time().number);
        at.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e9);
    });
    const auto [first, last] = open.window.session().frames();
    const auto rounds = [&] { return std::ranges::count(frames, first); };
    timer.start();
    play->click();
    runWindow([&] { return rounds() >= 4; }, kWaitMs);
    play->click();
    // From the first frame to the first frame of the next round.
    std::vector<std::size_t> begins;
    for (std::size_t i = 0; i < frames.size(); ++i)
        if (frames[i] == first)
            begins.push_back(i);
    const auto rate = [&](std::size_t round) {
        return static_cast<double>(begins[round + 1] - begins[round]) /
               (at[begins[round + 1]] - at[begins[round]]);
    };
    const auto row = [&](const char* name, double shown, double wanted) {
        Row r;
        r.name = name;
        r.ours = shown;
        r.reference = wanted;
        r.ratio = shown / wanted;
        r.target = 0.98;
        r.higherIsBetter = true;
        r.unit = "fps";
        r.note = fmt::format("{} frames, beside what is wanted", last - first + 1);
        return r;
    };
    if (begins.size() < 4) {
        Row failed = row("play a focus pull", 0.0, 24.0);
        failed.wrong = "it didn't go round three times";
        rows.push_back(failed);
        return;
    }
    rows.push_back(row("play a focus pull, the first time", rate(0), 8.0));
    rows.push_back(row("play a focus pull, the second time", rate(1), 24.0));
}

Row frameChanged(const Demo& demo) {
    const QTemporaryDir folder;
    const fs::path files = numberedFrames(demo, folder.path().toStdString(), 8);
    OpenWindow open({files / "beauty.0001.exr", files / "depth.0001.exr"});
    Session& session = open.window.session();
    PictureRoom& room = open.window.picture();
    session.change("fog", {}, [](Project& p) {
        p.recipe.steps = {stepCatalogue().newStep("fog"), stepCatalogue().newStep("grade")};
        p.recipe.steps[0].settings.set("density", 0.003F);
        p.recipe.steps[1].settings.set("exposure", 0.5F);
    });
    session.goTo(2);
    runWindow([&] { return session.sequence().kept().size() == 8; }, kWaitMs);
    open.settle();
    int pictures = 0;
    QObject::connect(&room.worker(), &PictureWorker::pictureReady, &room, [&] { ++pictures; });
    std::vector<double> waits;
    for (int i = 0; i < 24; ++i) {
        const int before = pictures;
        QElapsedTimer timer;
        timer.start();
        session.goTo(1 + (i * 3) % 8);
        runWindow([&] { return pictures > before; }, 2000);
        waits.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
        runWindow([&] { return room.settled(); }, kWaitMs);
    }
    Row row = rowOfTimes("another frame of a kept sequence", waits, 50.0);
    row.note = fmt::format("fog and grade at 1280 x 720, median of 24; the worst {:.0f} ms",
                           *std::ranges::max_element(waits));
    return row;
}

Row readAhead(const Demo& demo) {
    const auto folder = std::make_shared<QTemporaryDir>();
    const fs::path files = numberedFrames(demo, folder->path().toStdString(), 8);
    const SequenceFrames::Source source = sourceOf(files);
    Case c;
    c.name = "read a sequence ahead";
    c.ours = [source] {
        SequenceFrames frames;
        frames.setSource(source);
        frames.want(1, 1);
        runWindow([&] { return frames.kept().size() == source.files.there.size(); }, kWaitMs);
    };
    c.reference = [source, folder] {
        for (const int frame : source.files.there)
            (void)readPasses(source.files.at(frame), {});
    };
    c.target = 1.2;
    c.note = "8 frames of 1280 x 720, beside reading the same files alone";
    c.rounds = 5;
    return run(c);
}

Row keptMemory(const Demo& demo) {
    const QTemporaryDir folder;
    const fs::path files = numberedFrames(demo, folder.path().toStdString(), 200);
    SequenceFrames frames;
    frames.setSource(sourceOf(files));
    std::size_t most = 0;
    QObject::connect(&frames, &SequenceFrames::frameRead,
                     [&] { most = std::max(most, frames.bytes()); });
    for (const int now : {1, 60, 120, 200}) {
        frames.want(now, 1);
        const auto count = [&] { return frames.kept().size(); };
        std::size_t before = 0;
        do {  // until nothing more is read
            before = count() + most;
            runWindow([] { return false; }, 1500);
        } while (count() + most != before);
    }
    Row row;
    row.name = "memory of 200 frames";
    row.ours = static_cast<double>(most) / (1 << 20);
    row.reference = 2048.0;
    row.ratio = row.ours / row.reference;
    row.target = 1.0;
    row.unit = "MiB";
    row.note = fmt::format("the most that was kept, beside the budget; {} frames of 1280 x 720 fit",
                           frames.kept().size());
    return row;
}

}  // namespace

void time(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    if (wanted("play a focus pull"))
        played(demo, rows);
    if (wanted("another frame of a kept sequence"))
        rows.push_back(frameChanged(demo));
    if (wanted("read a sequence ahead"))
        rows.push_back(readAhead(demo));
    if (wanted("memory of 200 frames"))
        rows.push_back(keptMemory(demo));
}

}  // namespace bench
