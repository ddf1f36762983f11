#include "core/image/exr_attributes.h"

#include <OpenEXR/ImfFloatAttribute.h>
#include <OpenEXR/ImfIntAttribute.h>
#include <OpenEXR/ImfMatrixAttribute.h>
#include <OpenEXR/ImfStringAttribute.h>

namespace noctis {

Attributes attributesOf(const Imf::Header& header) {
    Attributes attributes;
    for (auto i = header.begin(); i != header.end(); ++i) {
        const Imf::Attribute& attribute = i.attribute();
        if (const auto* text = dynamic_cast<const Imf::StringAttribute*>(&attribute))
            attributes[i.name()] = text->value();
        else if (const auto* number = dynamic_cast<const Imf::FloatAttribute*>(&attribute))
            attributes[i.name()] = number->value();
        else if (const auto* whole = dynamic_cast<const Imf::IntAttribute*>(&attribute))
            attributes[i.name()] = whole->value();
        else if (const auto* matrix = dynamic_cast<const Imf::M44fAttribute*>(&attribute))
            attributes[i.name()] = matrix->value();
    }
    return attributes;
}

void insertAttributes(Imf::Header& header, const Attributes& attributes) {
    for (const auto& [name, value] : attributes) {
        if (const auto* text = std::get_if<std::string>(&value))
            header.insert(name, Imf::StringAttribute(*text));
        else if (const auto* number = std::get_if<float>(&value))
            header.insert(name, Imf::FloatAttribute(*number));
        else if (const auto* whole = std::get_if<int>(&value))
            header.insert(name, Imf::IntAttribute(*whole));
        else if (const auto* matrix = std::get_if<Imath::M44f>(&value))
            header.insert(name, Imf::M44fAttribute(*matrix));
    }
}

}  // namespace noctis
