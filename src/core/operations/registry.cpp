#include "core/operations/registry.h"

namespace noctis {

#define OPERATION(name) OperationType name##Operation();
#include "core/operations/operation_list.inc"
#undef OPERATION

const ReliefCatalogue& reliefCatalogue() {
    static const ReliefCatalogue catalogue{{
#define OPERATION(name) name##Operation(),
#include "core/operations/operation_list.inc"
#undef OPERATION
    }};
    return catalogue;
}

}  // namespace noctis
