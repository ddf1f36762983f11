#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QString>

namespace noctis {

/// Seconds that are left of work that began with the clock; negative while too little is done to estimate them.
inline double secondsLeft(float done, const QElapsedTimer& clock) {
    constexpr float kEnoughDone = 0.04F;
    constexpr double kSettling = 3.0;
    const double elapsed = static_cast<double>(clock.elapsed()) / 1000.0;
    return done > kEnoughDone && elapsed > kSettling ? elapsed / static_cast<double>(done) - elapsed
                                                     : -1.0;
}

/// "about 12 s left"; empty while it can't be estimated.
inline QString timeLeftText(double seconds) {
    if (seconds < 0.0)
        return {};
    if (seconds < 90.0)
        return QObject::tr("about %1 s left").arg(seconds, 0, 'f', 0);
    return QObject::tr("about %1 min left").arg(seconds / 60.0, 0, 'f', 0);
}

}  // namespace noctis
