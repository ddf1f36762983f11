#pragma once

#include "core/passes/pass_set.h"
#include "core/relief/integrate.h"
#include "core/relief/relief_input.h"

namespace noctis {

/// The normals of an input: its pass, or a picture that holds them.
struct NormalsInInput {
    Image image;        ///< X Y Z
    std::string space;  ///< as the file says; empty: it says nothing
};
/// Errors   Error(MissingPass).
NormalsInInput normalsIn(const ReliefInput& input);

/// Marks where slopes say nothing of the step to the next cell: where depth jumps by more than its slopes
/// explain; without depth, where another object begins; and leaves out what is not covered.
void tear(Slopes& slopes, const PassSet& set, float metresAPixel);

}  // namespace noctis
