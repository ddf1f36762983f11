#include "core/tracer/pass_settings.h"

#include "core/image/error.h"
#include "core/settings/settings_builder.h"

#include <algorithm>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr Range kSamples{1.0F, 65536.0F, 1024.0F};

const SettingsBuilder<BeautySettings>& beautyBuilder() {
    static const auto builder = [] {
        using S = BeautySettings;
        SettingsBuilder<S> b;
        b.whole(&S::samples, "samples", "Samples", kSamples,
                "Paths a pixel: more is cleaner and slower.");
        b.whole(&S::bounces, "bounces", "Bounces", {1.0F, 64.0F, 12.0F},
                "How often light may turn before it is given up.");
        b.number(&S::clamp, "clamp", "Limit", Unit::None, {0.0F, 1e6F, 100.0F},
                 "Cuts bounced light above this, against stray bright dots; 0 cuts nothing.");
        b.toggle(&S::useSceneSky, "scene_sky", "Sky of the scene",
                 "Takes the sky that the scene tells, where it does.");
        b.colour(&S::zenith, "zenith", "Zenith", "The sky's colour overhead.");
        b.onlyWhen("scene_sky=off");
        b.colour(&S::horizon, "horizon", "Horizon", "The sky's colour at the horizon.");
        b.onlyWhen("scene_sky=off");
        b.colour(&S::ground, "ground", "Ground", "What shines from below the horizon.");
        b.onlyWhen("scene_sky=off");
        b.number(&S::skyStrength, "sky_strength", "Sky strength", Unit::None, {0.0F, 1e4F, 4.0F},
                 "How brightly the sky shines.");
        b.text(&S::panorama, "panorama", "Panorama",
               "An HDR picture of the surroundings, instead of a gradient.");
        b.onlyWhen("scene_sky=off");
        return b;
    }();
    return builder;
}

const SettingsBuilder<OcclusionSettings>& occlusionBuilder() {
    static const auto builder = [] {
        using S = OcclusionSettings;
        SettingsBuilder<S> b;
        b.whole(&S::samples, "samples", "Samples", kSamples,
                "Rays a pixel: more is cleaner and slower.");
        b.number(&S::reach, "reach", "Reach", Unit::Metre, {0.0F, 1e6F, 10.0F},
                 "How far a surface is looked for; 0 looks as far as there is anything.");
        b.number(&S::spread, "spread", "Spread", Unit::Percent, {0.01F, 1.0F, 1.0F},
                 "How wide about the surface's facing it is looked; less keeps to deep crevices.");
        b.number(&S::falloff, "falloff", "Falloff", Unit::PerMetre, {0.0F, 1000.0F, 4.0F},
                 "How fast farther surfaces count less; 0 counts all alike.");
        b.number(&S::skip, "skip", "Skip", Unit::Metre, {0.0F, 1000.0F, 0.5F},
                 "Surfaces nearer than this do not count.");
        b.text(&S::of, "of", "Only by",
               "Names of the objects that occlude, with commas; empty is all.");
        return b;
    }();
    return builder;
}

template <typename S> void declareFiltering(SettingsBuilder<S>& b) {
    b.toggle(&S::filtered, "filtered", "Filtered",
             "Blends surfaces at edges. For looks only: steps want it off.");
    b.whole(&S::samples, "samples", "Samples", kSamples, "Rays a pixel when filtered.");
    b.onlyWhen("filtered=on");
}

const SettingsBuilder<DataSettings>& dataBuilder() {
    static const auto builder = [] {
        SettingsBuilder<DataSettings> b;
        declareFiltering(b);
        return b;
    }();
    return builder;
}

const SettingsBuilder<NormalSettings>& normalBuilder() {
    static const auto builder = [] {
        using S = NormalSettings;
        SettingsBuilder<S> b;
        declareFiltering(b);
        b.choice(&S::detail, "detail", "Detail",
                 {{"smooth", "Surface"}, {"mapped", "With normal maps"}},
                 "Whether normal maps show.");
        b.choice(&S::space, "space", "Space", {{"world", "World"}, {"camera", "Camera"}},
                 "Directions as in the world, or as seen by the camera.");
        return b;
    }();
    return builder;
}

