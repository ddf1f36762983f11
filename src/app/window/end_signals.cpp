#include "app/window/end_signals.h"

#include <QSocketNotifier>
#include <QWidget>

#include <array>
#include <csignal>

#include <fcntl.h>
#include <unistd.h>

namespace noctis {

namespace {

std::array<int, 2> signalPipe{-1, -1};

/// A handler may do little; the window's thread does the rest.
void onSignal(int) {
    const char byte = 0;
    (void)!::write(signalPipe[1], &byte, 1);
}

}  // namespace

void closeOnSignals(QWidget& window) {
    if (::pipe2(signalPipe.data(), O_CLOEXEC | O_NONBLOCK) != 0)
        return;
    auto* asked = new QSocketNotifier(signalPipe[0], QSocketNotifier::Read, &window);
    QObject::connect(asked, &QSocketNotifier::activated, &window, [&window] {
        char byte = 0;
        while (::read(signalPipe[0], &byte, 1) == 1) {
        }
        window.close();
    });
    std::signal(SIGXFSZ, SIG_IGN);
    for (const int signal : {SIGTERM, SIGHUP, SIGINT}) {
        struct sigaction action {};
        ::sigaction(signal, nullptr, &action);
        if (action.sa_handler == SIG_IGN)
            continue;  // by who started it: nohup, say
        action.sa_handler = onSignal;
        ::sigaction(signal, &action, nullptr);
    }
}

}  // namespace noctis
