#pragma once

#include <map>
#include <memory>
#include <string>

namespace noctis {

/// What something was made of, besides where the surfaces are.
struct SceneReading {
    bool relief = true;   ///< normal maps
    bool look = true;     ///< all else that materials tell
    bool lights = true;   ///< and the sky
    std::string light{};  ///< only the one of that name; empty: all
    bool motion = true;
};

/// What differs between the scenes of two signatures, of the parts that are read, in a few words: "crate
/// moved", "crate changed and 2 more". Empty if nothing does, or if there is nothing to compare with.
std::string sceneChange(const std::string& before, const std::string& now,
                        const SceneReading& reading = {});

/// The same for several readers: the signatures are taken apart once, which takes most of the time.
class SceneComparison {
public:
    SceneComparison(const std::string& before, const std::string& now);
    [[nodiscard]] std::string changeFor(const SceneReading& reading) const;

private:
    struct Both;
    std::shared_ptr<const Both> m_both;  ///< none if there is nothing to compare
    bool m_readable = true;
};

/// Comparisons that are kept for who asks again and again while the scene is the same.
class SceneComparisons {
public:
    const SceneComparison& between(const std::string& before, const std::string& now);

private:
    std::string m_now;
    std::map<std::string, SceneComparison> m_since;  ///< what m_now is compared with
};

}  // namespace noctis
