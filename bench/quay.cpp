#include "quay.h"

#include "core/image/resample.h"
#include "core/passes/pass_file.h"

namespace bench {

using namespace noctis;

PassSet quay(const Demo& demo, int width, int height) {
    PassSet set = readPasses(
        {demo.folder / "beauty.exr", demo.folder / "depth.exr", demo.folder / "normal.exr"});
    for (Pass& pass : set.passes)
        pass.image = resized(pass.image, width, height, Resampling::Nearest);
    set.width = width;
    set.height = height;
    set.put(resolvePass(set, PassKind::Position));
    set.put(resolvePass(set, PassKind::Distance));
    return set;
}

}  // namespace bench
