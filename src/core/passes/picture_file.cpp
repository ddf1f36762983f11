#include "core/image/colour.h"
#include "core/passes/pass_attributes.h"
#include "core/passes/pass_file.h"
#include "core/passes/settled_colour.h"

#include <algorithm>
#include <cctype>

namespace noctis {

namespace fs = std::filesystem;

Image settledColour(Image image, const FileInfo& info) {
    const bool hasAlpha = image.channel("A") >= 0;
    if (!info.sceneLinear) {
        // The curve is that of straight colours.
        if (hasAlpha && !info.straightAlpha)
            image = straightFromAssociated(image);
        image = linearFromSrgb(image);
    }
    const bool straight = info.straightAlpha || !info.sceneLinear;
    return hasAlpha && straight ? associatedFromStraight(image) : image;
}

Image readPicture(const fs::path& path) {
    const FileInfo file = readFileInfo(path);
    std::vector<int> channels;
    std::vector<std::string> names;
    for (const char* wanted : {"r", "g", "b", "a"})
        for (int c = 0; c < static_cast<int>(file.channels.size()); ++c)
            if (lower(file.channels[static_cast<std::size_t>(c)].name) == wanted) {
                channels.push_back(c);
                names.emplace_back(1, static_cast<char>(std::toupper(*wanted)));
                break;
            }
    if (channels.size() < 3) {  // grey, or with other names
        const int last = static_cast<int>(file.channels.size()) - 1;
        channels = {0, std::min(1, last), std::min(2, last)};
        if (last < 2)
            channels = {0, 0, 0};
        names = {"R", "G", "B"};
        if (last == 1 || last == 3) {
            channels.push_back(last);
            names.emplace_back("A");
        }
    }
    Image image =
        settledColour(readFileChannels(file, channels)
                          .select(
                              [&] {
                                  std::vector<int> all;
                                  for (int c = 0; c < static_cast<int>(channels.size()); ++c)
                                      all.push_back(c);
                                  return all;
                              }(),
                              names),
                      file);
    if (image.channels() == 3)
        image.append(Image(image.width(), image.height(), {"A"}, 1.0F));
    return image;
}

}  // namespace noctis
