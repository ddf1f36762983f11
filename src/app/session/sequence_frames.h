#pragma once

#include "app/session/background.h"
#include "core/passes/pass_file.h"
#include "core/project/frame_files.h"

#include <QObject>

#include <cstdint>
#include <filesystem>
#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace noctis {

/// The frames of numbered pass files: kept while there is room for them, and read ahead of the one that is shown, on a
/// thread of their own. The farthest from it are the first to be released.
class SequenceFrames : public QObject {
    Q_OBJECT
public:
    /// What is read, and how.
    struct Source {
        FrameFiles files;
        Readings readings;
        bool operator==(const Source&) const = default;
    };
    struct Kept {
        PassSet passes;
        std::uint64_t state = 0;  ///< differs between states of passes, whatever their frame
        std::filesystem::file_time_type writtenAt{};
    };

    explicit SequenceFrames(QObject* parent = nullptr) : QObject(parent) {}

    /// Another one: nothing of the former is kept.
    void setSource(Source source);
    [[nodiscard]] const FrameFiles& files() const noexcept { return m_source.files; }
    /// Bytes that frames may take; see kMostBytes.
    void setMostBytes(std::size_t bytes) { m_mostBytes = bytes; }

    /// The frame whose passes are shown at a frame: itself, or what stands in for one that is missing or damaged.
    [[nodiscard]] std::optional<int> shownAt(int frame) const;
    /// Those passes, if they are kept and their files haven't changed since.
    [[nodiscard]] const Kept* find(int frame);
    /// Reads a frame unless it is kept, then those that follow in that direction, -1 or 1, and round the ends.
    void want(int frame, int way);
    /// What is there of a frame already, in the state that is returned.
    std::uint64_t put(int frame, const PassSet& passes);
    /// Reads no further.
    void stop();

    [[nodiscard]] std::vector<int> kept() const;
    /// Missing and damaged ones.
    [[nodiscard]] std::vector<int> gaps() const;
    [[nodiscard]] std::size_t bytes() const;

Q_SIGNALS:
    void frameRead(int frame);
    /// It counts as missing from now on.
    void frameDamaged(int frame, const QString& why);

private:
    void readNext();
    void read(int frame);
    /// The next to read; none: all that there is room for are kept.
    [[nodiscard]] std::optional<int> nextToRead() const;
    /// How many frames ahead of the wanted one it is, going round.
    [[nodiscard]] int distanceTo(int frame) const;
    void releaseFarthest();
    [[nodiscard]] std::filesystem::file_time_type writtenAt(int frame) const;

    Source m_source;
    std::map<int, Kept> m_kept;
    std::vector<int> m_damaged;
    std::size_t m_mostBytes = std::size_t{2} << 30U;
    int m_wanted = 0;
    int m_way = 1;
    bool m_ahead = false;
    unsigned m_serial = 0;      ///< of the source
    Background m_reader{this};  ///< last: it uses all of the above
};

}  // namespace noctis
