#pragma once

#include "core/passes/pass_set.h"
#include "core/scene/scene.h"
#include "core/settings/parameter.h"

#include <map>
#include <memory>
#include <string>

namespace noctis {

// The settings of each pass the tracer makes, declared once in pass_settings.cpp: panels, files and
// `noctis-cli render --set pass.setting=value` follow.

struct BeautySettings {
    int samples = 128;
    int bounces = 6;
    float clamp = 0.0F;  ///< 0: light is not limited
    bool backdrop =
        true;  ///< what lies beyond all surfaces is seen; off: the picture has alpha instead
    bool useSceneSky = true;
    LinearRgb zenith{0.18F, 0.32F, 0.60F};
    LinearRgb horizon{0.62F, 0.70F, 0.80F};
    LinearRgb ground{0.10F, 0.09F, 0.08F};
    float skyStrength = 1.0F;
    FilePath panorama{};  ///< an equirectangular picture; empty for the gradient
    bool clay = false;    ///< every surface that does not shine is plain and matt
    LinearRgb clayColour{0.6F, 0.58F, 0.55F};
    float denoise = 0.0F;  ///< 0 off, 1 full; see denoise.h
    bool keepRaw = false;  ///< the noisy pass is kept beside the cleaned one
    float noise = 0.0F;  ///< stop where the noise is below this part of white; 0: by samples alone
    float seconds = 0.0F;  ///< stop after this long; 0: by samples alone
    std::string only{};    ///< see instancesNamed
};

enum class Detail { Smooth, Mapped };

/// Settings of the occlusion pass: the open fraction, 0 to 1, weighted by the cosine over the hemisphere about the
/// shading normal.
struct OcclusionSettings {
    int samples = 64;
    float reach = 0.0F;    ///< m; 0 is unlimited
    float cone = 90.0F;    ///< degrees, half the angle that rays fill
    float fade = 0.0F;     ///< m: a hit at distance d occludes by exp(-d/fade); 0: fully
    float skip = 0.0F;     ///< m
    std::string of{};      ///< what occludes, and
    std::string on{};      ///< what is occluded; see instancesNamed
    float denoise = 1.0F;  ///< 0 off, 1 full; see denoise.h
    bool keepRaw = false;
};

struct DataSettings {
    bool filtered = false;
    int samples = 16;    ///< when filtered
    std::string only{};  ///< see instancesNamed
};

struct NormalSettings {
    bool filtered = false;
    int samples = 16;
    std::string only{};
    Detail detail = Detail::Mapped;
    enum class Space { World, Camera, Object, Tangent } space = Space::World;
    enum class GreenAxis { Up, Down } green = GreenAxis::Up;  ///< of the tangent space
};

struct HeightSettings {
    bool filtered = false;
    int samples = 16;
    std::string only{};
    float level = 0.0F;  ///< m, in the world
};

struct CurvatureSettings {
    int samples = 24;
    float reach = 0.05F;  ///< m
    std::string only{};
};

struct ShadowSettings {
    int samples = 32;
    float reach = 0.0F;  ///< m; what is farther off throws none; 0 is unlimited
    std::string of{};    ///< what throws it
    std::string on{};    ///< what it falls on
};

struct GroundShadowSettings {
    int samples = 64;
    float level = 0.0F;  ///< m, of the ground
    std::string of{};
};

struct CoverageSettings {
    int samples = 16;
    std::string only{};
};

struct MatteSettings {
    int samples = 16;
    int ranks = 6;
    std::string only{};
};

/// The parameters of a pass's settings; empty for kinds that can't be rendered.
const std::vector<Parameter>& passParameters(PassKind kind);

/// Kinds the tracer makes.
bool canRender(PassKind kind);

BeautySettings beautySettings(const Settings& settings);
OcclusionSettings occlusionSettings(const Settings& settings);
DataSettings dataSettings(const Settings& settings);
NormalSettings normalSettings(const Settings& settings);
MistSettings mistSettings(const Settings& settings);
CoverageSettings coverageSettings(const Settings& settings);
HeightSettings heightSettings(const Settings& settings);
CurvatureSettings curvatureSettings(const Settings& settings);
ShadowSettings shadowSettings(const Settings& settings);
GroundShadowSettings groundShadowSettings(const Settings& settings);
MatteSettings matteSettings(const Settings& settings);

/// A pass to be rendered.
struct PassRequest {
    PassKind kind = PassKind::Beauty;
    Settings settings;
    std::string subject;  ///< the light or light group, for kinds of which there are many
    /// Settings of the project file that this Noctis doesn't know, kept as JSON.
    std::shared_ptr<const std::string> unknown{};
    bool operator==(const PassRequest&) const = default;

    [[nodiscard]] std::string name() const { return nameOf({kind, subject}); }
};

PassRequest passRequest(PassKind kind, std::string subject = {});

/// Kinds that are made of the same light paths as beauty, with its settings.
bool isMadeWithBeauty(PassKind kind);
/// Those of them that add up to beauty by how light came: (direct + indirect) colour, and the rest.
bool isPartOfBeauty(PassKind kind);

/// Requests by their names: "depth", "shadow.lantern"; "shadow" and "light" stand for one of each there
/// is in the scene.
/// Errors   Error(UnknownName), naming those there are.
std::vector<PassRequest> passRequests(const std::vector<std::string>& names, const Scene& scene);

/// Makes a pass quick and rough: one sample, cleaned so that it can be read.
void makeRough(PassRequest& request);

/// Sets "pass.setting=value" in one of the requests.
/// Errors   Error(UnknownName), Error(BadSetting).
void applyPassSetting(std::vector<PassRequest>& requests, const std::string& assignment);

/// As text, to be kept in a file's metadata and compared. Passes made with beauty have the settings of
/// the beauty among all.
std::map<std::string, std::string> settingsAsText(const PassRequest& request,
                                                  const std::vector<PassRequest>& all);

}  // namespace noctis
