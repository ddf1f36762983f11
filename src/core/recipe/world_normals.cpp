#include "core/recipe/world_normals.h"

#include "core/passes/world_normals.h"

namespace noctis {

Image worldNormals(const WorkingFrame& frame) {
    Pass normals;
    normals.image = frame.pass(PassKind::Normal);
    if (const Pass* measured = frame.context().measured({PassKind::Normal, {}}))
        normals.space = measured->space;
    return inWorld(normals, frame.context().camera());
}

}  // namespace noctis
