#include "app/look/theme.h"
#include "app/survey/survey_room.h"
#include "app/survey/trace_view.h"
#include "app/window/main_window.h"
#include "event_loop.h"
#include "harness.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>

#include <fmt/format.h>

namespace bench {

namespace {

constexpr int kMoveMs = 16;  ///< a mouse reports some sixty moves a second
constexpr int kMoves = 180;
constexpr double kWantedPerSecond = 20.0;
constexpr double kWantedSharpMs = 1000.0;

}  // namespace

void orbit(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    const std::string orbitName = "orbit of the demo";
    const std::string sharpName = "sharp after an orbit";
    if (!wanted(orbitName) && !wanted(sharpName))
        return;
    using namespace noctis;
    theme::apply(*qApp);
    const QTemporaryDir folder;
    MainWindow window(folder.path().toStdString());
    window.resize(1280, 800);
    window.show();
    window.open({demo.folder / "saltern_quay.noctis"});
    runWindow([&] { return !window.session().reader().running(); }, 60'000);
    window.showRoom(window.survey());
    TraceView& view = window.survey().view();
    runWindow([&] { return window.session().scene() != nullptr && !view.image().isNull(); },
              60'000);
    // Dragging begins on a still picture, whose light is carried over.
    runWindow([&] { return view.settled(); }, 3'000);
    const QPoint from = view.rect().center();
    QTest::mousePress(&view, Qt::LeftButton, {}, from);
    int pictures = 0;
    Camera shown = view.seenFrom().value_or(Camera{});
    QElapsedTimer orbiting;
    orbiting.start();
    for (int i = 1; i <= kMoves; ++i) {
        QTest::mouseMove(&view, from + QPoint(i, i / 4));
        runWindow(
            [&] {
                if (view.seenFrom() && *view.seenFrom() != shown) {
                    shown = *view.seenFrom();
                    ++pictures;
                }
                return false;
            },
            kMoveMs);
    }
    const double perSecond = 1000.0 * pictures / static_cast<double>(orbiting.elapsed());
    const int coarse = view.image().width();
    QTest::mouseRelease(&view, Qt::LeftButton, {}, from + QPoint(kMoves, kMoves / 4));
    const double sharp = runWindow([&] { return view.image().width() > 5 * coarse / 4; }, 20'000);
    Row row;
    row.name = orbitName;
    row.unit = "/s";
    row.ours = perSecond;
    row.reference = kWantedPerSecond;
    row.ratio = perSecond / kWantedPerSecond;
    row.target = 1.0;
    row.higherIsBetter = true;
    row.note = fmt::format("pictures a second, {} pixels wide, of light; at least {:.0f} wanted",
                           coarse, kWantedPerSecond);
    if (wanted(orbitName))
        rows.push_back(row);
    row = {};
    row.name = sharpName;
    row.ours = sharp;
    row.reference = kWantedSharpMs;
    row.ratio = sharp / kWantedSharpMs;
    row.target = 1.0;
    row.note = fmt::format("from release to a picture {} pixels wide; {:.0f} ms wanted",
                           view.image().width(), kWantedSharpMs);
    if (wanted(sharpName))
        rows.push_back(row);
}

}  // namespace bench
