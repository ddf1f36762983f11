#pragma once

#include "app/session/session.h"

#include <QApplication>
#include <QElapsedTimer>

#include <filesystem>
#include <vector>

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

/// Waits until all that was asked to be read is; false if it takes too long.
inline bool waitForReading(Session& session) {
    return waitFor([&] { return !session.reader().running(); });
}

/// Opens files in a session or a window, and waits for their passes.
template <typename Opener>
bool openAndRead(Opener& opener, const std::vector<std::filesystem::path>& paths) {
    opener.open(paths);
    if constexpr (requires { opener.session(); })
        return waitForReading(opener.session());
    else
        return waitForReading(opener);
}

}  // namespace noctis::test
