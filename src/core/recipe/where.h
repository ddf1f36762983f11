#pragma once

#include "core/settings/keys.h"

#include <filesystem>
#include <map>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace noctis {

/// What is done to a mask after it is made, in this order.
struct MaskRefinement {
    float grow = 0.0F;    ///< px of the full picture; negative shrinks
    float soften = 0.0F;  ///< px, sigma
    float black = 0.0F;   ///< clamp((x - black) / (white - black))^(1 / gamma)
    float white = 1.0F;
    float gamma = 1.0F;
    bool operator==(const MaskRefinement&) const = default;

    [[nodiscard]] bool hasLevels() const noexcept {
        return black != 0.0F || white != 1.0F || gamma != 1.0F;
    }
    /// Whether a pixel needs its surroundings.
    [[nodiscard]] bool needsSurroundings() const noexcept { return grow != 0.0F || soften > 0.0F; }
};

/// Where a step works, 0 to 1 in each pixel: a criterion, or a combination of others.
struct Where {
    enum class Kind {
        All,        ///< the least of its parts; without parts everywhere
        Any,        ///< the greatest of its parts; without parts nowhere
        Not,        ///< 1 - its only part
        SameAs,     ///< the recipe's Where of that name
        Criterion,  ///< name is its type's id
        Unknown,    ///< of a newer or damaged file, kept as JSON
    };
    Kind kind = Kind::All;
    std::string name;
    Settings settings;
    std::vector<Where> parts;
    MaskRefinement refinement;
    Tracks tracks{};  ///< of a criterion's settings
    std::shared_ptr<const std::string> kept{};
    std::string problem{};  ///< of an unknown one

    bool operator==(const Where& other) const;
    /// Whether it limits nothing.
    [[nodiscard]] bool everywhere() const noexcept {
        return kind == Kind::All && parts.empty() && refinement == MaskRefinement{};
    }
};

/// With everything that its names stand for.
inline constexpr std::size_t kMostWhereParts = 4096;
/// Errors   Error(TooLarge).
void requireFewParts(std::size_t parts);

using NamedWheres = std::map<std::string, Where>;

/// Adds every file that a Where names.
void addFilesOf(const Where& where, std::vector<std::filesystem::path>& files);

/// The criterion at a path through a Where's parts, "/1/0"; "/" is the whole; none if there is none.
const Where* criterionAt(const Where& where, std::string_view path);
Where* criterionAt(Where& where, std::string_view path);

/// A Where with every SameAs replaced by what it names.
/// Errors   Error(UnknownName) for a name that is not there or an unknown criterion, Error(BadSetting)
///          for names that go in a circle, Error(TooLarge) for more than kMostWhereParts.
Where plainWhere(const Where& where, const NamedWheres& named);

}  // namespace noctis
