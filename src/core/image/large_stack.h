#pragma once

#include <cstddef>
#include <functional>

namespace noctis {

/// Runs work on a thread of its own with that much stack, in bytes, and waits for it: libraries recurse as deeply as
/// the files they read are nested. Throws what work throws.
void runWithStack(std::size_t bytes, const std::function<void()>& work);

}  // namespace noctis
