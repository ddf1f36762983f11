#pragma once

#include <map>
#include <memory>
#include <string>

namespace noctis {

/// What something depends on besides the surfaces' positions.
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

/// Caches changes for callers that ask repeatedly while the scene is the same: parsing signatures takes most of
/// the time.
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
