#include "core/passes/pass_attributes.h"

#include "core/image/json_text.h"
#include "core/passes/pass.h"

#include <algorithm>
#include <cctype>

#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

std::string lower(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

bool holds(const std::string& text, std::initializer_list<std::string_view> words) {
    return std::any_of(words.begin(), words.end(),
                       [&](std::string_view word) { return text.find(word) != std::string::npos; });
}

std::string textIn(const Attributes& attributes, const std::string& name) {
    const auto found = attributes.find(name);
    const auto* text =
        found == attributes.end() ? nullptr : std::get_if<std::string>(&found->second);
    return text == nullptr ? std::string() : *text;
}

bool isOneOf(const std::string& suffix, std::initializer_list<std::string_view> names) {
    const std::string name = lower(suffix);
    return std::find(names.begin(), names.end(), name) != names.end();
}

SplitName split(const std::string& channel) {
    const auto dot = channel.rfind('.');
    if (dot == std::string::npos)
        return {"", channel};
    return {channel.substr(0, dot), channel.substr(dot + 1)};
}

namespace {

/// A part's attributes as they hold for one of its layers.
Attributes ofLayer(const Attributes& part, const std::string& layer) {
    const Json all = parseJsonIfAny(textIn(part, kPasses));
    Attributes attributes = part;
    if (all.is_object() && all.contains(layer) && all[layer].is_object())
        for (const auto& [key, value] : all[layer].items())
            if (value.is_string())
                attributes[key] = value.get<std::string>();
    return attributes;
}

}  // namespace

std::string layerOf(const FilePart& part) {
    if (!part.layer.empty())
        return part.layer;
    return part.image.channelName(0) == "Z" ? "depth" : "";
}

Attributes attributesOf(const FileInfo& file, int firstChannel, const std::string& layer,
                        const Attributes& sidecar) {
    const FileChannel& channel = file.channels[static_cast<std::size_t>(firstChannel)];
    Attributes attributes = ofLayer(file.attributes[static_cast<std::size_t>(channel.part)], layer);
    attributes.insert(sidecar.begin(), sidecar.end());
    const auto kind = passKindNamed(textIn(attributes, kKind));
    const bool integers = channel.type == SampleType::Byte || channel.type == SampleType::Short;
    if (integers && kind && passKindInfo(*kind).data() && textIn(attributes, kReading).empty() &&
        textIn(attributes, kRange).empty())
        for (const char* name : kOfOnePass)
            attributes.erase(name);
    return attributes;
}

}  // namespace noctis
