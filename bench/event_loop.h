#pragma once

#include "harness.h"

#include <functional>

namespace bench {

/// Lets the window work until something is so, and sleep in between, as it would on a desk.
/// Result   how long it took, ms; at most what is allowed.
double runWindow(const std::function<bool()>& until, int atMostMs);

/// The median of some times, ms, beside what is wanted.
Row rowOfTimes(const std::string& name, std::vector<double> times, double wanted);

}  // namespace bench
