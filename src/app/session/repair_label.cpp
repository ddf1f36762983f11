#include "app/session/repair_label.h"

#include <QObject>

namespace noctis {

QString repairLabel(Repair repair) {
    switch (repair) {
    case Repair::Bands:
        return QObject::tr("Smooth the bands");
    case Repair::BlendedEdges:
        return QObject::tr("Snap blended edges");
    case Repair::Gaps:
        return QObject::tr("Fill the gaps");
    case Repair::Centimetres:
        return QObject::tr("Read centimetres");
    case Repair::IsDepth:
        return QObject::tr("It is depth");
    case Repair::IsOcclusion:
        return QObject::tr("It is occlusion");
    case Repair::IsCoverage:
        return QObject::tr("It is coverage");
    }
    return {};
}

}  // namespace noctis
