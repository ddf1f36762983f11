#pragma once

#include <QApplication>
#include <QElapsedTimer>

namespace noctis::test {

/// Lets the application work until something holds; false if it takes too long.
template <typename Holds> bool waitFor(Holds holds, int ms = 60000) {
    QElapsedTimer timer;
    timer.start();
    while (!holds()) {
        if (timer.elapsed() > ms)
            return false;
        QApplication::processEvents(QEventLoop::AllEvents, 10);
    }
    return true;
}

}  // namespace noctis::test
