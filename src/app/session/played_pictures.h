#pragma once

#include "core/image/image.h"
#include "core/recipe/frame_context.h"
#include "core/recipe/recipe.h"

#include <cstdint>
#include <map>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// Pictures of frames that were played: linear, in half floats, so that another view transform or exposure shows them
/// as well. The farthest from the one asked for last are the first to be released.
/// Threads  any.
class PlayedPictures {
public:
    /// What a picture was made from, and how.
    struct Source {
        Recipe recipe;  ///< at that time
        std::string solo;
        FrameTime time;
        std::uint64_t passes = 0;  ///< their state
        int factor = 1;
        bool operator==(const Source&) const = default;
    };

    void put(const Source& source, const Image& picture);
    [[nodiscard]] bool has(const Source& source) const;
    /// Exact    to half floats.
    [[nodiscard]] std::optional<Image> find(const Source& source);
    /// The frames that one is kept of, made in whatever way.
    [[nodiscard]] std::vector<int> frames() const;
    void setMostBytes(std::size_t bytes) { m_mostBytes = bytes; }
    [[nodiscard]] std::size_t bytes() const;

private:
    struct Kept {
        Source source;
        int width = 0;
        int height = 0;
        std::vector<std::string> channels;
        std::vector<std::uint16_t> halves;  ///< plane after plane, without padding
    };
    [[nodiscard]] static std::size_t bytesOf(const Kept& kept) { return kept.halves.size() * 2; }

    mutable std::mutex m_mutex;
    std::map<int, Kept> m_kept;  ///< by frame
    int m_last = 0;
    std::size_t m_bytes = 0;
    std::size_t m_mostBytes = std::size_t{1} << 30U;
};

}  // namespace noctis
