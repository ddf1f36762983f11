#pragma once

#include <functional>

namespace bench {

/// Lets the window work until something is so, and sleep in between, as it would on a desk.
/// Result   how long it took, ms; at most what is allowed.
double runWindow(const std::function<bool()>& until, int atMostMs);

}  // namespace bench
