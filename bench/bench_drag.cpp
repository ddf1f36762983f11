#include "app/instruments/sounding.h"
#include "app/look/theme.h"
#include "app/picture/picture_room.h"
#include "app/window/main_window.h"
#include "event_loop.h"
#include "harness.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>

#include <algorithm>

#include <fmt/format.h>

namespace bench {

void drag(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    if (!wanted("drag on a fog lane"))
        return;
    using namespace noctis;
    theme::apply(*qApp);
    const QTemporaryDir folder;
    MainWindow window(folder.path().toStdString());
    window.open({demo.folder / "saltern_quay.noctis"});
    window.showRoom(window.picture());
    window.resize(1280, 800);
    window.show();
    PictureRoom& room = window.picture();
    const auto rest = [&](int ms) {
        runWindow([] { return false; }, ms);
        runWindow([&] { return room.worker().idle(); }, 60'000);
    };
    rest(3000);
    int pictures = 0;
    QObject::connect(&room.worker(), &PictureWorker::pictureReady, &room, [&] { ++pictures; });
    const QPoint from = room.sounding().handlePlace("fog", "start").toPoint();
    QTest::mousePress(&room.sounding(), Qt::LeftButton, {}, from);
    std::vector<double> waits;
    for (int i = 1; i <= 40; ++i) {
        const int before = pictures;
        QElapsedTimer timer;
        timer.start();
        QTest::mouseMove(&room.sounding(), from + QPoint(i * 3, 0));
        runWindow([&] { return pictures > before; }, 2000);
        waits.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
    }
    QTest::mouseRelease(&room.sounding(), Qt::LeftButton, {}, from + QPoint(120, 0));
    rest(100);
    std::sort(waits.begin(), waits.end());
    Row row;
    row.name = "drag on a fog lane";
    row.ours = waits[waits.size() / 2];
    row.reference = 50.0;
    row.ratio = row.ours / row.reference;
    row.spread = (waits.back() - waits.front()) / row.ours;
    row.target = 1.0;
    row.note = fmt::format("hand to picture at 1280 x 800, median of 40; the worst {:.0f} ms; {} "
                           "pictures older than the last movement",
                           waits.back(), room.worker().shownLate());
    rows.push_back(row);
}

}  // namespace bench
