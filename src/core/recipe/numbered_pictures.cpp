#include "core/recipe/numbered_pictures.h"

#include "core/passes/frame_name.h"

#include <algorithm>

#include <fmt/format.h>

namespace noctis {

bool isSequence(const std::filesystem::path& file) {
    return frameOf(file) && framesBeside(file).size() > 1;
}

std::string missingFrames(const std::vector<int>& frames) {
    constexpr std::size_t kMostGaps = 5;
    std::vector<std::string> gaps;
    for (std::size_t i = 1; i < frames.size(); ++i) {
        const int first = frames[i - 1] + 1;
        const int last = frames[i] - 1;
        if (first <= last)
            gaps.push_back(first == last ? fmt::format("{}", first)
                                         : fmt::format("{} to {}", first, last));
    }
    if (gaps.size() > kMostGaps) {
        gaps.resize(kMostGaps);
        gaps.emplace_back("…");
    }
    return fmt::format("{}", fmt::join(gaps, ", "));
}

int frameInstead(const std::vector<int>& frames, int frame, SequenceEnd end) {
    const int first = frames.front();
    const int count = frames.back() - first + 1;
    if (end == SequenceEnd::Loops)
        frame = first + ((frame - first) % count + count) % count;
    const auto after = std::ranges::lower_bound(frames, frame);
    if (after == frames.end())
        return frames.back();
    if (after == frames.begin() || *after == frame)
        return *after;
    return *after - frame < frame - *(after - 1) ? *after : *(after - 1);
}

}  // namespace noctis
