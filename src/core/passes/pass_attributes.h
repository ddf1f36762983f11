#pragma once

#include "core/image/image_file.h"

#include <array>
#include <filesystem>
#include <initializer_list>
#include <string>
#include <string_view>

namespace noctis {

// How files identify passes: attributes that only Noctis writes, layers, and words in names. For reading and
// writing pass files alone.

inline constexpr const char* kKind = "noctis.kind";
inline constexpr const char* kSpace = "noctis.space";
inline constexpr const char* kSampling = "noctis.sampling";
inline constexpr const char* kSettings = "noctis.settings";
inline constexpr const char* kUnit = "noctis.unit";
inline constexpr const char* kReading = "noctis.reading";
inline constexpr const char* kRange = "noctis.range";
/// Cameras, as worldToCamera and worldToNDC; of the frames beside this one, with these before the names.
inline constexpr const char* kOfFrameBefore = "noctis.before.";
inline constexpr const char* kOfFrameAfter = "noctis.after.";
inline constexpr const char* kLights = "noctis.lights";
/// Of a beauty whose A is the picture's own; in files of ours without it, A is the coverage.
inline constexpr const char* kAlpha = "noctis.alpha";
/// For files with all passes in one part: the attributes of each pass, as JSON by layer.
inline constexpr const char* kPasses = "noctis.passes";
inline constexpr std::array kOfOnePass{kKind,     kUnit,    kSampling, kSpace,
                                       kSettings, kReading, kAlpha};

std::string lower(std::string text);
/// Whether any of the words is in the text.
bool holds(const std::string& text, std::initializer_list<std::string_view> words);
/// Whether the name, in lower case, is one of these.
bool isOneOf(const std::string& suffix, std::initializer_list<std::string_view> names);
/// A text attribute; empty if missing.
std::string textIn(const Attributes& attributes, const std::string& name);

/// "light.moon.R" is channel R of layer light.moon.
struct SplitName {
    std::string layer;
    std::string suffix;
};
SplitName split(const std::string& channel);

/// The layer of a part's channels, as attributesOf wants it.
std::string layerOf(const FilePart& part);
/// The attributes of the pass with that first channel, from its layer and a sidecar. None that no longer hold:
/// when another program converts a data pass to integers, it keeps the words, but lacks the reading or range
/// that ours have.
Attributes attributesOf(const FileInfo& info, int firstChannel, const std::string& layer,
                        const Attributes& sidecar);

}  // namespace noctis
