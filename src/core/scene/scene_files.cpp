#include "core/scene/scene_files.h"

#include "core/image/error.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <set>
#include <string>
#include <string_view>
#include <utility>

#include <assimp/IOStream.hpp>
#include <assimp/IOSystem.hpp>
#include <fmt/format.h>
#include <sys/stat.h>

namespace noctis {

namespace fs = std::filesystem;

// --- opening for Assimp --------------------------------------------------------------------------

namespace {

/// Assimp deletes it, but not where reading fails: it must not keep its file open.
class Stream : public Assimp::IOStream {
public:
    explicit Stream(const InputFile& file) : m_file(file) {}

    std::size_t Read(void* to, std::size_t size, std::size_t count) override {
        if (size == 0)
            return 0;
        const std::size_t found = m_file.readAt(m_at, to, size * count);
        m_at += found;
        return found / size;
    }
    std::size_t Write(const void*, std::size_t, std::size_t) override { return 0; }
    aiReturn Seek(std::size_t offset, aiOrigin origin) override {
        const std::uint64_t from = origin == aiOrigin_SET   ? 0
                                   : origin == aiOrigin_CUR ? m_at
                                                            : m_file.size();
        if (from + offset > m_file.size())
            return aiReturn_FAILURE;
        m_at = from + offset;
        return aiReturn_SUCCESS;
    }
    [[nodiscard]] std::size_t Tell() const override { return m_at; }
    [[nodiscard]] std::size_t FileSize() const override { return m_file.size(); }
    void Flush() override {}

private:
    const InputFile& m_file;  ///< SceneFiles has it
    std::uint64_t m_at = 0;
};

class AssimpFiles : public Assimp::IOSystem {
public:
    explicit AssimpFiles(SceneFiles& files) : m_files(files) {}

    [[nodiscard]] bool Exists(const char* name) const override { return opened(name) != nullptr; }
    [[nodiscard]] char getOsSeparator() const override { return '/'; }
    Assimp::IOStream* Open(const char* name, const char*) override {
        const auto file = opened(name);
        return file ? new Stream(*file) : nullptr;
    }
    void Close(Assimp::IOStream* stream) override { delete stream; }

private:
    [[nodiscard]] std::shared_ptr<const InputFile> opened(const char* name) const {
        try {
            return m_files.open(name);
        } catch (const Error&) {
            return nullptr;
        }
    }

    SceneFiles& m_files;
};

}  // namespace

SceneFiles::SceneFiles(const SceneInput& reading)
    : m_own(reading.file), m_opened(reading.opened), m_opens(!reading.others),
      m_files(reading.others.value_or(OpenFiles())) {
    m_files[m_own->path()] = m_own;
}

std::shared_ptr<const InputFile> SceneFiles::open(const fs::path& path) {
    if (const auto found = m_files.find(path); found != m_files.end())
        return found->second;
    if (!m_opens)
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{}: no such file; check the path", path.string()));
    auto file = std::make_shared<const InputFile>(path);
    if (m_opened)
        m_opened(*file);
    return m_files[path] = std::move(file);
}

Assimp::IOSystem* assimpFilesOf(SceneFiles& files) { return new AssimpFiles(files); }

// --- what a scene names --------------------------------------------------------------------------

namespace {

constexpr std::size_t kLongestName = 4096;

/// Calls look with all of a file, piece by piece; each begins with the end of the one before, so that no name is cut.
template <typename Look> void forEachPiece(const InputFile& file, const Look& look) {
    constexpr std::size_t kPiece = std::size_t{4} << 20U;
    constexpr std::size_t kShared = 2 * kLongestName;
    std::string piece(kPiece, '\0');
    for (std::uint64_t at = 0; at < file.size(); at += kPiece - kShared) {
        const std::size_t found = file.readAt(at, piece.data(), piece.size());
        look(std::string_view(piece.data(), found));
        if (found < kPiece)
            return;
    }
}

/// Letters that every writer of names leaves as they are.
bool isPlain(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '.' || c == '_' || c == '-';
}

/// What separates a name from the rest of a file.
bool separates(char c) {
    return static_cast<unsigned char>(c) < 0x20 ||
           std::string_view("\"'<>|\x7f").find(c) != std::string_view::npos;
}

std::string_view longestPlainRun(std::string_view name) {
    std::string_view longest;
    for (std::size_t from = 0; from < name.size();) {
        std::size_t to = from;
        while (to < name.size() && isPlain(name[to]))
            ++to;
        if (to - from > longest.size())
            longest = name.substr(from, to - from);
        from = to + 1;
    }
    return longest;
}

/// "a%20b" as "a b".
std::string decoded(std::string_view text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        unsigned value = 0;
        if (text[i] == '%' && i + 2 < text.size() &&
            std::from_chars(text.data() + i + 1, text.data() + i + 3, value, 16).ptr ==
                text.data() + i + 3) {
            out += static_cast<char>(value);
            i += 2;
        } else {
            out += text[i];
        }
    }
    return out;
}

/// Files that are there, by what they are, and what their names hold that can be searched for.
class Sought {
public:
    explicit Sought(const std::vector<fs::path>& files) {
        for (const fs::path& file : files) {
            struct stat found {};
            if (::stat(file.c_str(), &found) != 0 || !S_ISREG(found.st_mode))
                continue;
            m_files[{found.st_dev, found.st_ino}] = file;
            // Names of one ending are found together, however many there are.
            const std::string ending = file.extension().string();
            const std::string name = file.filename().string();
            const std::string_view run = longestPlainRun(ending);
            m_runs.emplace(run.size() >= kLeastRun ? run : longestPlainRun(name));
        }
    }

