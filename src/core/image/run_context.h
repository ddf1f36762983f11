#pragma once

#include <cstddef>
#include <functional>
#include <mutex>
#include <stop_token>

namespace noctis {

/// Passed to long work besides its input: a way to stop it and a way to report progress.
struct RunContext {
    std::stop_token stop{};
    /// Called with 0..1, if set: from any thread, but never from two at once, and never with less than before.
    std::function<void(float)> progress{};

    [[nodiscard]] bool stopped() const noexcept { return stop.stop_requested(); }
    void report(float done) const {
        if (progress)
            progress(done);
    }
};

/// The run of one of several equal parts of work; run outlives it.
[[nodiscard]] inline RunContext partOf(const RunContext& run, std::size_t index,
                                       std::size_t count) {
    if (!run.progress)
        return {run.stop, {}};
    return {run.stop, [&run, index, count](float done) {
                run.report((static_cast<float>(index) + done) / static_cast<float>(count));
            }};
}

/// Progress of several threads on the same work, reported as RunContext::progress promises.
class SharedProgress {
public:
    /// run outlives this.
    explicit SharedProgress(const RunContext& run) : m_run(run) {}

    void reach(float done) {
        if (!m_run.progress)
            return;
        const std::scoped_lock lock(m_mutex);
        if (done <= m_reached)
            return;
        m_reached = done;
        m_run.report(done);
    }

private:
    const RunContext& m_run;
    std::mutex m_mutex;
    float m_reached = 0.0F;
};

}  // namespace noctis
