// What enters and leaves the room of height maps: new maps, and maps handed to Picture.
#include "app/controls/file_dialog.h"
#include "app/instruments/height_axis.h"
#include "app/look/picture_paint.h"
#include "app/relief/relief_room.h"
#include "core/image/error.h"
#include "core/operations/registry.h"
#include "core/relief/derived_maps.h"
#include "core/relief/map_pass.h"
#include "core/relief/sources.h"

#include <QApplication>
#include <QClipboard>
#include <QMenu>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace fs = std::filesystem;

void ReliefRoom::buildAddMenu() {
    m_add->clear();
    const auto scene = m_session.scene();
    if (scene) {
        m_add->addAction(tr("All things, from above"), this, &ReliefRoom::addFromAbove);
        for (const View& view : m_session.views())
            if (view.camera.orthographic())
                m_add->addAction(tr("View %1").arg(qstring(view.name)), this, [this, view] {
                    Relief relief = newRelief("depth");
                    relief.from.view = view.name;
                    relief.name = view.name;
                    add(std::move(relief), tr("Height map from above"));
                });
        m_add->addSeparator();
    }
    const ReliefInput picture = reliefInputOf(m_session.passes(), {});
    for (const ReliefSourceType& type : reliefSources())
        if (!picture.passes.empty() && type.suits(picture))
            m_add->addAction(tr("%1 of the picture").arg(qstring(type.label)), this,
                             [this, id = type.id, label = type.label] {
                                 Relief relief = newRelief(id);
                                 relief.name = label + " of the picture";
                                 add(std::move(relief), tr("Height map from the picture"));
                             });
    m_add->addAction(tr("A file…"), this, [this] {
        const QString file =
            askFileToRead(this, tr("A height map from a file"), m_session.folderForFiles());
        if (!file.isEmpty())
            addFromFile(file.toStdString());
    });
}

void ReliefRoom::addFromFile(const fs::path& file) {
    try {
        Relief relief;
        if (isSceneFile(file)) {
            relief = newRelief("depth");
        } else {
            const ReliefInput input = readReliefInput({file});
            const bool normals = input.passes.find(PassKind::Normal) != nullptr;
            relief = newRelief(canResolve(input.passes, PassKind::Depth) ? "depth"
                               : normals                                 ? "normal"
                                                                         : "grey");
        }
        relief.from.files = {fs::absolute(file)};
        relief.name = file.stem().string();
        add(std::move(relief), tr("Height map from a file"));
    } catch (const std::exception& error) {
        Q_EMIT m_session.notified(QString::fromUtf8(error.what()), true);
    }
}

void ReliefRoom::addFromAbove() {
    const auto scene = m_session.scene();
    if (!scene)
        return;
    const View above =
        viewFromAbove("from above", boundsOf(scene->scene, thingsOf(scene->scene)), 1.0F);
    Relief relief = newRelief("depth");
    relief.name = "From above";
    std::string name = above.name;
    const std::vector<View> views = m_session.views();
    const auto taken = [&] {
        return std::any_of(views.begin(), views.end(),
                           [&](const View& v) { return v.name == name; });
    };
    for (int i = 2; taken(); ++i)
        name = above.name + " " + std::to_string(i);
    relief.from.view = name;
    View view = above;
    view.name = name;
    add(std::move(relief), tr("Height map from above"), view);
}

void ReliefRoom::add(Relief relief, const QString& what, const std::optional<View>& from) {
    int number = 1;
    do
        relief.id = "relief_" + std::to_string(number++);
    while (reliefOf(m_session.project(), relief.id) != nullptr);
    m_chosen = relief.id;
    const auto& reliefs = m_session.project().reliefs;
    const auto taken = [&](const std::string& name) {
        return std::any_of(reliefs.begin(), reliefs.end(),
                           [&](const Relief& r) { return r.name == name; });
    };
    const std::string wanted = relief.name;
    for (int i = 2; taken(relief.name); ++i)
        relief.name = wanted + " " + std::to_string(i);
    m_session.change(what, {}, [&](Project& p) {
        if (from)
            p.views.push_back(*from);
        p.reliefs.push_back(relief);
    });
    choose(relief.id);
}

void ReliefRoom::showMapMenu(const QPointF& cells, const QPoint& global) {
    if (!m_worked)
        return;
    const float height = heightUnder(cells);
    QMenu menu(this);
    if (std::isfinite(height)) {
        const std::array<float, 2> range = m_worked->report.range;
        menu.addAction(tr("Black is this height"), this, [this, height, range] {
            moveRange(height, std::max(range[1], height + 1e-6F));
            Q_EMIT m_axis->rangeRested();
        });
        menu.addAction(tr("White is this height"), this, [this, height, range] {
            moveRange(std::min(range[0], height - 1e-6F), height);
            Q_EMIT m_axis->rangeRested();
        });
        menu.addAction(tr("Level through this place"), this, [this, cells] {
            m_session.change(tr("Level through places"), {}, [&](Project& p) {
                Relief* relief = reliefOf(p, m_chosen);
                if (relief == nullptr)
                    return;
                auto level = std::find_if(relief->operations.begin(), relief->operations.end(),
                                          [](const Step& s) { return s.type == "level"; });
                if (level == relief->operations.end())
                    level = relief->operations.insert(
                        relief->operations.begin(),
                        newOperation(reliefCatalogue(), "level", *relief));
                PlaceList points = level->settings.get<PlaceList>("points");
                points.emplace_back(static_cast<float>(cells.x()), static_cast<float>(cells.y()));
                level->settings.set("by", std::string("points"));
                level->settings.set("points", std::move(points));
            });
        });
        menu.addAction(tr("Copy this height, m"), this, [height] {
            QApplication::clipboard()->setText(
                QString::number(static_cast<double>(height), 'g', 8));
        });
        menu.addSeparator();
    }
    QMenu* give = menu.addMenu(tr("Add to the picture's passes"));
    give->addAction(tr("Heights"), this, [this] { giveToPicture("height"); });
    for (const DerivedMap& map : derivedMaps())
        give->addAction(qstring(map.label), this,
                        [this, id = std::string(map.id)] { giveToPicture(id); });
    menu.exec(global);
}

void ReliefRoom::giveToPicture(const std::string& map) {
    if (m_worked->factor != 1)
        return;
    m_giving.start(
        [this, map, worked = m_worked,
         frame = m_session.passes()](const std::stop_token&) -> std::function<void()> {
            PassSet given;
            given.view = frame.view;
            given.camera = frame.camera;
            given.put(passOfMap(worked->map->full(), map, frame));
            return [this, given] {
                m_session.takeRendered(given);
                Q_EMIT m_session.notified(tr("Added to the picture's passes."), false);
            };
        },
        [this](const QString& text) { Q_EMIT m_session.notified(text, true); });
}

}  // namespace noctis
