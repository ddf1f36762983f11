#include "core/tracer/pass_settings.h"

#include "core/image/error.h"
#include "core/settings/settings_builder.h"
#include "core/settings/value_type.h"

#include <algorithm>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

namespace {

constexpr Range kSamples{1.0F, 65536.0F, 1024.0F};

template <typename S> void declareOnly(SettingsBuilder<S>& b) {
    b.text(&S::only, "only", "Only", TextUse::SceneNames,
           "Objects, groups or materials to show, separated by commas; a minus leaves one out; "
           "empty shows everything.");
    b.unsetIs("all");
}

template <typename S> void declareDenoising(SettingsBuilder<S>& b) {
    b.number(&S::denoise, "denoise", "Denoise", Unit::Percent, {0.0F, 1.0F, 1.0F},
             "Smooths noise but keeps the edges of surfaces; 0 leaves the pass as it is. The live "
             "view is always cleaned.");
    b.toggle(&S::keepRaw, "keep_raw", "Keep the noisy pass",
             "Also keeps the pass as it was before cleaning.");
    b.onlyWhen("denoise>0");
}

const SettingsBuilder<BeautySettings>& beautyBuilder() {
    static const auto builder = [] {
        using S = BeautySettings;
        SettingsBuilder<S> b;
        b.whole(&S::samples, "samples", "Samples", kSamples,
                "Paths per pixel: more is cleaner and slower.");
        b.whole(&S::bounces, "bounces", "Bounces", {1.0F, 64.0F, 12.0F},
                "How often light may bounce before its path ends.");
        b.number(&S::clamp, "clamp", "Clamp", Unit::None, {0.0F, 1e6F, 100.0F},
                 "Limits bounced light to this, against stray bright dots; 0 sets no limit.");
        b.unsetIs("off");
        b.toggle(&S::backdrop, "backdrop", "Backdrop",
                 "Shows the sky behind everything; off leaves it out and gives the picture alpha.");
        b.toggle(&S::useSceneSky, "scene_sky", "Sky of the scene",
                 "Uses the scene's own sky, if it has one.");
        b.colour(&S::zenith, "zenith", "Zenith", "The sky's colour overhead.");
        b.onlyWhen("scene_sky=off");
        b.colour(&S::horizon, "horizon", "Horizon", "The sky's colour at the horizon.");
        b.onlyWhen("scene_sky=off");
        b.colour(&S::ground, "ground", "Ground", "The light from below the horizon.");
        b.onlyWhen("scene_sky=off");
        b.number(&S::skyStrength, "sky_strength", "Sky strength", Unit::None, {0.0F, 1e4F, 4.0F},
                 "How brightly the sky shines.");
        b.file(&S::panorama, "panorama", "Panorama", TextUse::PictureFile,
               "An HDR picture of the surroundings, instead of any other sky.");
        b.toggle(&S::clay, "clay", "Clay", "Shows every surface as plain, matt clay.");
        b.colour(&S::clayColour, "clay_colour", "Clay colour", "The colour of the clay.");
        b.onlyWhen("clay=on");
        declareDenoising(b);
        b.number(
            &S::noise, "noise", "Noise", Unit::Percent, {0.0F, 1.0F, 0.05F},
            "Stops a tile when its noise falls below this part of white; 0 goes by samples alone.");
        b.unsetIs("off");
        b.number(&S::seconds, "seconds", "Time", Unit::Second, {0.0F, 1e6F, 600.0F},
                 "Stops after this long, however clean it is; 0 goes by samples alone.");
        b.unsetIs("off");
        declareOnly(b);
        return b;
    }();
    return builder;
}

const SettingsBuilder<OcclusionSettings>& occlusionBuilder() {
    static const auto builder = [] {
        using S = OcclusionSettings;
        SettingsBuilder<S> b;
        b.whole(&S::samples, "samples", "Samples", kSamples,
                "Rays per pixel: more is cleaner and slower.");
        b.number(&S::reach, "reach", "Reach", Unit::Metre, {0.0F, 1e6F, 10.0F},
                 "How far away a surface still occludes; 0 has no limit.");
        b.unsetIs("endless");
        b.number(
            &S::cone, "cone", "Cone", Unit::Degree, {1.0F, 90.0F, 90.0F},
            "Half the angle of the cone of rays around the surface's normal; less keeps to deep "
            "crevices.");
        b.number(&S::fade, "fade", "Fade", Unit::Metre, {0.0F, 1e6F, 10.0F},
                 "The distance at which a surface counts about a third; 0 counts all alike.");
        b.unsetIs("off");
        b.number(&S::skip, "skip", "Ignore nearer than", Unit::Metre, {0.0F, 1000.0F, 0.5F},
                 "Surfaces nearer than this don't count.");
        b.text(&S::of, "of", "Occluders", TextUse::SceneNames,
               "Objects, groups or materials that occlude, separated by commas; empty means "
               "everything.");
        b.unsetIs("all");
        b.text(
            &S::on, "on", "Receivers", TextUse::SceneNames,
            "Objects, groups or materials to show, separated by commas; empty shows everything.");
        b.unsetIs("all");
        declareDenoising(b);
        return b;
    }();
    return builder;
}

template <typename S> void declareFiltering(SettingsBuilder<S>& b) {
    b.toggle(&S::filtered, "filtered", "Filtered",
             "Blends surfaces at edges. For looks only: keep it off for steps.");
    b.whole(&S::samples, "samples", "Samples", kSamples, "Rays per pixel when filtered.");
    b.onlyWhen("filtered=on");
}

const SettingsBuilder<DataSettings>& dataBuilder() {
    static const auto builder = [] {
        SettingsBuilder<DataSettings> b;
        declareFiltering(b);
        declareOnly(b);
        return b;
    }();
    return builder;
}

const SettingsBuilder<HeightSettings>& heightBuilder() {
    static const auto builder = [] {
        using S = HeightSettings;
        SettingsBuilder<S> b;
        b.number(&S::level, "level", "Level", Unit::Metre, {-1e6F, 1e6F, 10.0F},
                 "The height in the world that counts as 0.");
        declareFiltering(b);
        declareOnly(b);
        return b;
    }();
    return builder;
}

const SettingsBuilder<CurvatureSettings>& curvatureBuilder() {
    static const auto builder = [] {
        using S = CurvatureSettings;
        SettingsBuilder<S> b;
        b.whole(&S::samples, "samples", "Samples", kSamples,
                "Rays per pixel: more is cleaner and slower.");
        b.number(&S::reach, "reach", "Reach", Unit::Metre, {1e-4F, 1e3F, 1.0F},
                 "How far around a place the surface is followed: less finds finer edges.");
        declareOnly(b);
        return b;
    }();
    return builder;
}

const SettingsBuilder<ShadowSettings>& shadowBuilder() {
    static const auto builder = [] {
        using S = ShadowSettings;
        SettingsBuilder<S> b;
        b.whole(&S::samples, "samples", "Samples", kSamples,
                "Rays per pixel: more makes soft shadows cleaner.");
        b.number(&S::reach, "reach", "Reach", Unit::Metre, {0.0F, 1e6F, 10.0F},
                 "Leaves out the shadow of what is farther away than this; 0 leaves out nothing.");
        b.unsetIs("endless");
        b.text(&S::of, "of", "Occluders", TextUse::SceneNames,
               "What casts the shadow, separated by commas; empty means everything.");
        b.unsetIs("all");
        b.text(&S::on, "on", "Receivers", TextUse::SceneNames,
               "What the shadow falls on, separated by commas; empty means everything.");
        b.unsetIs("all");
        return b;
    }();
    return builder;
}

const SettingsBuilder<GroundShadowSettings>& groundShadowBuilder() {
    static const auto builder = [] {
        using S = GroundShadowSettings;
        SettingsBuilder<S> b;
        b.whole(&S::samples, "samples", "Samples", kSamples,
                "Rays per pixel: more makes soft shadows cleaner.");
        b.number(&S::level, "level", "Level", Unit::Metre, {-1e6F, 1e6F, 10.0F},
                 "How high the unseen ground lies.");
        b.text(&S::of, "of", "Occluders", TextUse::SceneNames,
               "What casts the shadow, separated by commas; empty means everything.");
        b.unsetIs("all");
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
        b.choice(&S::space, "space", "Space",
                 {{"world", "World"},
                  {"camera", "Camera"},
                  {"object", "Object"},
                  {"tangent", "Tangent"}},
                 "Directions in the world's axes, the camera's, the object's own, or those of the "
                 "surface's texture.");
        b.choice(&S::green, "green", "Green is", {{"up", "Up"}, {"down", "Down"}},
                 "Which way along the texture the second channel points.");
        b.onlyWhen("space=tangent");
        declareOnly(b);
        return b;
    }();
    return builder;
}

const SettingsBuilder<MistSettings>& mistBuilder() {
    static const auto builder = [] {
        using S = MistSettings;
        SettingsBuilder<S> b;
        b.number(&S::begins, "begins", "Begins", Unit::Metre, {0.0F, 1e6F, 100.0F},
                 "Where the mist begins, along the view.");
        b.number(&S::half, "half", "Half", Unit::Metre, {0.0F, 1e6F, 200.0F}, "Where it is half.");
        b.number(&S::full, "full", "Full", Unit::Metre, {0.001F, 1e6F, 500.0F},
                 "Where it is full.");
        return b;
    }();
    return builder;
}

const SettingsBuilder<CoverageSettings>& coverageBuilder() {
    static const auto builder = [] {
        SettingsBuilder<CoverageSettings> b;
        b.whole(&CoverageSettings::samples, "samples", "Samples", kSamples,
                "Rays per pixel: more makes edges smoother.");
        declareOnly(b);
        return b;
    }();
    return builder;
}

const SettingsBuilder<MatteSettings>& matteBuilder() {
    static const auto builder = [] {
        using S = MatteSettings;
        SettingsBuilder<S> b;
        b.whole(&S::samples, "samples", "Samples", kSamples,
                "Rays per pixel: more makes edges smoother.");
        b.whole(&S::ranks, "ranks", "Ranks", {2.0F, 16.0F, 8.0F},
                "How many names one pixel can hold.");
        declareOnly(b);
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
    case PassKind::Bent:
        return occlusionBuilder().parameters();
    case PassKind::Depth:
    case PassKind::Distance:
    case PassKind::Position:
    case PassKind::FacingNormal:
    case PassKind::Facing:
    case PassKind::Uv:
    case PassKind::Vectors:
    case PassKind::Roughness:
    case PassKind::BehindDepth:
        return dataBuilder().parameters();
    case PassKind::Height:
        return heightBuilder().parameters();
    case PassKind::Curvature:
        return curvatureBuilder().parameters();
    case PassKind::Shadow:
        return shadowBuilder().parameters();
    case PassKind::GroundShadow:
        return groundShadowBuilder().parameters();
    case PassKind::Normal:
        return normalBuilder().parameters();
    case PassKind::Mist:
        return mistBuilder().parameters();
    case PassKind::Coverage:
        return coverageBuilder().parameters();
    case PassKind::Objects:
    case PassKind::Materials:
    case PassKind::Groups:
        return matteBuilder().parameters();
    default:
        return none;
    }
}

bool canRender(PassKind kind) { return kind != PassKind::Colour; }

BeautySettings beautySettings(const Settings& s) { return beautyBuilder().bind(s); }
OcclusionSettings occlusionSettings(const Settings& s) { return occlusionBuilder().bind(s); }
DataSettings dataSettings(const Settings& s) { return dataBuilder().bind(s); }
NormalSettings normalSettings(const Settings& s) { return normalBuilder().bind(s); }
MistSettings mistSettings(const Settings& s) { return mistBuilder().bind(s); }
HeightSettings heightSettings(const Settings& s) { return heightBuilder().bind(s); }
CurvatureSettings curvatureSettings(const Settings& s) { return curvatureBuilder().bind(s); }
ShadowSettings shadowSettings(const Settings& s) { return shadowBuilder().bind(s); }
GroundShadowSettings groundShadowSettings(const Settings& s) {
    return groundShadowBuilder().bind(s);
}
CoverageSettings coverageSettings(const Settings& s) { return coverageBuilder().bind(s); }
MatteSettings matteSettings(const Settings& s) { return matteBuilder().bind(s); }

PassRequest passRequest(PassKind kind, std::string subject) {
    return {kind, initialSettings(passParameters(kind)), std::move(subject)};
}

bool isMadeWithBeauty(PassKind kind) {
    return kind != PassKind::Beauty && kind != PassKind::Colour && !passKindInfo(kind).data();
}

bool isPartOfBeauty(PassKind kind) {
    return isMadeWithBeauty(kind) && passKindInfo(kind).subject == PassSubject::Frame &&
           kind != PassKind::BehindColour;
}

std::vector<PassRequest> passRequests(const std::vector<std::string>& names, const Scene& scene) {
    std::vector<PassRequest> requests;
    for (const std::string& name : names) {
        const auto known = passNamed(name);
        if (!known || !canRender(known->kind))
            throw Error(ErrorCode::UnknownName, fmt::format("no pass {} can be rendered", name));
        const PassSubject subject = passKindInfo(known->kind).subject;
        if (subject == PassSubject::Frame) {
            requests.push_back(passRequest(known->kind));
            continue;
        }
        const std::vector<std::string> there =
            subject == PassSubject::Light ? lightNames(scene) : lightGroups(scene);
        if (known->subject.empty()) {
            for (const std::string& each : there)
                requests.push_back(passRequest(known->kind, each));
        } else if (std::find(there.begin(), there.end(), known->subject) != there.end()) {
            requests.push_back(passRequest(known->kind, known->subject));
        } else {
            throw Error(ErrorCode::UnknownName,
                        fmt::format("there is no {} {}; there are {}",
                                    subject == PassSubject::Light ? "light" : "light group",
                                    known->subject, fmt::join(there, ", ")));
        }
    }
    return requests;
}

void makeRough(PassRequest& request) {
    for (const char* id : {"samples", "denoise"})
        if (request.settings.find(id) != nullptr)
            request.settings.set(id, 1.0F);
}

}  // namespace noctis
