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
    if (m_requests.size() == 1 && !m_background.running() && !m_applying)
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
    const auto failed = m_requests.front().failed;
    const auto fail = [this, failed](const QString& text) {
        end([failed, text] { failed(text); }, failed);
    };
    Work work;
    try {
        work = m_requests.front().begin();
    } catch (const std::exception& error) {
        return fail(QString::fromUtf8(error.what()));
    }
    m_background.start(
        [this, work, failed](const std::stop_token& stop) -> std::function<void()> {
            const RunContext run{.stop = stop, .progress = [this](float done) {
                                     m_done = done;
                                     Q_EMIT progressed();
                                 }};
            const Apply apply = work(run);
            return [this, apply, failed] { end(apply, failed); };
        },
        fail);
    Q_EMIT progressed();
}

void PassReader::end(const Apply& apply, const Failed& failed) {
    if (!m_dropped) {
        m_requests.pop_front();
        m_applying = true;  // what it asks for waits for its end
        try {
            apply();
        } catch (const std::exception& error) {
            failed(QString::fromUtf8(error.what()));
        }
        m_applying = false;
    }
    next();
}

void PassReader::stop() {
    if (!running())
        return;
    m_dropped = true;
    m_requests.clear();
    m_background.askToStop();
}

QString PassReader::what() const {
    return m_requests.empty() ? QString() : m_requests.front().what;
}

double PassReader::secondsLeft() const { return noctis::secondsLeft(m_done, m_clock); }

}  // namespace noctis
