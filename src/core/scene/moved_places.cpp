#include "core/scene/moved_places.h"

#include "core/scene/traceable.h"

#include <algorithm>
#include <iterator>
#include <set>
#include <sstream>

#include <fmt/format.h>

namespace noctis {

namespace {

template <typename Named> std::vector<std::string> keysOf(const std::vector<Named>& things) {
    std::map<std::string, int> met;
    std::vector<std::string> keys;
    for (const Named& thing : things) {
        const int count = ++met[thing.name];
        keys.push_back(count == 1 ? thing.name : fmt::format("{} {}", thing.name, count));
    }
    return keys;
}

std::set<std::string> linesOf(const std::string& text) {
    std::istringstream in(text);
    std::set<std::string> lines;
    for (std::string line; std::getline(in, line);)
        lines.insert(line);
    return lines;
}

}  // namespace

std::vector<std::string> lightKeys(const Scene& scene) { return keysOf(scene.lights); }
std::vector<std::string> locatorKeys(const Scene& scene) { return keysOf(scene.locators); }

std::vector<Light> lightsOf(const Scene& scene, const MovedPlaces& moved) {
    std::vector<Light> lights = scene.lights;
    const std::vector<std::string> keys = lightKeys(scene);
    for (std::size_t i = 0; i < lights.size(); ++i) {
        if (const auto place = moved.lights.find(keys[i]); place != moved.lights.end())
            lights[i].position = place->second;
        if (const auto way = moved.suns.find(keys[i]);
            way != moved.suns.end() && way->second.length2() > 0.0F)
            lights[i].direction = way->second.normalized();
        (void)makeTraceable(lights[i]);
    }
    return lights;
}

std::vector<Locator> locatorsOf(const Scene& scene, const MovedPlaces& moved) {
    std::vector<Locator> locators = scene.locators;
    const std::vector<std::string> keys = locatorKeys(scene);
    for (std::size_t i = 0; i < locators.size(); ++i)
        if (const auto place = moved.locators.find(keys[i]); place != moved.locators.end())
            for (int c = 0; c < 3; ++c)
                locators[i].toWorld[3][c] = place->second[c];
    return locators;
}

std::string textOfMovedLights(const MovedPlaces& moved, const std::string& name) {
    std::string text;
    for (const auto* lights : {&moved.lights, &moved.suns})
        for (const auto& [key, v] : *lights)
            if (name.empty() || key == name || key.starts_with(name + " "))
                text += fmt::format("{}: {:.5g} {:.5g} {:.5g}\n", key, v.x, v.y, v.z);
    return text;
}

std::string movedLightBetween(const std::string& before, const std::string& now) {
    const std::set<std::string> was = linesOf(before);
    const std::set<std::string> is = linesOf(now);
    std::vector<std::string> differing;
    std::set_symmetric_difference(was.begin(), was.end(), is.begin(), is.end(),
                                  std::back_inserter(differing));
    return differing.empty() ? std::string() : differing[0].substr(0, differing[0].rfind(':'));
}

}  // namespace noctis
