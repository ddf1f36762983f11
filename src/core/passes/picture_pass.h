#pragma once

#include "core/passes/pass_set.h"

namespace noctis {

/// The picture of a frame: beauty, or else the first pass of plain colours; none where there is neither.
inline const Pass* picturePass(const PassSet& passes) {
    const Pass* beauty = passes.find(PassKind::Beauty);
    return beauty != nullptr ? beauty : passes.find(PassKind::Colour);
}

}  // namespace noctis
