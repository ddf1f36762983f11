#include "app/instruments/bearing.h"
#include "app/instruments/sounding.h"
#include "app/look/theme.h"
#include "app/picture/picture_room.h"
#include "app/picture/recipe_panel.h"
#include "app/window/main_window.h"
#include "event_loop.h"
#include "harness.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <functional>

#include <fmt/format.h>

namespace bench {

namespace {

using namespace noctis;

/// How long a picture takes to follow the hand: the median of 40 movements, beside what is wanted.
Row followed(const Demo& demo, const std::string& name, double wanted,
             const std::function<std::pair<QWidget*, QPoint>(PictureRoom&)>& grab) {
    theme::apply(*qApp);
    const QTemporaryDir folder;
    MainWindow window(folder.path().toStdString());
    window.open({demo.folder / "saltern_quay.noctis"});
    runWindow([&] { return !window.session().reader().running(); }, 60'000);
    window.showRoom(window.picture());
    window.resize(1280, 800);
    window.show();
    PictureRoom& room = window.picture();
    const auto rest = [&](int ms) {
        runWindow([] { return false; }, ms);
        runWindow([&] { return room.worker().idle(); }, 60'000);
    };
    rest(3000);
    const auto [instrument, from] = grab(room);
    rest(500);
    int pictures = 0;
    QObject::connect(&room.worker(), &PictureWorker::pictureReady, &room, [&] { ++pictures; });
    QTest::mousePress(instrument, Qt::LeftButton, {}, from);
    std::vector<double> waits;
    for (int i = 1; i <= 40; ++i) {
        const int before = pictures;
        QElapsedTimer timer;
        timer.start();
        QTest::mouseMove(instrument, from + QPoint(i, i % 2));
        runWindow([&] { return pictures > before; }, 2000);
        waits.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
    }
    QTest::mouseRelease(instrument, Qt::LeftButton, {}, from + QPoint(40, 0));
    rest(100);
    Row row = rowOfTimes(name, waits, wanted);
    row.note =
        fmt::format("hand to picture at 1280 x 800, median of 40; the worst {:.0f} ms; {} "
                    "pictures older than the last movement",
                    *std::max_element(waits.begin(), waits.end()), room.worker().shownLate());
    return row;
}

}  // namespace

void drag(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    const auto sounding = [](const char* owner, const char* handle) {
        return [owner, handle](PictureRoom& room) {
            return std::pair<QWidget*, QPoint>(
                &room.instrument<noctis::Sounding>(),
                room.instrument<noctis::Sounding>().handlePlace(owner, handle).value().toPoint());
        };
    };
    if (wanted("drag on a fog lane"))
        rows.push_back(followed(demo, "drag on a fog lane", 50.0, sounding("fog", "start")));
    if (wanted("drag on a focus lane"))
        rows.push_back(
            followed(demo, "drag on a focus lane", 33.0, sounding("depth_of_field", "focus")));
    if (wanted("drag of a sun"))
        rows.push_back(followed(demo, "drag of a sun", 33.0, [](PictureRoom& room) {
            room.recipe().addStep("relight");
            QApplication::processEvents();
            return std::pair<QWidget*, QPoint>(&room.instrument<noctis::Bearing>(),
                                               room.instrument<noctis::Bearing>()
                                                   .handlePlace("relight", "towards")
                                                   .value()
                                                   .toPoint());
        }));
}

}  // namespace bench
