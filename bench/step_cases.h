#pragma once

#include "harness.h"

#include <string>
#include <vector>

namespace bench {

/// What one step costs on the demo's quay, as a part of some reference.
struct StepCase {
    std::string name;
    std::string
        step;  ///< with {0} where a number makes each run another, and {1} for the demo's folder
    double target;
    int discs = 0;  ///< the reference: so many discs of radius 32; 0: a copy of four planes
    int scale = 1;  ///< times 1920x1080
    /// px a frame that near things move, by a pass of vectors; 0: there is none.
    float moves = 0.0F;
};

void stepCases(const Demo& demo, const std::vector<StepCase>& cases, const Filter& wanted,
               std::vector<Row>& rows);

}  // namespace bench
