#pragma once

#include "core/passes/pass_set.h"

#include <filesystem>
#include <map>
#include <memory>
#include <string>

namespace noctis {

class Typeface;

/// Pictures that steps read from files: scene-linear R G B A, associated. Read once, and again when the
/// file has changed.
/// Threads  one at a time.
class PictureFiles {
public:
    /// Errors   as readFileInfo.
    [[nodiscard]] Image read(const std::filesystem::path& path);
    /// All passes of a file; the last one's are kept. Errors: as readPasses.
    [[nodiscard]] std::shared_ptr<const PassSet> passes(const std::filesystem::path& path);
    /// A typeset text; an empty font is the application's own. Errors: as Typeface and textImage.
    [[nodiscard]] Image text(const std::string& text, const std::filesystem::path& font,
                             int pixelsPerLine);

    /// Identifies the content by time and size of the file; "" if it is missing.
    [[nodiscard]] static std::string stampOf(const std::filesystem::path& path);

private:
    struct Read {
        std::string stamp;
        Image image;
    };
    std::map<std::filesystem::path, Read> m_read;
    struct ReadPasses {
        std::filesystem::path path;
        std::string stamp;
        std::shared_ptr<const PassSet> passes;
    };
    ReadPasses m_passes;
    struct Font {
        std::string stamp;
        std::shared_ptr<const Typeface> typeface;
    };
    const Typeface& typeface(const std::filesystem::path& path);
    std::map<std::filesystem::path, Font> m_fonts;
    std::map<std::string, Image> m_texts;
};

}  // namespace noctis
