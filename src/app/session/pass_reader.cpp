#include "app/session/pass_reader.h"

#include "app/session/time_left.h"

#include <algorithm>

namespace noctis {

void PassReader::ask(Request request) {
    if (!request.once.isEmpty() && std::ranges::any_of(m_requests, [&](const Request& other) {
            return other.once == request.once;
        }))
        return;
    m_requests.push_back(std::move(request));
    if (m_requests.size() == 1 && !m_background.running())
        next();
}

void PassReader::next() {
    if (m_requests.empty()) {
        Q_EMIT finished();
        return;
    }
    m_done = 0.0F;
    m_dropped = false;
    m_clock.start();
    Work work;
    try {
        work = m_requests.front().begin();
    } catch (const std::exception& error) {
        return end([failed = m_requests.front().failed, text = QString::fromUtf8(error.what())] {
            failed(text);
        });
    }
    m_background.start(
        [this, work](const std::stop_token& stop) -> std::function<void()> {
            const RunContext run{.stop = stop, .progress = [this](float done) {
                                     m_done = done;
                                     Q_EMIT progressed();
                                 }};
            const Apply apply = work(run);
            return [this, apply] { end(apply); };
        },
        [this](const QString& text) { end([this, text] { m_requests.front().failed(text); }); });
    Q_EMIT progressed();
}

void PassReader::end(const std::function<void()>& result) {
    if (m_dropped)
        return next();
    const Request ended = m_requests.front();
    try {
        result();
    } catch (const std::exception& error) {
        ended.failed(QString::fromUtf8(error.what()));
    }
    // The result may have stopped the reader, and asked for more.
    if (!m_dropped)
        m_requests.pop_front();
    next();
}

void PassReader::stop() {
    if (!running())
        return;
    m_dropped = true;
    m_requests.clear();
    m_background.askToStop();
    Q_EMIT stopped();
}

QString PassReader::what() const {
    return m_requests.empty() ? QString() : m_requests.front().what;
}

double PassReader::secondsLeft() const { return noctis::secondsLeft(m_done, m_clock); }

}  // namespace noctis
