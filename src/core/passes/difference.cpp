#include "core/passes/difference.h"

#include "core/passes/statistics.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

namespace {

std::vector<std::string> namesMissing(const PassSet& in, const PassSet& of) {
    std::vector<std::string> names;
    for (const Pass& pass : of.passes)
        if (!pass.derived && in.find(std::string_view(pass.name)) == nullptr)
            names.push_back(pass.name);
    return names;
}

std::string rangeText(const Statistics& s, std::string_view unit) {
    return fmt::format("{:.3g} to {:.3g}{}{}", s.minimum, s.maximum, unit.empty() ? "" : " ", unit);
}

}  // namespace

std::vector<std::string> differencesOf(const PassSet& before, const PassSet& now) {
    std::vector<std::string> differ;
    if (before.width != now.width || before.height != now.height)
        differ.push_back(fmt::format(
            "It is {} x {} and was {} x {}; what was placed in pixels is scaled with it.",
            now.width, now.height, before.width, before.height));
    if (before.camera.has_value() != now.camera.has_value())
        differ.emplace_back(now.camera ? "It has a camera now." : "It no longer has a camera.");
    else if (before.camera && !(*before.camera == *now.camera))
        differ.emplace_back("The camera differs.");
    if (const auto gone = namesMissing(now, before); !gone.empty())
        differ.push_back(fmt::format("Gone: {}.", fmt::join(gone, ", ")));
    if (const auto added = namesMissing(before, now); !added.empty())
        differ.push_back(fmt::format("New: {}.", fmt::join(added, ", ")));
    for (const Pass& pass : now.passes) {
        const Pass* was = before.find(std::string_view(pass.name));
        if (was == nullptr || pass.derived || passKindInfo(pass.kind).matte() ||
            pass.image.channels() == 0)
            continue;
        const Statistics a = statisticsOf(was->image, 0);
        const Statistics b = statisticsOf(pass.image, 0);
        const float span = std::max(a.maximum - a.minimum, 1e-6F);
        constexpr float kAlike = 0.01F;
        if (a.counted > 0 && b.counted > 0 &&
            (std::abs(a.minimum - b.minimum) > kAlike * span ||
             std::abs(a.maximum - b.maximum) > kAlike * span))
            differ.push_back(fmt::format("{} runs from {}; it ran from {} before.", pass.name,
                                         rangeText(b, passKindInfo(pass.kind).unit),
                                         rangeText(a, passKindInfo(pass.kind).unit)));
    }
    return differ;
}

}  // namespace noctis
