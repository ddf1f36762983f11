#pragma once

#include "core/passes/pass_set.h"
#include "core/settings/parameter.h"

#include <map>
#include <string>

namespace noctis {

// The settings of each pass the tracer makes, declared once in pass_settings.cpp: panels, files and
// `noctis-cli render --set pass.setting=value` follow.

struct BeautySettings {
    int samples = 128;
    int bounces = 6;
    float clamp = 0.0F;  ///< 0: light is not limited
    bool useSceneSky = true;
    LinearRgb zenith{0.18F, 0.32F, 0.60F};
    LinearRgb horizon{0.62F, 0.70F, 0.80F};
    LinearRgb ground{0.10F, 0.09F, 0.08F};
    float skyStrength = 1.0F;
    std::string panorama;  ///< path of an equirectangular picture; empty for the gradient
};

enum class Detail { Smooth, Mapped };

/// Settings of the occlusion pass, as defined in design.md 2.
struct OcclusionSettings {
    int samples = 64;
    float reach = 0.0F;    ///< m; 0 is unlimited
    float spread = 1.0F;   ///< cone half-angle as a part of 90 degrees
    float falloff = 0.0F;  ///< 1/m
    float skip = 0.0F;     ///< m
    std::string of;        ///< names of the objects that occlude, comma-separated; empty: all
};

struct DataSettings {
    bool filtered = false;
    int samples = 16;  ///< when filtered
};

struct NormalSettings {
    bool filtered = false;
    int samples = 16;
    Detail detail = Detail::Mapped;
    enum class Space { World, Camera } space = Space::World;
};

struct CoverageSettings {
    int samples = 16;
};

struct MatteSettings {
    int samples = 16;
    int ranks = 6;
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
MatteSettings matteSettings(const Settings& settings);

/// A pass to be rendered.
struct PassRequest {
    PassKind kind = PassKind::Beauty;
    Settings settings;
    bool operator==(const PassRequest&) const = default;
};

PassRequest passRequest(PassKind kind);

/// Sets "pass.setting=value" in one of the requests.
/// Errors   Error(UnknownName), Error(BadSetting).
void applyPassSetting(std::vector<PassRequest>& requests, const std::string& assignment);

/// As text, to be kept in a file's metadata and compared.
std::map<std::string, std::string> settingsAsText(const PassRequest& request);

}  // namespace noctis
