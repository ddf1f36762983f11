#include "core/image/plane_pool.h"

#include <list>
#include <mutex>
#include <new>

namespace noctis {

namespace {

constexpr std::align_val_t kAlignment{64};
/// Smaller blocks are cheap to allocate.
constexpr std::size_t kSmallestKept = std::size_t{256} * 1024;
#ifdef __SANITIZE_ADDRESS__
constexpr std::size_t kMostAtRest = 0;  // so that use after giving back is found
#else
/// Three 4K pictures of three channels.
constexpr std::size_t kMostAtRest = std::size_t{320} * 1024 * 1024;
#endif

class PlanePool {
public:
    float* take(std::size_t bytes) {
        {
            const std::scoped_lock lock(m_mutex);
            for (auto block = m_atRest.begin(); block != m_atRest.end(); ++block)
                if (block->bytes == bytes) {
                    float* samples = block->samples;
                    m_bytes -= bytes;
                    m_atRest.erase(block);
                    return samples;
                }
        }
        return static_cast<float*>(::operator new(bytes, kAlignment));
    }

    void giveBack(float* samples, std::size_t bytes) noexcept {
        if (bytes < kSmallestKept || bytes > kMostAtRest) {
            ::operator delete(samples, kAlignment);
            return;
        }
        const std::scoped_lock lock(m_mutex);
        try {
            m_atRest.push_front({samples, bytes});
            m_bytes += bytes;
        } catch (const std::bad_alloc&) {
            ::operator delete(samples, kAlignment);
        }
        while (m_bytes > kMostAtRest)
            dropOldest();
    }

    std::size_t bytes(bool release) {
        const std::scoped_lock lock(m_mutex);
        while (release && !m_atRest.empty())
            dropOldest();
        return m_bytes;
    }

private:
    struct Block {
        float* samples;
        std::size_t bytes;
    };
    void dropOldest() noexcept {
        m_bytes -= m_atRest.back().bytes;
        ::operator delete(m_atRest.back().samples, kAlignment);
        m_atRest.pop_back();
    }

    std::mutex m_mutex;
    std::list<Block> m_atRest;  ///< last given back first: it may still be in the caches
    std::size_t m_bytes = 0;
};

/// Never destroyed: images may outlive every static object.
PlanePool& pool() {
    static auto* const only = new PlanePool;
    return *only;
}

}  // namespace

std::shared_ptr<float[]> takePlane(std::size_t floats) {
    const std::size_t bytes = floats * sizeof(float);
    float* samples = pool().take(bytes);
    return {samples, [bytes](float* given) { pool().giveBack(given, bytes); }};
}

std::size_t planesAtRest(bool release) { return pool().bytes(release); }

}  // namespace noctis
