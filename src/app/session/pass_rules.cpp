#include "app/session/pass_rules.h"

#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/image/safe_write.h"

#include <array>

#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

PassRules::PassRules(std::filesystem::path file) : m_file(std::move(file)) {
    std::error_code failed;
    if (!std::filesystem::exists(m_file, failed))
        return;
    Json json;
    try {
        json = parseJson(readTextFile(m_file));
    } catch (const Error&) {
        // Out of the way of the rules to come, but not lost.
        std::filesystem::rename(m_file, m_file.string() + ".damaged", failed);
    }
    if (!json.is_object())
        return;
    for (const auto& [key, value] : json.items())
        if (const auto reading = readingFromText(value.dump()))
            m_rules[key] = *reading;
}

void PassRules::keep(const std::string& key, const PassReading& reading) {
    m_rules[key] = reading;
    write();
}

void PassRules::remove(const std::string& key) {
    m_rules.erase(key);
    write();
}

void PassRules::write() const {
    Json json = Json::object();
    for (const auto& [key, reading] : m_rules)
        json[key] = Json::parse(textFromReading(reading));
    std::filesystem::create_directories(m_file.parent_path());
    writeTextFile(m_file, json.dump(2));
}

std::string inWords(const PassReading& r) {
    static constexpr std::array kCodings{"in metres", "normalised", "inverse", "projected"};
    static constexpr std::array kAxes{"", ", camera axes", ", world axes"};
    static constexpr std::array kNormals{"", ", stored -1 to 1", ", stored 0 to 1"};
    static constexpr std::array kGreens{"", ", green up", ", green down"};
    std::string text = r.kind ? std::string(passKindInfo(*r.kind).label) : "As guessed";
    if (r.depth)
        text += std::string(", ") + kCodings.at(static_cast<std::size_t>(r.depth->coding));
    if (r.normal)
        text += std::string(kAxes.at(static_cast<std::size_t>(r.normal->axes))) +
                kNormals.at(static_cast<std::size_t>(r.normal->coding)) +
                kGreens.at(static_cast<std::size_t>(r.normal->green));
    if (r.evened)
        text += ", bands smoothed";
    if (r.snapped)
        text += ", edges snapped";
    if (r.filled)
        text += ", gaps filled";
    if (r.straight)
        text += *r.straight ? ", straight alpha" : ", associated alpha";
    return text;
}

}  // namespace noctis
