#include "app/survey/add_pass_menu.h"

#include "app/look/picture_paint.h"

#include <algorithm>

namespace noctis {

namespace {

bool isAsked(const Project& project, const PassRequest& request) {
    return passAsked(project, request.name()) != nullptr;
}

}  // namespace

AddPassMenu::AddPassMenu(Session& session, QWidget* parent) : QMenu(parent), m_session(session) {
    fill(addMenu(tr("Distance and place")), Topic::Place);
    fill(addMenu(tr("Surface")), Topic::Surface);
    fill(addMenu(tr("Light")), Topic::Light);
    fill(addMenu(tr("Names")), Topic::Names);
}

AddPassMenu::Topic AddPassMenu::topicOf(PassKind kind) {
    const PassLook look = passKindInfo(kind).look;
    if (look == PassLook::Matte || kind == PassKind::Coverage)
        return Topic::Names;
    if (look == PassLook::Light || kind == PassKind::Shadow || kind == PassKind::GroundShadow)
        return Topic::Light;
    const bool place = look == PassLook::Distance || look == PassLook::Place ||
                       look == PassLook::Motion || kind == PassKind::Mist ||
                       kind == PassKind::Height;
    return place ? Topic::Place : Topic::Surface;
}

void AddPassMenu::add(const std::vector<PassRequest>& requests) {
    m_session.change(tr("Add a pass"), {}, [&](Project& p) {
        for (const PassRequest& request : requests)
            if (!isAsked(p, request))
                p.passes.push_back(request);
    });
}

void AddPassMenu::offer(QMenu* menu, const QString& label, const QString& help,
                        const std::vector<PassRequest>& requests) {
    QAction* action = menu->addAction(label, this, [this, requests] { add(requests); });
    action->setEnabled(!std::all_of(requests.begin(), requests.end(), [this](const auto& request) {
        return isAsked(m_session.project(), request);
    }));
    action->setToolTip(help);
}

void AddPassMenu::offerEach(QMenu* menu, const QString& all,
                            const std::vector<PassRequest>& requests,
                            const std::vector<QString>& labels) {
    menu->setToolTipsVisible(true);
    if (requests.size() > 1) {
        offer(menu, all, {}, requests);
        menu->addSeparator();
    }
    for (std::size_t i = 0; i < requests.size(); ++i)
        offer(menu, labels[i], qstring(passKindInfo(requests[i].kind).meaning), {requests[i]});
    menu->setEnabled(!requests.empty());
}

void AddPassMenu::fill(QMenu* menu, Topic topic) {
    menu->setToolTipsVisible(true);
    std::vector<PassRequest> parts;
    std::vector<QString> partLabels;
    for (const PassKindInfo& info : passKinds()) {
        if (!canRender(info.kind) || topicOf(info.kind) != topic)
            continue;
        if (isPartOfBeauty(info.kind)) {
            parts.push_back(passRequest(info.kind));
            partLabels.push_back(qstring(info.label));
        } else if (info.subject == PassSubject::Frame) {
            offer(menu, qstring(info.label), qstring(info.meaning), {passRequest(info.kind)});
        } else if (const auto loaded = m_session.scene()) {
            const bool shadow = info.subject == PassSubject::Light;
            std::vector<PassRequest> each;
            std::vector<QString> labels;
            for (const std::string& subject :
                 shadow ? lightNames(loaded->scene) : lightGroups(loaded->scene)) {
                each.push_back(passRequest(info.kind, subject));
                labels.push_back(qstring(subject));
            }
            offerEach(menu->addMenu(shadow ? tr("Shadow of a light") : tr("Light of a group")),
                      shadow ? tr("Each light") : tr("Each group"), each, labels);
        }
    }
    if (!parts.empty())
        offerEach(menu->addMenu(tr("Part of beauty")), tr("All parts"), parts, partLabels);
}

}  // namespace noctis
