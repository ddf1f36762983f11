#include "core/shaping/registry.h"

namespace noctis {

#define SHAPING(name) ShapingType name##Shaping();
#include "core/shaping/shaping_list.inc"
#undef SHAPING

const ReliefCatalogue& reliefCatalogue() {
    static const ReliefCatalogue catalogue{{
#define SHAPING(name) name##Shaping(),
#include "core/shaping/shaping_list.inc"
#undef SHAPING
    }};
    return catalogue;
}

}  // namespace noctis
