#pragma once

#include "core/image/image_file.h"

#include <OpenEXR/ImfHeader.h>

namespace noctis {

// What an EXR header holds besides pixels: texts, numbers and matrices. For exr_file.cpp alone.

Attributes attributesOf(const Imf::Header& header);
void insertAttributes(Imf::Header& header, const Attributes& attributes);

}  // namespace noctis
