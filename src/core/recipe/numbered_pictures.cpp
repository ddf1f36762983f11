#include "core/recipe/numbered_pictures.h"

#include "core/passes/frame_name.h"

#include <algorithm>

namespace noctis {

bool isSequence(const std::filesystem::path& file) {
    return frameOf(file) && framesBeside(file).size() > 1;
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
