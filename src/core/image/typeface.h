#pragma once

#include "core/image/input_file.h"

#include <memory>
#include <string>
#include <vector>

struct FT_LibraryRec_;
struct FT_FaceRec_;

namespace noctis {

/// A typeface, held in memory: its file can be exchanged or changed in place meanwhile. Drawn by FreeType, without
/// hints, which are programs of the file.
/// Threads  one at a time each.
class Typeface {
public:
    /// Tries the file before it is read; see trial.h. An empty path is the application's own.
    /// Errors   Error(FileAccess, BadFile, TooLarge).
    explicit Typeface(const std::filesystem::path& path);
    /// Of a file known to be harmless.
    explicit Typeface(const InputFile& file);

    struct Glyph {
        unsigned index;
        int left;  ///< px from the pen to its first column
        int top;   ///< px from the base line up to its first row
        int width;
        int height;
        float advance;                     ///< px to the next pen
        std::vector<unsigned char> cover;  ///< row by row
    };
    /// size: px from line to line.
    /// Errors   Error(BadFile).
    [[nodiscard]] Glyph glyph(char32_t character, int size) const;
    /// px that the pen moves between two glyphs that were drawn last at that size.
    [[nodiscard]] float kerning(unsigned before, unsigned after) const;
    /// Draws each of its glyphs, as far as there are any: what a trial does.
    void drawAll(int size) const;

private:
    [[nodiscard]] Glyph glyphAt(unsigned index, int size) const;

    std::string m_content;
    std::shared_ptr<FT_LibraryRec_> m_library;
    std::shared_ptr<FT_FaceRec_> m_face;
};

}  // namespace noctis
