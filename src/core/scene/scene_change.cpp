#include "core/scene/scene_change.h"

#include "core/scene/signature_sums.h"

#include <cmath>
#include <functional>
#include <optional>
#include <vector>

#include <fmt/format.h>

namespace noctis {

namespace {

/// Part of a sum's size that rounding may take; a finger's breadth of one crate in a harbour is more.
constexpr double kRounding = 1e-9;
/// The same for an object's form, which only separates moved from changed.
constexpr double kSameForm = 1e-4;

bool same(const Sums& a, const Sums& b, std::size_t which, double tolerance = kRounding) {
    if (which >= a.size() || which >= b.size())
        return a.size() == b.size();
    const double size = std::max(a[which][1], b[which][1]);
    return std::abs(a[which][0] - b[which][0]) <= tolerance * size;
}

/// What happened to a thing that is in both scenes; empty if it is the same.
using Change = std::function<std::string(const Sums& before, const Sums& now)>;

void compare(const Things& before, const Things& now, const Change& change,
             std::vector<std::string>& changes) {
    const auto note = [&](const std::string& name, const std::string& what) {
        if (!what.empty())
            changes.push_back(name + " " + what);
    };
    for (const auto& [name, sums] : now) {
        const auto was = before.find(name);
        note(name, was == before.end() ? "added" : change(was->second, sums));
    }
    for (const auto& [name, sums] : before)
        if (!now.contains(name))
            note(name, "gone");
}

std::string changeOfObject(const Sums& before, const Sums& now) {
    if (!same(before, now, kSurface) || !same(before, now, kForm, kSameForm))
        return "changed";
    return same(before, now, kWhere) ? "" : "moved";
}

std::string changeOfLight(const Sums& before, const Sums& now) {
    if (!same(before, now, kShine))
        return "changed";
    return same(before, now, kPlace) ? "" : "moved";
}

std::string changeOfMaterial(const Sums& before, const Sums& now) {
    return same(before, now, kRelief) && same(before, now, kLook) ? "" : "changed";
}

std::string changeOfRelief(const Sums& before, const Sums& now) {
    return same(before, now, kRelief) ? "" : "changed";
}

std::string changeOfMotion(const Sums& before, const Sums& now) {
    return same(before, now, 0) ? "" : "changed";
}

Things onlyNamed(const Things& all, const std::string& name) {
    const auto found = all.find(name);
    return found == all.end() ? Things{} : Things{*found};
}

Things inBoth(Things things, const Things& others) {
    std::erase_if(things, [&](const auto& thing) { return !others.contains(thing.first); });
    return things;
}

std::string changeBetween(const SignatureSums& before, const SignatureSums& now,
                          const SceneReading& reading) {
    std::vector<std::string> changes;
    const auto add = [&](const Things& a, const Things& b, const Change& change) {
        compare(a, b, change, changes);
    };
    if (inBoth(before.objects, now.objects).empty())
        return "another scene";
    add(before.objects, now.objects, changeOfObject);
    // A material that comes or goes without its look being read is noticed by the objects that have it.
    if (reading.look)
        add(before.materials, now.materials, changeOfMaterial);
    else if (reading.relief)
        add(inBoth(before.materials, now.materials), inBoth(now.materials, before.materials),
            changeOfRelief);
    if (!reading.light.empty())
        add(onlyNamed(before.lights, reading.light), onlyNamed(now.lights, reading.light),
            changeOfLight);
    else if (reading.lights)
        add(before.lights, now.lights, changeOfLight);
    if (reading.motion)
        add(before.motion, now.motion, changeOfMotion);
    if (changes.empty())
        return {};
    return changes.size() == 1 ? changes[0]
                               : fmt::format("{} and {} more", changes[0], changes.size() - 1);
}

}  // namespace

/// Two parsed signatures, and the changes found between them.
struct SceneComparisons::Since {
    std::optional<SignatureSums> before;
    std::optional<SignatureSums> now;
    std::vector<std::pair<SceneReading, std::string>> known;
};

std::string SceneComparisons::change(const std::string& before, const std::string& now,
                                     const SceneReading& reading) {
    if (before == now || before.empty() || now.empty())
        return {};
    if (m_now != now) {
        m_now = now;
        m_since.clear();
    }
    std::shared_ptr<Since>& since = m_since[before];
    if (!since)
        since = std::make_shared<Since>(Since{signatureFrom(before), signatureFrom(now), {}});
    for (const auto& [asked, change] : since->known)
        if (asked == reading)
            return change;
    const bool readable = since->before && since->now;
    return since->known
        .emplace_back(reading, readable ? changeBetween(*since->before, *since->now, reading)
                                        : std::string("scene changed"))
        .second;
}

std::string sceneChange(const std::string& before, const std::string& now,
                        const SceneReading& reading) {
    return SceneComparisons().change(before, now, reading);
}

}  // namespace noctis
