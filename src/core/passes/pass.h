#pragma once

#include "core/image/image.h"
#include "core/image/image_file.h"
#include "core/passes/interpretation.h"
#include "core/passes/normal_reading.h"

#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace noctis {

// Valid for every pass: passKinds() defines its values and its background; data passes are centre-sampled
// unless their sampling says otherwise.

enum class PassKind {
    Beauty,
    Coverage,
    Depth,
    Distance,
    Position,
    Normal,
    Occlusion,
    Mist,
    Objects,
    Materials,
    Groups,
    FacingNormal,
    Bent,
    Facing,
    Height,
    Curvature,
    Roughness,
    Uv,
    Vectors,
    Shadow,  ///< one a light
    GroundShadow,
    Light,  ///< one a light group
    DiffuseDirect,
    DiffuseIndirect,
    DiffuseColour,
    SpecularDirect,
    SpecularIndirect,
    SpecularColour,
    TransmissionDirect,
    TransmissionIndirect,
    TransmissionColour,
    Emission,
    Backdrop,
    BlurRadius,
    BehindColour,
    BehindDepth,
    Colour,  ///< a colour layer of a foreign file with no known meaning
};

/// How a pass is best displayed; see appearanceOf.
enum class PassLook {
    Light,      ///< as the view shows light
    Grey,       ///< 0 black, 1 white
    Distance,   ///< on the near-far ramp
    Direction,  ///< each axis a colour
    Place,      ///< each axis a colour, by its range
    Signed,     ///< one colour below 0, another above
    Texture,    ///< repeating from 0 to 1
    Motion,     ///< direction and length
    Matte,      ///< a colour for each name
};

/// Whether a frame has one pass of a kind, or one for each of something.
enum class PassSubject { Frame, Light, LightGroup };

enum class Sampling { Centre, Filtered };

/// What all passes of a kind share: a row in pass.cpp each. One that the tracer makes also needs its settings and its
/// values; see docs/architecture.md.
struct PassKindInfo {
    PassKind kind;
    std::string_view id;     ///< as in files and on the command line
    std::string_view label;  ///< as people read it
    std::string_view unit;   ///< "" for a plain number
    std::string_view layer;  ///< EXR layer; empty for R G B A and Z
    std::vector<std::string> channels;
    float background = 0.0F;
    PassLook look = PassLook::Grey;
    std::string_view meaning;
    bool exactAsHalf = false;
    PassSubject subject = PassSubject::Frame;

    /// Never colour-converted, never stored lossily.
    [[nodiscard]] bool data() const { return look != PassLook::Light; }
    [[nodiscard]] bool matte() const { return look == PassLook::Matte; }
};

const std::vector<PassKindInfo>& passKinds();
const PassKindInfo& passKindInfo(PassKind kind);
std::optional<PassKind> passKindNamed(std::string_view id);

/// A pass's kind and, for kinds with several passes, its subject: "shadow.lantern".
struct PassName {
    PassKind kind = PassKind::Colour;
    std::string subject;
    bool operator==(const PassName&) const = default;
};
std::optional<PassName> passNamed(std::string_view name);
std::string nameOf(const PassName& name);
/// As people read it: "Shadow of lantern".
std::string labelOf(const PassName& name);

/// One pass of a frame.
struct Pass {
    std::string name;  ///< unique in its set
    PassKind kind = PassKind::Colour;
    Image image;  ///< in the meaning of kind, metres and all
    Image raw;    ///< as the file had it, for kinds that are interpreted; shares image's planes if
                  ///< equal
    std::optional<Interpretation> interpretation;
    Sampling sampling = Sampling::Centre;
    std::string space = "world";  ///< of directions and positions: world, camera, object, tangent
    SampleType type = SampleType::Float;
    std::filesystem::path file;
    std::map<std::string, std::string> settings;  ///< settings it was made with
    std::map<std::string, std::string> manifest;  ///< of mattes: name by eight-digit hexadecimal id
    std::vector<std::string> warnings;            ///< whole sentences, each with its remedy
    bool derived = false;                         ///< computed from other passes, not measured
    std::string key{};                            ///< its name in its file; the key of corrections
    std::string why{};                            ///< why it has this kind, in a few words
    std::vector<std::string> fileChannels{};      ///< as the file names them
    std::optional<NormalReading> normals{};       ///< how foreign normals were read
};

/// The same pass at 1/factor of its size: colours by mean, data by the centre sample.
Pass shrink(const Pass& pass, int factor);

}  // namespace noctis
