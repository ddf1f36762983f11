#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"

#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// What the axes of normals are. Camera stands for tangent as well: both have +x to the right and +z
/// towards the viewer.
enum class NormalAxes { Guess, Camera, World };
enum class NormalCoding { Guess, Plain, Encoded };
enum class GreenWay { Guess, Up, Down };

/// How stored normals become directions. Decided once, on import.
struct NormalReading {
    NormalAxes axes = NormalAxes::Guess;
    NormalCoding coding = NormalCoding::Guess;
    GreenWay green = GreenWay::Guess;  ///< whether +y of those axes is up, as it is here
    bool operator==(const NormalReading&) const = default;
};

/// "encoded, camera, green down".
std::string describe(const NormalReading& reading);

/// What helps to guess.
struct NormalHints {
    std::string space{};  ///< as the file says; empty: it says nothing
    std::optional<Camera>
        camera{};      ///< of the frame; without it world axes are those of a view from above
    Image measured{};  ///< normals in camera axes from depth; empty: none. They decide.
};

/// A reading with nothing left to guess, and the reasons, in whole sentences.
struct SettledNormals {
    NormalReading reading;
    std::vector<std::string> reasons;
};
SettledNormals settleNormals(const Image& stored, const NormalHints& hints,
                             const NormalReading& wanted);

/// Unit normals in camera axes (0 where there is none), of a settled reading.
/// Shape    stored: three channels or more; the result X Y Z.
Image cameraNormals(const Image& stored, const NormalReading& settled,
                    const std::optional<Camera>& camera);

/// How much the slopes of normals contradict themselves with green up, over how much with green down: above
/// 1, green is likely down. About 1 where nothing is curved.
double greenDoubt(const Image& cameraNormals);

}  // namespace noctis
