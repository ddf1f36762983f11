#include "core/recipe/step.h"

#include "core/settings/value_type.h"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

namespace noctis {

bool Step::operator==(const Step& other) const {
    const bool sameKept = kept == other.kept || (kept && other.kept && *kept == *other.kept);
    return id == other.id && name == other.name && type == other.type && group == other.group &&
           on == other.on && amount == other.amount && blend == other.blend &&
           settings == other.settings && where == other.where && tracks == other.tracks && sameKept;
}

const Step* findStep(const Steps& steps, std::string_view id) noexcept {
    const auto found =
        std::find_if(steps.begin(), steps.end(), [&](const Step& s) { return s.id == id; });
    return found == steps.end() ? nullptr : &*found;
}

Step* findStep(Steps& steps, std::string_view id) noexcept {
    return const_cast<Step*>(findStep(std::as_const(steps), id));
}

std::string freeStepId(const Steps& steps, const std::string& type) {
    std::string id = type;
    for (int i = 2; findStep(steps, id) != nullptr; ++i)
        id = fmt::format("{} {}", type, i);
    return id;
}

void moveStep(Steps& steps, std::string_view id, int by) {
    const Step* moved = findStep(steps, id);
    if (moved == nullptr)
        return;
    const auto from = moved - steps.data();
    const auto to = std::clamp<std::ptrdiff_t>(from + by, 0, std::ssize(steps) - 1);
    const auto first = steps.begin();
    if (from < to)
        std::rotate(first + from, first + from + 1, first + to + 1);
    else
        std::rotate(first + to, first + from, first + from + 1);
}

std::string duplicateStep(Steps& steps, std::string_view id, const std::string& title) {
    const Step* original = findStep(steps, id);
    if (original == nullptr)
        return {};
    Steps copies{*original};
    std::ptrdiff_t end = original - steps.data() + 1;
    if (original->type == kGroup)
        for (; end < std::ssize(steps) && steps[static_cast<std::size_t>(end)].group == id; ++end)
            copies.push_back(steps[static_cast<std::size_t>(end)]);
    copies.front().name = title;
    std::string first;
    for (Step& copy : copies) {
        copy.id = freeStepId(steps, copy.type);
        if (first.empty())
            first = copy.id;
        else
            copy.group = first;
        steps.insert(steps.begin() + end++, copy);
    }
    return first;
}

void removeStep(Steps& steps, std::string_view id) {
    const Step* removed = findStep(steps, id);
    if (removed == nullptr)
        return;
    const std::string gone(id);
    const std::string group = removed->group;
    std::erase_if(steps, [&](const Step& step) { return step.id == gone || step.group == gone; });
    const bool empty = std::none_of(steps.begin(), steps.end(),
                                    [&](const Step& step) { return step.group == group; });
    if (!group.empty() && empty)
        std::erase_if(steps, [&](const Step& step) { return step.id == group; });
}

void addFilesOf(const Steps& steps, std::vector<std::filesystem::path>& files) {
    for (const Step& step : steps) {
        addFilesOf(step.settings, files);
        addFilesOf(step.where, files);
    }
}

}  // namespace noctis
