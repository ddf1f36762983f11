#pragma once

#include <cstddef>
#include <memory>

namespace noctis {

/// Memory for a plane of samples, 64-byte aligned and left unset. Large blocks that are freed are kept for the
/// next request of the same size, up to a limit: writing to fresh memory costs several times as much as writing
/// to touched memory.
/// Threads  any.
std::shared_ptr<float[]> takePlane(std::size_t floats);

/// Bytes ready for reuse. Returns them all to the system first if release is set.
std::size_t planesAtRest(bool release = false);

}  // namespace noctis