    [[nodiscard]] bool empty() const noexcept { return m_files.empty(); }

    /// Moves those that a text names, seen from a folder, to found.
    void take(std::string_view text, const fs::path& folder, std::vector<fs::path>& found) {
        for (const std::string& run : m_runs)
            for (std::size_t at = text.find(run); at != std::string_view::npos;
                 at = text.find(run, at + 1)) {
                std::size_t from = at;
                while (from > 0 && at - from < kLongestName && !separates(text[from - 1]))
                    --from;
                std::size_t to = at + run.size();
                while (to < text.size() && to - at < kLongestName && !separates(text[to]))
                    ++to;
                const std::string words(text.substr(from, to - from));
                if (m_seen.insert(folder / words).second)
                    takeNamed(words, folder, found);
            }
    }

private:
    static constexpr std::size_t kLeastRun = 3;

    /// Options may stand before a name, and it may be encoded.
    void takeNamed(const std::string& words, const fs::path& folder, std::vector<fs::path>& found) {
        for (std::size_t from = 0; from != std::string::npos;) {
            const std::string name = words.substr(from);
            for (std::string text : {name, decoded(name)}) {
                std::replace(text.begin(), text.end(), '\\', '/');
                struct stat is {};
                if (::stat((folder / text).c_str(), &is) != 0)
                    continue;
                if (const auto file = m_files.find({is.st_dev, is.st_ino}); file != m_files.end()) {
                    found.push_back(file->second);
                    m_files.erase(file);
                }
            }
            const std::size_t space = words.find(' ', from);
            from = space == std::string::npos ? space : space + 1;
        }
    }

    std::map<std::pair<::dev_t, ::ino_t>, fs::path> m_files;
    std::set<std::string> m_runs;
    std::set<fs::path> m_seen;
};

}  // namespace

std::vector<fs::path> materialFilesOf(const InputFile& obj) {
    constexpr std::string_view kLibrary = "mtllib ";
    std::set<fs::path> files;
    forEachPiece(obj, [&](std::string_view text) {
        for (std::size_t at = text.find(kLibrary); at != std::string_view::npos;
             at = text.find(kLibrary, at + 1)) {
            std::string_view name = text.substr(at + kLibrary.size());
            const std::size_t end = std::min(name.find('\n'), name.size());
            if ((at > 0 && text[at - 1] != '\n') || end > kLongestName)
                continue;
            name = name.substr(0, end);
            while (!name.empty() && (name.back() == '\r' || name.back() == ' '))
                name.remove_suffix(1);
            files.insert(obj.path().parent_path() / name);
        }
    });
    return {files.begin(), files.end()};
}

std::vector<fs::path> filesOfScene(const fs::path& scene, const std::vector<fs::path>& among) {
    std::vector<fs::path> files{scene};
    Sought sought(among);
    std::vector<fs::path> tellers{scene};
    for (std::size_t i = 0; i < tellers.size() && !sought.empty(); ++i) {
        try {
            const InputFile teller(tellers[i]);
            forEachPiece(teller, [&](std::string_view text) {
                sought.take(text, tellers[i].parent_path(), files);
            });
            if (i == 0 && endingOf(scene) == ".obj")
                for (const fs::path& library : materialFilesOf(teller))
                    tellers.push_back(library);
        } catch (const Error&) {
            continue;  // what isn't there names nothing
        }
    }
    return files;
}

}  // namespace noctis
