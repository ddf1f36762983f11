#include "cli/framing_options.h"

namespace noctis {

void addFramingOptions(CLI::App& command, FramingTexts& texts) {
    command.add_option("--crop", texts.crop, "Write a part: X,Y,W,H in pixels of the full picture");
    command.add_option("--size", texts.size,
                       "Write it as large as WxH, or with N pixels on its longer side");
}

Framing framingOf(const FramingTexts& texts) {
    Framing framing;
    if (!texts.crop.empty())
        framing.crop = cropFromText(texts.crop);
    if (!texts.size.empty())
        sizeFromText(texts.size, framing);
    return framing;
}

}  // namespace noctis
