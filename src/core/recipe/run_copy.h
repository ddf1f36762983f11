#pragma once

namespace noctis {

/// Reads a run into the caches, and fetches the lines that follow it: the next run's.
void fetchRun(const float* from, float* to, int count) noexcept;

/// Writes a run past the caches. to starts on a 64-byte boundary; other threads see it after flushRuns().
void streamRun(const float* from, float* to, int count) noexcept;
void flushRuns() noexcept;

}  // namespace noctis
