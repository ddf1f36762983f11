#pragma once

#include "core/passes/normal_reading.h"
#include "core/passes/pass_set.h"
#include "core/relief/integrate.h"
#include "core/relief/relief_input.h"

namespace noctis {

/// Normals of an input as they are stored, and how they are read if nothing else is asked for.
struct NormalsInInput {
    Image image;
    std::string space;      ///< as the file says; empty: it says nothing
    NormalReading reading;  ///< guessed, or corrected by hand; axes and coding may be open
};
/// Errors   Error(MissingPass).
NormalsInInput normalsIn(const ReliefInput& input);

/// Settles them; what is asked for replaces what was guessed. greenDown: asked for; off leaves the guess.
SettledNormals settledNormals(const NormalsInInput& normals, const std::optional<Camera>& camera,
                              NormalAxes axes, NormalCoding coding, bool greenDown);

/// Marks where slopes say nothing of the step to the next cell: where depth jumps by more than its slopes
/// explain; without depth, where another object begins; and leaves out what is not covered.
void tear(Slopes& slopes, const PassSet& set, float metresPerPixel);

}  // namespace noctis
