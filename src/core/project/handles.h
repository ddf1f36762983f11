#pragma once

#include "core/recipe/recipe.h"

namespace noctis {

/// What can be dragged of one thing: a step, a criterion of a step's Where, or something of the project's.
struct HandleGroup {
    std::string owner;  ///< lasts as long as the thing does
    std::string label;
    const DepthLane* lane = nullptr;               ///< outlives this; none: not on the depth axis
    const std::vector<Handle>* handles = nullptr;  ///< outlives this
    Settings settings;
    bool on = true;
    bool operator==(const HandleGroup&) const = default;

    /// Those of a kind that are shown under these settings.
    [[nodiscard]] std::vector<const Handle*> shown(HandleKind kind) const;
    /// Errors   Error(UnknownName).
    [[nodiscard]] const Handle& handle(std::string_view id) const;
};

/// The handles of every step and, after a step's own, those of its Where.
std::vector<HandleGroup> handleGroups(const Recipe& recipe, const Catalogue& catalogue);

/// Moves a handle of one of these groups; one that is gone is left alone.
void moveHandle(Recipe& recipe, const Catalogue& catalogue, const std::string& owner,
                const std::string& handle, const HandleValue& to);

/// Sets the step's own light so that a mirror in a surface's place would show it, by the handles that say
/// so; one with a place stays as far from the surface as it was. towardsLight: of unit length.
/// False: the step has no such light, and nothing was changed.
bool placeHighlight(Recipe& recipe, const Catalogue& catalogue, const std::string& step,
                    const V3f& surface, const V3f& towardsLight);

/// The criterion at the end of a way through a Where's parts, "/1/0"; none if it leads nowhere.
const Where* criterionAt(const Where& where, std::string_view way);
Where* criterionAt(Where& where, std::string_view way);

/// The criterion of a step's Where that owner names; none if there is no such one.
Where* criterionOf(Recipe& recipe, const std::string& owner);
const Where* criterionOf(const Recipe& recipe, const std::string& owner);
/// An owner for criterionOf: a step and the way through its Where's parts, "/1/0".
std::string ownerOfCriterion(const std::string& step, const std::string& way);

/// The step a group belongs to: its own, or the one whose Where it is.
std::string stepOfOwner(const std::string& owner);

}  // namespace noctis
