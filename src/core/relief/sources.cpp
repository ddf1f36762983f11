#include "core/relief/sources.h"

#include "core/image/error.h"

#include <fmt/format.h>

namespace noctis {

const std::vector<ReliefSourceType>& reliefSources() {
    static const std::vector<ReliefSourceType> sources{depthSource(), positionSource(),
                                                       normalSource(), greySource()};
    return sources;
}

const ReliefSourceType& reliefSource(std::string_view id) {
    for (const ReliefSourceType& source : reliefSources())
        if (source.id == id)
            return source;
    throw Error(ErrorCode::UnknownName,
                fmt::format("heights can't come from {}; use depth, position, normal or grey", id));
}

}  // namespace noctis
