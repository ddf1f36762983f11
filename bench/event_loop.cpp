#include "event_loop.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QTimer>

#include <algorithm>

namespace bench {

double runWindow(const std::function<bool()>& until, int atMostMs) {
    QElapsedTimer timer;
    timer.start();
    QTimer look;
    look.start(1);
    while (!until() && timer.elapsed() < atMostMs)
        QApplication::processEvents(QEventLoop::WaitForMoreEvents);
    return static_cast<double>(timer.nsecsElapsed()) / 1e6;
}

Row rowOfTimes(const std::string& name, std::vector<double> times, double wanted) {
    std::sort(times.begin(), times.end());
    Row row;
    row.name = name;
    row.ours = times[times.size() / 2];
    row.reference = wanted;
    row.ratio = row.ours / row.reference;
    row.spread = (times.back() - times.front()) / row.ours;
    row.target = 1.0;
    return row;
}

}  // namespace bench
