#include "app/look/theme.h"
#include "app/picture/picture_room.h"
#include "app/picture/picture_view.h"
#include "app/window/main_window.h"
#include "core/image/resample.h"
#include "core/passes/pass_file.h"
#include "event_loop.h"
#include "harness.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTimer>

#include <algorithm>

#include <fmt/format.h>

namespace bench {

namespace {

using namespace noctis;

constexpr int kWidth = 3840;
constexpr int kHeight = 2160;
constexpr double kWantedMs = 200.0;

/// The demo's picture and depth at that size.
std::filesystem::path largeFrame(const Demo& demo, const std::filesystem::path& folder) {
    PassSet large;
    const PassSet small = readPasses({demo.folder / "beauty.exr", demo.folder / "depth.exr"});
    large.camera = small.camera;
    for (Pass pass : small.passes)
        if (pass.kind == PassKind::Beauty || pass.kind == PassKind::Depth) {
            pass.image = resized(pass.image, kWidth, kHeight, Resampling::Nearest);
            large.put(std::move(pass));
        }
    writePasses(folder / "large.exr", large);
    return folder / "large.exr";
}

}  // namespace

void opening(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    const std::string name = "pause while 4K opens";
    if (!wanted(name))
        return;
    theme::apply(*qApp);
    const QTemporaryDir folder;
    const std::filesystem::path file = largeFrame(demo, folder.path().toStdString());
    std::vector<double> pauses;
    double whole = 0.0;
    for (int round = 0; round < 5; ++round) {
        const QTemporaryDir data;
        MainWindow window(data.path().toStdString());
        window.resize(1280, 800);
        window.show();
        window.showRoom(window.picture());
        runWindow([] { return false; }, 500);
        // A timer that is due each millisecond comes late by as long as the window doesn't answer.
        double longest = 0.0;
        QElapsedTimer since;
        QTimer beat;
        QObject::connect(&beat, &QTimer::timeout, &window, [&] {
            longest = std::max(longest, static_cast<double>(since.nsecsElapsed()) / 1e6);
            since.restart();
        });
        since.start();
        beat.start(1);
        QElapsedTimer all;
        all.start();
        window.open({file});
        runWindow([&] { return !window.picture().view().picture().isNull(); }, 60'000);
        whole = static_cast<double>(all.nsecsElapsed()) / 1e6;
        runWindow([] { return false; }, 300);
        pauses.push_back(longest);
    }
    Row row = rowOfTimes(name, pauses, kWantedMs);
    row.note =
        fmt::format("the longest time without an answer to the hand, median of 5; the picture "
                    "is there after {:.0f} ms",
                    whole);
    rows.push_back(row);
}

}  // namespace bench
