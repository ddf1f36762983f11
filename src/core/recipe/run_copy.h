#pragma once

namespace noctis {

// Copies runs of pixels to and from memory. Buffers and rows of pictures start on 64-byte boundaries.

/// Copies a run, and fetches the lines that follow it into the caches: the next run's.
void fetchRun(const float* from, float* to, int count) noexcept;

/// Writes a run past the caches; other threads see it after flushRuns().
void streamRun(const float* from, float* to, int count) noexcept;
void flushRuns() noexcept;

}  // namespace noctis
