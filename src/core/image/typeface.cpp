#include "core/image/typeface.h"

#include "core/image/error.h"
#include "core/image/shipped.h"
#include "core/image/trial.h"

#include <cstddef>

#include <fmt/format.h>
#include <ft2build.h>
#include FT_FREETYPE_H

namespace noctis {

namespace {

/// More than any typeface has, with all scripts of the world.
constexpr std::size_t kLargestTypeface = std::size_t{512} << 20U;
/// 26.6 fixed point.
constexpr float kPixel = 1.0F / 64.0F;

[[noreturn]] void refuse(const std::filesystem::path& path) {
    throw Error(ErrorCode::BadFile,
                fmt::format("{} can't be used as a font; choose another", path.string()));
}

std::unique_ptr<const InputFile> opened(const std::filesystem::path& path) {
    if (path.empty())
        return std::make_unique<InputFile>(shippedData("fonts/NoctisSans-Medium.otf"));
    auto file = std::make_unique<InputFile>(path);
    (void)tryReading(*file, TrialKind::Typeface);
    return file;
}

}  // namespace

Typeface::Typeface(const std::filesystem::path& path) : Typeface(*opened(path)) {}

Typeface::Typeface(const InputFile& file) : m_content(contentOf(file, kLargestTypeface)) {
    FT_Library library = nullptr;
    if (FT_Init_FreeType(&library) != 0)
        refuse(file.path());
    m_library = {library, [](FT_Library whole) { FT_Done_FreeType(whole); }};
    FT_Face face = nullptr;
    if (FT_New_Memory_Face(library, reinterpret_cast<const FT_Byte*>(m_content.data()),
                           static_cast<FT_Long>(m_content.size()), 0, &face) != 0)
        refuse(file.path());
    m_face = {face, [library = m_library](FT_Face whole) { FT_Done_Face(whole); }};
    if (!FT_IS_SCALABLE(face))
        refuse(file.path());
}

Typeface::Glyph Typeface::glyph(char32_t character, int size) const {
    return glyphAt(FT_Get_Char_Index(m_face.get(), character), size);
}

Typeface::Glyph Typeface::glyphAt(unsigned index, int size) const {
    FT_Face face = m_face.get();
    if (FT_Set_Pixel_Sizes(face, 0, static_cast<FT_UInt>(size)) != 0 ||
        FT_Load_Glyph(face, index, FT_LOAD_RENDER | FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP) != 0)
        throw Error(ErrorCode::BadFile, "a letter of this font is damaged; choose another font");
    const FT_GlyphSlot slot = face->glyph;
    const FT_Bitmap& drawn = slot->bitmap;
    Glyph glyph{index,
                slot->bitmap_left,
                slot->bitmap_top,
                static_cast<int>(drawn.width),
                static_cast<int>(drawn.rows),
                static_cast<float>(slot->linearHoriAdvance) / 65536.0F,
                {}};
    for (unsigned y = 0; y < drawn.rows; ++y) {
        const unsigned char* row = drawn.buffer + static_cast<std::ptrdiff_t>(y) * drawn.pitch;
        glyph.cover.insert(glyph.cover.end(), row, row + drawn.width);
    }
    return glyph;
}

float Typeface::kerning(unsigned before, unsigned after) const {
    FT_Vector moved{};
    FT_Get_Kerning(m_face.get(), before, after, FT_KERNING_UNFITTED, &moved);
    return static_cast<float>(moved.x) * kPixel;
}

void Typeface::drawAll(int size) const {
    for (FT_Long index = 0; index < m_face->num_glyphs; ++index)
        try {
            (void)glyphAt(static_cast<unsigned>(index), size);
        } catch (const Error&) {
            continue;  // refused properly
        }
}

}  // namespace noctis
