#pragma once

#include "core/recipe/frame_context.h"
#include "core/recipe/recipe.h"

namespace noctis {

/// The handles of one owner: a step, a criterion of a step's Where, or something of the project.
struct HandleGroup {
    std::string owner;  ///< lasts as long as the thing does
    std::string label;
    const DepthLane* lane = nullptr;               ///< outlives this; none: not on the depth axis
    const std::vector<Handle>* handles = nullptr;  ///< outlives this
    Settings settings;
    bool on = true;
    ShownFrame frame{};
    std::vector<Settings>
        overTime{};  ///< at some frames, from the first to the last; none: they stand
    bool operator==(const HandleGroup&) const = default;

    /// Those of a kind that are shown under these settings.
    [[nodiscard]] std::vector<const Handle*> shown(HandleKind kind) const;
    [[nodiscard]] bool isFocus() const noexcept {
        return lane != nullptr && lane->purpose == DepthLane::Purpose::Focus;
    }
    /// Its lane's, on its frame.
    [[nodiscard]] std::function<float(float)> strength() const {
        return lane->strength(settings, frame);
    }
    /// Where one of its handles is.
    [[nodiscard]] HandleValue at(const Handle& handle) const { return handle.at(settings, frame); }
    /// Where it is at those frames; empty if it is always at one place.
    [[nodiscard]] std::vector<HandleValue> course(const Handle& handle) const;
    [[nodiscard]] float distance(const Handle& handle) const { return std::get<float>(at(handle)); }
    [[nodiscard]] V3f point(const Handle& handle) const { return std::get<V3f>(at(handle)); }
    /// Errors   Error(UnknownName).
    [[nodiscard]] const Handle& handle(std::string_view id) const;
};

/// The handles of every step and, after a step's own, those of its Where.
std::vector<HandleGroup> handleGroups(const Steps& steps, const StepTypes& types,
                                      const ShownFrame& frame = {});

/// Gives the groups of a step that moves the settings they have at some times, so that it is seen where their handles go.
void addCourses(std::vector<HandleGroup>& groups, const Recipe& recipe, const Catalogue& catalogue,
                const std::string& step, const std::vector<FrameTime>& times);

/// Moves a handle of one of these groups; ignores one that is gone.
void moveHandle(Steps& steps, const StepTypes& types, const std::string& owner,
                const std::string& handle, const HandleValue& to, const ShownFrame& frame = {});

/// Sets the step's own light so that a mirror at a surface would show it, through the handles declared for
/// that; a light with a place keeps its distance from the surface. towardsLight: of unit length. Returns false,
/// and changes nothing, if the step has no such light.
bool placeHighlight(Steps& steps, const StepTypes& types, const std::string& step,
                    const V3f& surface, const V3f& towardsLight, const ShownFrame& frame = {});

/// The criterion of a step's Where that owner names; none if there is none.
Where* criterionOf(Steps& steps, const std::string& owner);
const Where* criterionOf(const Steps& steps, const std::string& owner);
/// An owner for criterionOf: a step and the path through its Where's parts, "/1/0".
std::string ownerOfCriterion(const std::string& step, const std::string& path);

/// The step a group belongs to: its own, or the one whose Where it is.
std::string stepOfOwner(const std::string& owner);

}  // namespace noctis
