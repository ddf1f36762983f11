#pragma once

#include "app/session/session.h"

#include <QAbstractButton>
#include <QAbstractSpinBox>
#include <QApplication>
#include <QElapsedTimer>
#include <QLabel>

#include <ctime>
#include <filesystem>
#include <vector>

namespace noctis::test {

/// Seconds of processor time that threads other than this one have used.
inline double workedElsewhere() {
    const auto seconds = [](clockid_t clock) {
        timespec time{};
        clock_gettime(clock, &time);
        return static_cast<double>(time.tv_sec) + 1e-9 * static_cast<double>(time.tv_nsec);
    };
    return seconds(CLOCK_PROCESS_CPUTIME_ID) - seconds(CLOCK_THREAD_CPUTIME_ID);
}

/// Lets the application work until something holds; false once nothing moves any more: no other thread has worked
/// for longer than any timer or any program that is started takes, however busy the machine is.
template <typename Holds> bool waitFor(Holds holds) {
    constexpr double kWorks = 0.02;
    constexpr int kStillMs = 20'000;
    QElapsedTimer still;
    still.start();
    double worked = workedElsewhere();
    while (!holds()) {
        if (workedElsewhere() > worked + kWorks) {
            worked = workedElsewhere();
            still.restart();
        }
        if (still.elapsed() > kStillMs)
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

/// Names the buttons, boxes and labels of a window that have less room than their text needs.
inline QStringList cutOff(QWidget& window) {
    QApplication::processEvents();
    QStringList names;
    for (const QWidget* each : window.findChildren<QWidget*>()) {
        const auto* label = qobject_cast<const QLabel*>(each);
        const bool ofText = qobject_cast<const QAbstractButton*>(each) != nullptr ||
                            qobject_cast<const QAbstractSpinBox*>(each) != nullptr ||
                            (label != nullptr && !label->wordWrap() &&
                             each->sizePolicy().horizontalPolicy() != QSizePolicy::Ignored);
        if (ofText && each->isVisible() && each->width() < each->minimumSizeHint().width())
            names << QStringLiteral("%1 %2 %3 of %4")
                         .arg(QLatin1String(each->metaObject()->className()), each->objectName())
                         .arg(each->width())
                         .arg(each->minimumSizeHint().width());
    }
    return names;
}

}  // namespace noctis::test
