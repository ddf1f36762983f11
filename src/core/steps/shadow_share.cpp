#include "core/steps/shadow_share.h"

#include "core/recipe/mask.h"

#include <algorithm>

namespace noctis {

PassName shadowPass(const std::string& name) {
    return passNamed(name).value_or(PassName{PassKind::Colour, name});
}

Image shadowShare(const WorkingFrame& frame, const PassName& name, float softness,
                  const RunContext& run) {
    Image share = frame.pass(name).select({0}, {"Y"});
    // On an unseen ground it is the blocked part that is kept, elsewhere the open one.
    const bool blocked = name.kind == PassKind::GroundShadow;
    float* to = share.editPlane(0);
    for (int y = 0; y < share.height(); ++y)
        for (int x = 0; x < share.width(); ++x) {
            float& value = to[share.rowStride() * y + x];
            const float dark = blocked ? value : 1.0F - value;
            value = dark > 0.0F ? std::min(dark, 1.0F) : 0.0F;
        }
    return softness > 0.0F
               ? grownAndSoftened(share, 0.0F, softness * frame.context().pixelScale(), run)
               : share;
}

}  // namespace noctis
