#include "app/cards/pass_names.h"

#include "app/look/picture_paint.h"

namespace noctis {

namespace {

QStringList inManifest(const PassSet& passes, PassKind kind) {
    QStringList names;
    if (const Pass* matte = passes.find(kind))
        for (const auto& [id, name] : matte->manifest)
            names << qstring(name);
    names.sort(Qt::CaseInsensitive);
    return names;
}

}  // namespace

NameChoices namesIn(const PassSet& passes, TextUse use) {
    NameChoices choices;
    choices.canLeaveOut = use == TextUse::SceneNames;
    switch (use) {
    case TextUse::Objects:
        choices.objects = inManifest(passes, PassKind::Objects);
        break;
    case TextUse::Materials:
        choices.materials = inManifest(passes, PassKind::Materials);
        break;
    case TextUse::Groups:
        choices.groups = inManifest(passes, PassKind::Groups);
        break;
    case TextUse::LightGroups:
        for (const Pass& pass : passes.passes)
            if (pass.kind == PassKind::Light)
                if (const auto name = passNamed(pass.name); name && !name->subject.empty())
                    choices.groups << qstring(name->subject);
        break;
    case TextUse::Lights:
        for (const auto& [name, light] : passes.lights)
            choices.groups << qstring(name);
        break;
    case TextUse::Passes:
        for (const Pass& pass : passes.passes)
            choices.passes << qstring(pass.name);
        break;
    default:
        break;
    }
    return choices;
}

}  // namespace noctis
