#pragma once

#include <cstddef>
#include <memory>

namespace noctis {

/// Memory for a plane of samples, 64-byte aligned and left unset. Large blocks that are given back are
/// kept for the next of the same size, up to a limit: writing to fresh memory costs several times what
/// writing to touched memory costs.
/// Threads  any.
std::shared_ptr<float[]> takePlane(std::size_t floats);

/// Bytes that lie ready for reuse. Gives them all back to the system first if release is set.
std::size_t planesAtRest(bool release = false);

}  // namespace noctis
