#pragma once

#include <map>
#include <memory>
#include <string>

namespace noctis {

/// What something was made of, besides where the surfaces are.
struct SceneReading {
    bool relief = true;   ///< normal maps
    bool look = true;     ///< everything else in the materials
    bool lights = true;   ///< and the sky
    std::string light{};  ///< only the one of that name; empty: all
    bool motion = true;
    bool operator==(const SceneReading&) const = default;
};

/// What differs between the scenes of two signatures, of the parts that are read, in a few words: "crate
/// moved", "crate changed and 2 more". Empty if nothing does, or if there is nothing to compare with.
std::string sceneChange(const std::string& before, const std::string& now,
                        const SceneReading& reading = {});

/// Changes that are kept for who asks again and again while the scene is the same: taking signatures apart
/// takes most of the time.
class SceneComparisons {
public:
    /// As sceneChange.
    std::string change(const std::string& before, const std::string& now,
                       const SceneReading& reading);

private:
    struct Since;
    std::string m_now;
    std::map<std::string, std::shared_ptr<Since>> m_since;  ///< what m_now is compared with
};

}  // namespace noctis
