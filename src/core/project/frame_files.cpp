#include "core/project/frame_files.h"

#include "core/passes/frame_name.h"

#include <algorithm>
#include <cstdint>
#include <numeric>

namespace noctis {

namespace fs = std::filesystem;

namespace {

bool isPattern(const fs::path& file) {
    return file.filename().string().find('#') != std::string::npos;
}

fs::path fileAt(const fs::path& file, int frame) {
    return isPattern(file) ? fileOfFrame(file, frame) : atFrame(file, frame);
}

/// Files are of one frame: those that have another number than the first stand for themselves.
std::optional<int> numberOf(FrameFiles& all) {
    std::optional<int> number;
    for (std::size_t i = 0; i < all.files.size(); ++i) {
        if (!all.numbered[i] || isPattern(all.files[i]))
            continue;
        const std::optional<int> own = frameOf(all.files[i]);
        if (!number)
            number = own;
        all.numbered[i] = own == number;
    }
    return number;
}

/// By the numbers of files that lie beside the named ones; a frame is there when all of its files are.
void takeFramesBeside(FrameFiles& all) {
    std::vector<int> any;
    bool begun = false;
    for (std::size_t i = 0; i < all.files.size(); ++i) {
        if (!all.numbered[i])
            continue;
        const std::vector<int> beside = framesBeside(all.files[i]);
        std::vector<int> merged;
        std::ranges::set_union(any, beside, std::back_inserter(merged));
        any = std::move(merged);
        std::vector<int> common;
        std::ranges::set_intersection(all.there, beside, std::back_inserter(common));
        all.there = std::exchange(begun, true) ? common : beside;
    }
    if (any.empty())
        return;
    // Numbers so far apart are no frames: dates, sizes, the names of shots.
    if (std::int64_t{any.back()} - any.front() >= kMostFrames) {
        all.numbered.assign(all.files.size(), false);
        all.there.clear();
        return;
    }
    all.first = any.front();
    all.last = any.back();
    all.step = 0;
    for (std::size_t i = 1; i < any.size(); ++i)
        all.step = std::gcd(all.step, any[i] - any[i - 1]);
    all.step = std::max(all.step, 1);
}

}  // namespace

bool FrameFiles::isSequence() const {
    return last > first && std::ranges::find(numbered, true) != numbered.end();
}

std::vector<fs::path> FrameFiles::at(int frame) const {
    std::vector<fs::path> all;
    for (std::size_t i = 0; i < files.size(); ++i)
        all.push_back(numbered[i] ? fileAt(files[i], frame) : files[i]);
    return all;
}

std::optional<int> FrameFiles::standIn(int frame) const {
    if (there.empty())
        return std::nullopt;
    const auto after = std::ranges::lower_bound(there, frame);
    if (after == there.end())
        return there.back();
    if (*after == frame || after == there.begin())
        return *after;
    const int before = *std::prev(after);
    return frame - before <= *after - frame ? before : *after;
}

std::vector<int> FrameFiles::missing() const {
    std::vector<int> gaps;
    for (int frame = first; isSequence() && frame <= last; frame += step)
        if (!std::ranges::binary_search(there, frame))
            gaps.push_back(frame);
    return gaps;
}

FrameFiles frameFilesOf(const Project& project) {
    FrameFiles all;
    all.files = project.passFiles;
    const auto& sequence = project.sequence;
    if (sequence && !sequence->pattern.empty() &&
        std::ranges::none_of(all.files, [&](const fs::path& file) {
            const auto number = frameOf(file);
            return file == sequence->pattern ||
                   (number && file == fileOfFrame(sequence->pattern, *number));
        }))
        all.files.push_back(sequence->pattern);
    for (const fs::path& file : all.files)
        all.numbered.push_back(isPattern(file) || framesBeside(file).size() > 1);
    const std::optional<int> named = numberOf(all);
    if (sequence) {
        all.first = sequence->first;
        all.last = sequence->last;
        all.step = sequence->step;
        std::error_code ignored;
        for (const int frame : framesFrom(all.first, all.last))
            if (all.isSequence() && (frame - all.first) % all.step == 0 &&
                std::ranges::all_of(
                    all.at(frame), [&](const fs::path& file) { return fs::exists(file, ignored); }))
                all.there.push_back(frame);
    } else {
        takeFramesBeside(all);
    }
    all.named = all.first;
    if (all.isSequence())
        all.named = named.value_or(all.there.empty() ? all.first : all.there.front());
    return all;
}

}  // namespace noctis