const SettingsBuilder<MistSettings>& mistBuilder() {
    static const auto builder = [] {
        using S = MistSettings;
        SettingsBuilder<S> b;
        b.number(&S::start, "start", "Start", Unit::Metre, {0.0F, 1e6F, 100.0F},
                 "Where the mist begins.");
        b.number(&S::length, "length", "Length", Unit::Metre, {0.001F, 1e6F, 500.0F},
                 "Over how much depth it becomes full.");
        b.number(&S::falloff, "falloff", "Falloff", Unit::None, {0.05F, 8.0F, 4.0F},
                 "1 grows evenly, 2 grows late, 0.5 grows early.");
        return b;
    }();
    return builder;
}

const SettingsBuilder<CoverageSettings>& coverageBuilder() {
    static const auto builder = [] {
        SettingsBuilder<CoverageSettings> b;
        b.whole(&CoverageSettings::samples, "samples", "Samples", kSamples,
                "Rays a pixel: more makes softer edges.");
        return b;
    }();
    return builder;
}

const SettingsBuilder<MatteSettings>& matteBuilder() {
    static const auto builder = [] {
        using S = MatteSettings;
        SettingsBuilder<S> b;
        b.whole(&S::samples, "samples", "Samples", kSamples,
                "Rays a pixel: more makes softer edges.");
        b.whole(&S::ranks, "ranks", "Ranks", {2.0F, 16.0F, 8.0F},
                "How many names one pixel can hold.");
        return b;
    }();
    return builder;
}

}  // namespace

const std::vector<Parameter>& passParameters(PassKind kind) {
    static const std::vector<Parameter> none;
    switch (kind) {
    case PassKind::Beauty:
        return beautyBuilder().parameters();
    case PassKind::Occlusion:
        return occlusionBuilder().parameters();
    case PassKind::Depth:
    case PassKind::Distance:
    case PassKind::Position:
        return dataBuilder().parameters();
    case PassKind::Normal:
        return normalBuilder().parameters();
    case PassKind::Mist:
        return mistBuilder().parameters();
    case PassKind::Coverage:
        return coverageBuilder().parameters();
    case PassKind::Objects:
    case PassKind::Materials:
        return matteBuilder().parameters();
    case PassKind::Colour:
        break;
    }
    return none;
}

bool canRender(PassKind kind) { return kind != PassKind::Colour; }

BeautySettings beautySettings(const Settings& s) { return beautyBuilder().bind(s); }
OcclusionSettings occlusionSettings(const Settings& s) { return occlusionBuilder().bind(s); }
DataSettings dataSettings(const Settings& s) { return dataBuilder().bind(s); }
NormalSettings normalSettings(const Settings& s) { return normalBuilder().bind(s); }
MistSettings mistSettings(const Settings& s) { return mistBuilder().bind(s); }
CoverageSettings coverageSettings(const Settings& s) { return coverageBuilder().bind(s); }
MatteSettings matteSettings(const Settings& s) { return matteBuilder().bind(s); }

PassRequest passRequest(PassKind kind) { return {kind, initialSettings(passParameters(kind))}; }

void applyPassSetting(std::vector<PassRequest>& requests, const std::string& assignment) {
    const auto dot = assignment.find('.');
    const auto equals = assignment.find('=');
    if (dot == std::string::npos || equals == std::string::npos || dot > equals)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("'{}' must be of the form pass.setting=value", assignment));
    const std::string id = assignment.substr(0, dot);
    const auto kind = passKindNamed(id);
    const auto request = std::find_if(requests.begin(), requests.end(), [&](const PassRequest& r) {
        return kind && r.kind == *kind;
    });
    if (request == requests.end())
        throw Error(ErrorCode::UnknownName,
                    fmt::format("there is no pass {} among those to render", id));
    const std::vector<Parameter>& parameters = passParameters(*kind);
    const std::size_t index =
        parameterIndex(parameters, assignment.substr(dot + 1, equals - dot - 1));
    request->settings[index] = valueFromText(parameters[index], assignment.substr(equals + 1));
}

std::map<std::string, std::string> settingsAsText(const PassRequest& request) {
    std::map<std::string, std::string> text;
    const std::vector<Parameter>& parameters = passParameters(request.kind);
    for (std::size_t i = 0; i < parameters.size(); ++i)
        text[parameters[i].id] = textFromValue(request.settings[i]);
    return text;
}

}  // namespace noctis
