#include "core/image/utf8.h"
#include "core/passes/pass_attributes.h"
#include "core/passes/pass_file.h"
#include "core/passes/sidecar.h"

#include <algorithm>
#include <array>
#include <cctype>

namespace noctis {

namespace fs = std::filesystem;

namespace {

/// Whether one of the words stands in a name by itself: "shot_z.0001" and "shotZ" have z.
bool hasWord(const std::string& name, std::initializer_list<std::string_view> words) {
    const auto is = [](int (*what)(int), char c) {
        return what(static_cast<unsigned char>(c)) != 0;
    };
    std::string word;
    for (std::size_t i = 0; i <= name.size(); ++i) {
        const bool inWord = i < name.size() && is(std::isalpha, name[i]);
        const bool begins =
            inWord && i > 0 && is(std::isupper, name[i]) && is(std::islower, name[i - 1]);
        if (!inWord || begins) {
            if (std::find(words.begin(), words.end(), word) != words.end())
                return true;
            word.clear();
        }
        if (inWord)
            word += static_cast<char>(std::tolower(static_cast<unsigned char>(name[i])));
    }
    return false;
}

/// What a layer is, by the words in its name. The trade's words; the last resort is a colour layer.
PassKind kindByName(const std::string& layer, std::size_t channels) {
    const std::string name = lower(layer);
    if (const auto own = passNamed(layer); own && own->kind != PassKind::Colour)
        return own->kind;
    if (holds(name, {"depth", "zbuffer"}) || hasWord(layer, {"z", "zdepth", "dpt"}))
        return PassKind::Depth;
    if (holds(name, {"distance"}))
        return PassKind::Distance;
    if ((holds(name, {"normal"}) || hasWord(layer, {"nrm", "norm", "nor", "n"})) && channels >= 3)
        return PassKind::Normal;
    if ((holds(name, {"position"}) || hasWord(layer, {"pos", "p"})) && channels >= 3)
        return PassKind::Position;
    if (holds(name, {"occlusion"}) || hasWord(layer, {"ao"}))
        return PassKind::Occlusion;
    if (holds(name, {"mist"}))
        return PassKind::Mist;
    if (holds(name, {"coverage"}) || hasWord(layer, {"alpha"}))
        return PassKind::Coverage;
    if (holds(name, {"object"}) && channels >= 4)
        return PassKind::Objects;
    if (holds(name, {"material"}) && channels >= 4)
        return PassKind::Materials;
    if (name.empty() || holds(name, {"beauty", "combined", "rgba", "composite"}))
        return channels >= 3 ? PassKind::Beauty : PassKind::Colour;
    return PassKind::Colour;
}

/// "objects00" and "objects01" are ranks of one matte.
std::string withoutRank(const std::string& layer) {
    const std::string name = lower(layer);
    if (layer.size() > 2 && holds(name, {"object", "material", "groups"}) &&
        std::isdigit(static_cast<unsigned char>(layer.back())) != 0 &&
        std::isdigit(static_cast<unsigned char>(layer[layer.size() - 2])) != 0)
        return layer.substr(0, layer.size() - 2);
    return layer;
}

int channelOrder(const std::string& suffix) {
    static const std::string order = "rgbaxyzuvw";
    const std::string name = lower(suffix);
    if (name == "red" || name == "green" || name == "blue" || name == "alpha")
        return channelOrder(name.substr(0, 1));
    // Motion: to the previous frame, then to the next.
    static const std::array<std::string, 4> motion{"px", "py", "nx", "ny"};
    if (const auto* found = std::find(motion.begin(), motion.end(), name); found != motion.end())
        return static_cast<int>(found - motion.begin());
    const auto at = name.size() == 1 ? order.find(name) : std::string::npos;
    return at == std::string::npos ? 99 : static_cast<int>(at);
}

}  // namespace

std::vector<PassInFile> passesIn(const fs::path& path, const FileInfo& info) {
    std::vector<PassInFile> found;
    const auto passOf = [&](const std::string& name, int part) -> PassInFile& {
        for (PassInFile& pass : found)
            if (pass.name == name && pass.part == part)
                return pass;
        found.push_back({name, PassKind::Colour, {}, part, name, {}, false});
        return found.back();
    };
    for (int c = 0; c < static_cast<int>(info.channels.size()); ++c) {
        const FileChannel& channel = info.channels[static_cast<std::size_t>(c)];
        auto [layer, suffix] = split(channel.name);
        if (layer.empty() && isOneOf(suffix, {"z", "depth"}))
            layer = "depth";
        else if (layer.empty() && !isOneOf(suffix, {"r", "g", "b", "a", "y"}))
            layer = suffix;
        passOf(withoutRank(layer), channel.part).channels.push_back(c);
    }
    for (PassInFile& pass : found) {
        // Files list channels by their alphabet; ranks of a matte stay together.
        std::stable_sort(pass.channels.begin(), pass.channels.end(), [&](int a, int b) {
            const SplitName one = split(info.channels[static_cast<std::size_t>(a)].name);
            const SplitName other = split(info.channels[static_cast<std::size_t>(b)].name);
            if (one.layer != other.layer)
                return one.layer < other.layer;
            return channelOrder(one.suffix) < channelOrder(other.suffix);
        });
        pass.layer = pass.name;
        std::vector<std::string> ignored;  // those who read the passes warn
        const Attributes stated =
            attributesOf(info, pass.channels.front(), pass.layer,
                         found.size() == 1 ? sidecarOf(path, ignored) : Attributes());
        const auto kind = passKindNamed(textIn(stated, kKind));
        const bool wholeFile = pass.name.empty() && found.size() == 1;
        const std::string name = wholeFile ? path.stem().string() : pass.name;
        pass.kind = kind.value_or(kindByName(name, pass.channels.size()));
        pass.stated = kind.has_value();
        const bool onlyZ =
            !kind && pass.kind == PassKind::Colour && pass.channels.size() == 1 &&
            isOneOf(
                split(info.channels[static_cast<std::size_t>(pass.channels.front())].name).suffix,
                {"z", "depth"});
        if (onlyZ)
            pass.kind = PassKind::Depth;
        pass.why = kind    ? kFileSaysSo
                   : onlyZ ? "its channel is Z"
                   : pass.kind == PassKind::Colour
                       ? "nothing in the name or values suggests otherwise"
                   : pass.name.empty() && !wholeFile ? "its channels are R, G and B"
                                                     : "from its name, " + asUtf8(name);
        if (wholeFile && pass.kind == PassKind::Colour && !kind)
            pass.kind = PassKind::Beauty;
        if (pass.name.empty() || (wholeFile && pass.kind != PassKind::Colour))
            pass.name = passKindInfo(pass.kind).id;
        pass.name = asUtf8(pass.name);
    }
    return found;
}

}  // namespace noctis
