#include "app/session/sequence_frames.h"

#include <algorithm>

namespace noctis {

namespace fs = std::filesystem;

namespace {

std::size_t bytesOf(const PassSet& set) {
    std::size_t bytes = 0;
    for (const Pass& pass : set.passes)
        bytes += pass.image.bytes() + pass.raw.bytes();
    return bytes;
}

std::uint64_t nextState() {
    static std::uint64_t last = 0;
    return ++last;
}

}  // namespace

void SequenceFrames::setSource(Source source) {
    if (source == m_source)
        return;
    m_source = std::move(source);
    m_kept.clear();
    m_damaged.clear();
    m_ahead = false;
    ++m_serial;
    m_reader.askToStop();
}

std::optional<int> SequenceFrames::shownAt(int frame) const {
    FrameFiles sound = m_source.files;
    std::erase_if(sound.there,
                  [&](int each) { return std::ranges::find(m_damaged, each) != m_damaged.end(); });
    return sound.standIn(frame);
}

fs::file_time_type SequenceFrames::writtenAt(int frame) const {
    auto latest = fs::file_time_type::min();  // the epoch of files lies in the future
    for (const fs::path& file : m_source.files.at(frame)) {
        std::error_code failed;
        const auto at = fs::last_write_time(file, failed);
        if (!failed)
            latest = std::max(latest, at);
    }
    return latest;
}

const SequenceFrames::Kept* SequenceFrames::find(int frame) {
    const auto found = m_kept.find(frame);
    if (found == m_kept.end())
        return nullptr;
    if (found->second.writtenAt == writtenAt(frame))
        return &found->second;
    m_kept.erase(found);
    return nullptr;
}

void SequenceFrames::want(int frame, int way) {
    m_wanted = frame;
    m_way = way;
    m_ahead = true;
    if (!m_reader.running())
        readNext();
}

std::uint64_t SequenceFrames::put(int frame, const PassSet& passes) {
    Kept& kept = m_kept[frame];
    kept = {passes, nextState(), writtenAt(frame)};
    releaseFarthest();
    return kept.state;
}

void SequenceFrames::stop() {
    m_ahead = false;
    m_reader.askToStop();
}

int SequenceFrames::distanceTo(int frame) const {
    const FrameFiles& files = m_source.files;
    const int count = files.last - files.first + 1;
    const int ahead = (frame - m_wanted) * m_way;
    return ahead >= 0 ? ahead : ahead + count;
}

std::optional<int> SequenceFrames::nextToRead() const {
    std::optional<int> next;
    for (const int frame : m_source.files.there)
        if (!m_kept.contains(frame) && std::ranges::find(m_damaged, frame) == m_damaged.end() &&
            (!next || distanceTo(frame) < distanceTo(*next)))
            next = frame;
    if (!next || *next == m_wanted)
        return next;
    // There is room for it where something farther can go, or as much as a frame takes is free.
    std::size_t nearer = 0;
    std::size_t largest = 0;
    for (const auto& [frame, kept] : m_kept) {
        largest = std::max(largest, bytesOf(kept.passes));
        if (distanceTo(frame) < distanceTo(*next))
            nearer += bytesOf(kept.passes);
    }
    return nearer + largest <= m_mostBytes ? next : std::nullopt;
}

void SequenceFrames::readNext() {
    if (const std::optional<int> next = m_ahead ? nextToRead() : std::nullopt)
        read(*next);
}

void SequenceFrames::read(int frame) {
    m_reader.start(
        [this, frame, serial = m_serial, files = m_source.files.at(frame),
         readings = m_source.readings,
         at = writtenAt(frame)](const std::stop_token& stop) -> std::function<void()> {
            std::shared_ptr<PassSet> set;
            QString failure;
            try {
                set = std::make_shared<PassSet>(readPasses(files, readings, {.stop = stop}));
            } catch (const std::exception& error) {
                failure = QString::fromUtf8(error.what());
            }
            const bool stopped = stop.stop_requested();
            return [=, this] {
                if (serial == m_serial && !stopped && set) {
                    m_kept[frame] = {std::move(*set), nextState(), at};
                    releaseFarthest();
                    Q_EMIT frameRead(frame);
                } else if (serial == m_serial && !stopped) {
                    m_damaged.push_back(frame);
                    Q_EMIT frameDamaged(frame, failure);
                }
                if (!m_reader.running())
                    readNext();
            };
        },
        [this](const QString&) { readNext(); });
}

void SequenceFrames::releaseFarthest() {
    std::size_t all = bytes();
    while (all > m_mostBytes && m_kept.size() > 1) {
        const auto farthest = std::ranges::max_element(
            m_kept, {}, [this](const auto& each) { return distanceTo(each.first); });
        all -= bytesOf(farthest->second.passes);
        m_kept.erase(farthest);
    }
}

std::vector<int> SequenceFrames::kept() const {
    std::vector<int> frames;
    for (const auto& [frame, kept] : m_kept)
        frames.push_back(frame);
    return frames;
}

std::vector<int> SequenceFrames::gaps() const {
    std::vector<int> gaps = m_source.files.missing();
    gaps.insert(gaps.end(), m_damaged.begin(), m_damaged.end());
    std::ranges::sort(gaps);
    return gaps;
}

std::size_t SequenceFrames::bytes() const {
    std::size_t all = 0;
    for (const auto& [frame, kept] : m_kept)
        all += bytesOf(kept.passes);
    return all;
}

}  // namespace noctis
