#include "core/recipe/step.h"

#include "core/settings/value_type.h"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

namespace noctis {

bool Step::operator==(const Step& other) const {
    const bool sameKept = kept == other.kept || (kept && other.kept && *kept == *other.kept);
    return id == other.id && name == other.name && type == other.type && on == other.on &&
           amount == other.amount && blend == other.blend && settings == other.settings &&
           where == other.where && sameKept;
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

void addFilesOf(const Steps& steps, std::vector<std::filesystem::path>& files) {
    for (const Step& step : steps) {
        addFilesOf(step.settings, files);
        addFilesOf(step.where, files);
    }
}

}  // namespace noctis
