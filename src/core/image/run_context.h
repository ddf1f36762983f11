#pragma once

#include <functional>
#include <stop_token>

namespace noctis {

/// What long work is given besides its input: a way to be stopped, and a way to tell how far it is.
struct RunContext {
    std::stop_token stop{};
    std::function<void(float)> progress{};  ///< called with 0..1, from any thread, if set

    [[nodiscard]] bool stopped() const noexcept { return stop.stop_requested(); }
    void report(float done) const {
        if (progress)
            progress(done);
    }
};

}  // namespace noctis
