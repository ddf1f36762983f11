#include "core/recipe/picture_files.h"

#include "core/image/text_image.h"
#include "core/image/typeface.h"
#include "core/passes/pass_file.h"

#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr std::size_t kMostTexts = 64;
constexpr std::size_t kMostBytes = std::size_t{512} << 20U;  ///< of pictures that are kept

}  // namespace

std::string PictureFiles::stampOf(const fs::path& path) {
    std::error_code missing;
    const auto time = fs::last_write_time(path, missing);
    if (missing)
        return {};
    return fmt::format("{} {}", time.time_since_epoch().count(), fs::file_size(path, missing));
}

Image PictureFiles::read(const fs::path& path) {
    const std::string stamp = stampOf(path);
    const auto found = m_read.find(path);
    if (found != m_read.end() && !stamp.empty() && found->second.stamp == stamp)
        return found->second.image;
    const Image image = readPicture(path);
    // A sequence that plays would fill the memory.
    std::size_t bytes = image.bytes();
    for (const auto& [kept, read] : m_read)
        bytes += read.image.bytes();
    if (bytes > kMostBytes)
        m_read.clear();
    m_read[path] = {stamp, image};
    return image;
}

std::shared_ptr<const PassSet> PictureFiles::passes(const fs::path& path) {
    const std::string stamp = stampOf(path);
    if (m_passes.path != path || m_passes.passes == nullptr || stamp.empty() ||
        m_passes.stamp != stamp)
        m_passes = {path, stamp, std::make_shared<const PassSet>(readPasses({path}))};
    return m_passes.passes;
}

Image PictureFiles::text(const std::string& text, const fs::path& font, int pixelsPerLine) {
    const std::string key =
        fmt::format("{}\n{}\n{}\n{}", pixelsPerLine, font.string(), stampOf(font), text);
    if (const auto found = m_texts.find(key); found != m_texts.end())
        return found->second;
    if (m_texts.size() >= kMostTexts)
        m_texts.clear();  // while a text is typed, each of its beginnings is drawn and kept
    return m_texts[key] = textImage(text, typeface(font), pixelsPerLine);
}

const Typeface& PictureFiles::typeface(const fs::path& path) {
    const std::string stamp = stampOf(path);
    Font& font = m_fonts[path];
    if (font.typeface == nullptr || font.stamp != stamp)
        font = {stamp, std::make_shared<const Typeface>(path)};
    return *font.typeface;
}

}  // namespace noctis
