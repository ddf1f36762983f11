#pragma once

namespace noctis {

// Runs of pixels on their way to and from memory. What they are kept in starts on a 64-byte boundary, and so
// do rows of the pictures they are written to.

/// Copies a run, and fetches the lines that follow it into the caches: the next run's.
void fetchRun(const float* from, float* to, int count) noexcept;

/// Writes a run past the caches; other threads see it after flushRuns().
void streamRun(const float* from, float* to, int count) noexcept;
void flushRuns() noexcept;

}  // namespace noctis
