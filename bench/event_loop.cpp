#include "event_loop.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QTimer>

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

}  // namespace bench
