#include "app/session/background.h"

namespace noctis {

void Background::start(std::function<std::function<void()>(std::stop_token)> work,
                       std::function<void(const QString&)> failed) {
    stop();
    const unsigned serial = ++m_serial;
    m_running = true;
    m_thread = std::jthread([this, serial, work = std::move(work),
                             failed = std::move(failed)](const std::stop_token& token) {
        std::function<void()> then;
        try {
            then = work(token);
        } catch (const std::exception& error) {
            then = [failed, text = QString::fromUtf8(error.what())] { failed(text); };
        }
        QMetaObject::invokeMethod(
            m_owner,
            [this, serial, then = std::move(then)] {
                if (serial != m_serial)
                    return;
                m_running = false;
                if (then)
                    then();
            },
            Qt::QueuedConnection);
    });
}

void Background::stop() {
    ++m_serial;
    m_running = false;
    if (m_thread.joinable()) {
        m_thread.request_stop();
        m_thread.join();
    }
}

}  // namespace noctis
