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
    }
    return {};
}

}  // namespace noctis
