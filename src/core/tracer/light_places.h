#pragma once

#include "core/passes/pass.h"
#include "core/tracer/path.h"

#include <array>

namespace noctis {

/// Which of a path's light a kind of pass shows.
struct LightPlace {
    PassKind kind;
    int part = -1;    ///< into PathLight::parts; -1: it is no part
    int colour = -1;  ///< of the surface's three: it is this colour, or is divided by it
};

constexpr int indexOf(LightPart part) { return static_cast<int>(part); }

inline constexpr std::array kLightPlaces{
    LightPlace{PassKind::DiffuseDirect, indexOf(LightPart::DiffuseDirect), 0},
    LightPlace{PassKind::DiffuseIndirect, indexOf(LightPart::DiffuseIndirect), 0},
    LightPlace{PassKind::DiffuseColour, -1, 0},
    LightPlace{PassKind::SpecularDirect, indexOf(LightPart::SpecularDirect), 1},
    LightPlace{PassKind::SpecularIndirect, indexOf(LightPart::SpecularIndirect), 1},
    LightPlace{PassKind::SpecularColour, -1, 1},
    LightPlace{PassKind::TransmissionDirect, indexOf(LightPart::TransmissionDirect), 2},
    LightPlace{PassKind::TransmissionIndirect, indexOf(LightPart::TransmissionIndirect), 2},
    LightPlace{PassKind::TransmissionColour, -1, 2},
    LightPlace{PassKind::Emission, indexOf(LightPart::Emission), -1},
    LightPlace{PassKind::Backdrop, indexOf(LightPart::Backdrop), -1},
};

}  // namespace noctis
