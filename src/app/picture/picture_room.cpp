#include "app/picture/picture_room.h"

#include "app/controls/hairline.h"
#include "app/instruments/sounding.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/picture/export_panel.h"
#include "app/picture/pass_prints.h"
#include "app/picture/picture_view.h"
#include "app/picture/reading_panel.h"
#include "app/picture/recipe_panel.h"
#include "core/passes/appearance.h"
#include "core/passes/probe.h"
#include "core/steps/registry.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <cmath>

namespace noctis {

namespace {

/// The full picture is made once the hand has rested this long.
constexpr int kRestMs = 140;

QPushButton* tab(const QString& text, const QString& help) {
    auto* button = new QPushButton(text);
    button->setProperty("role", "tab");
    button->setCheckable(true);
    button->setToolTip(help);
    button->setFont(theme::font(12));
    return button;
}

/// Which passes stand as prints, and what is derived from them.
std::vector<Pass> printsOf(const PassSet& set) {
    std::vector<Pass> prints = set.passes;
    for (const PassKind kind : {PassKind::Depth, PassKind::Position})
        if (set.find(kind) == nullptr)
            if (auto derived = tryResolvePass(set, kind))
                prints.push_back(*std::move(derived));
    return prints;
}

}  // namespace

PictureRoom::PictureRoom(Session& session, QWidget* parent) : Room(parent), m_session(session) {
    m_prints = new PassPrints;
    m_view = new PictureView;
    m_view->setHint(tr(
        "Drop pass files, a scene or a project here.\n\nOr render passes of a scene in Survey."));
    m_recipe = new RecipePanel(session);
    m_reading = new ReadingPanel;
    m_reading->hide();
    m_export = new ExportPanel(session);
    m_export->hide();

    auto* left = new QVBoxLayout;
    left->setContentsMargins(0, 6, 0, 0);
    auto* heading = new QLabel(tr("Passes"));
    heading->setProperty("role", "heading");
    heading->setContentsMargins(12, 4, 0, 2);
    left->addWidget(heading);
    left->addWidget(m_prints, 1);

    auto* middle = new QVBoxLayout;
    middle->setSpacing(0);
    middle->addWidget(m_export);
    middle->addWidget(m_reading);
    middle->addWidget(m_view, 1);
    middle->addWidget(buildViewBar());
    middle->addWidget(hairline(false));
    middle->addWidget(buildSounding());

    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(left);
    layout->addWidget(hairline(true));
    layout->addLayout(middle, 1);
    layout->addWidget(hairline(true));
    layout->addWidget(m_recipe);

    m_rest.setSingleShot(true);
    m_rest.setInterval(kRestMs);
    connect(&m_rest, &QTimer::timeout, this, [this] { setHandMoving(false); });
    connect(&m_session, &Session::passesChanged, this, &PictureRoom::takePasses);
    connect(&m_session, &Session::projectChanged, this, &PictureRoom::takeProject);
    connect(&m_worker, &PictureWorker::pictureReady, this, [this](const QImage& picture, int) {
        m_picture = picture;
        if (m_shownPass.isEmpty() && m_recipe->whereShown() != WhereShown::Matte)
            m_view->setPicture(picture, QSize(m_session.passes().width, m_session.passes().height));
    });
    connect(&m_worker, &PictureWorker::whereReady, this, &PictureRoom::takeWhere);
    connect(&m_worker, &PictureWorker::stepProblems, m_recipe, &RecipePanel::setProblems);
    connect(m_prints, &PassPrints::chosen, this, &PictureRoom::showPass);
    connect(m_reading, &ReadingPanel::corrected, this,
            [this](const QString& pass, const Interpretation& reading) {
                m_session.correctReading(pass.toStdString(), reading);
            });
    connect(m_reading, &ReadingPanel::angleSet, &m_session, &Session::setAssumedAngle);
    connect(m_export, &ExportPanel::closed, this, [this] {
        m_export->hide();
        m_view->setFocus();
    });
    connect(m_recipe, &RecipePanel::chosenChanged, this, [this] {
        showHandles();
        ask();
    });
    connect(m_recipe, &RecipePanel::shownChanged, this, [this] {
        // Another way of showing the same place needs no new mask.
        takeWhere(m_recipe->whereShown() == WhereShown::No ? QImage() : m_whereMask);
        ask();
    });
    connect(m_recipe, &RecipePanel::stepAdded, this, [this] { showPass({}); });
    connect(m_recipe, &RecipePanel::handMoves, this, &PictureRoom::setHandMoving);
    connect(m_view, &PictureView::pointed, this, &PictureRoom::probe);
    connect(m_view, &PictureView::pointerLeft, this, [this] {
        m_sounding->setNeedle(std::nullopt);
        m_probe->clear();
    });
    connect(m_view, &PictureView::clicked, this, &PictureRoom::takeClick);
    connect(m_view, &PictureView::handleMoved, this, &PictureRoom::movePictureHandle);
    connect(m_view, &PictureView::zoomChanged, this,
            [this] { m_zoom->setText(tr("%1 %").arg(m_view->zoom() * 100.0, 0, 'f', 0)); });
    connect(m_sounding, &Sounding::axisPointed, m_view, &PictureView::setLitDistance);
    connect(m_sounding, &Sounding::handleMoved, this, &PictureRoom::moveHandle);
    const auto rest = [this] {
        m_session.endGesture();
        setHandMoving(false);
    };
    connect(m_sounding, &Sounding::handleRested, this, rest);
    connect(m_view, &PictureView::handleRested, this, rest);
    connect(m_sounding, &Sounding::laneChosen, this, [this](const std::string& owner) {
        if (const std::string step = stepOfOwner(owner); m_recipe->chosen() != step)
            m_recipe->choose(step);
    });
}

QWidget* PictureRoom::buildViewBar() {
    auto* bar = new QWidget;
    bar->setFixedHeight(30);
    auto* layout = new QHBoxLayout(bar);
    layout->setContentsMargins(14, 0, 10, 0);
    layout->setSpacing(4);
    m_probe = new QLabel;
    m_probe->setProperty("role", "quiet");
    m_probe->setFont(theme::font(12));
    m_probe->setObjectName("probe");
    m_probe->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    layout->addWidget(m_probe, 1);
    m_channels = new QWidget;
    auto* channels = new QHBoxLayout(m_channels);
    channels->setContentsMargins(0, 0, 8, 0);
    channels->setSpacing(0);
    layout->addWidget(m_channels);
    const std::pair<QString, QString> ways[] = {
        {tr("Now"), tr("The picture as it is.")},
        {tr("Wipe"), tr("Before and now, with a line to drag.")},
        {tr("Beside"), tr("Before and now, side by side.")},
        {tr("Before"), tr("The picture without the recipe. Hold B for a moment of it.")}};
    for (int i = 0; i < 4; ++i) {
        QPushButton* button = tab(ways[i].first, ways[i].second);
        button->setChecked(i == 0);
        connect(button, &QPushButton::clicked, this, [this, i] { setCompare(i); });
        layout->addWidget(button);
        m_compare.push_back(button);
    }
    layout->addSpacing(10);
    auto* fit = tab(tr("Fit"), tr("Shows the whole picture."));
    fit->setCheckable(false);
    connect(fit, &QPushButton::clicked, m_view, &PictureView::fit);
    auto* full = tab(tr("100 %"), tr("Shows one picture pixel as one of the screen."));
    full->setCheckable(false);
    connect(full, &QPushButton::clicked, this, &PictureRoom::showWholePixels);
    layout->addWidget(fit);
    layout->addWidget(full);
    m_zoom = new QLabel;
    m_zoom->setProperty("role", "quiet");
    m_zoom->setFont(theme::font(12));
    m_zoom->setFixedWidth(46);
    m_zoom->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    layout->addWidget(m_zoom);
    return bar;
}

QWidget* PictureRoom::buildSounding() {
    auto* box = new QWidget;
    box->setFixedHeight(236);
    auto* stack = new QVBoxLayout(box);
    stack->setContentsMargins(0, 0, 0, 0);
    m_sounding = new Sounding;
    stack->addWidget(m_sounding);
    return box;
}

void PictureRoom::takePasses() {
    const PassSet& set = m_session.passes();
    m_probeSet = set;
    const std::vector<Pass> prints = printsOf(set);
    for (const Pass& pass : prints)
        if (m_probeSet.find(std::string_view(pass.name)) == nullptr)
            m_probeSet.put(pass);
    m_prints->setPasses(prints, {});
    const auto depth = tryResolvePass(set, PassKind::Depth);
    m_sounding->setDepth(depth);
    m_view->setDepth(depth ? depth->image : Image());
    m_worker.setPasses(set);
    m_focusMark.reset();
    if (m_probeSet.find(std::string_view(m_shownPass.toStdString())) == nullptr)
        m_shownPass.clear();
    m_beforeExposure = -1e9F;
    takeProject();
    showChosenPass();
}

void PictureRoom::takeProject() {
    const Project& project = m_session.project();
    showHandles();
    const Pass* picture = m_session.passes().find(PassKind::Beauty);
    if (picture == nullptr)
        picture = m_session.passes().find(PassKind::Colour);
    if (picture == nullptr) {
        m_view->setPicture({}, {});
        m_view->setBefore({});
    } else if (m_beforeExposure != project.exposure || m_beforeView != project.viewTransform) {
        m_beforeExposure = project.exposure;
        m_beforeView = project.viewTransform;
        m_view->setBefore(
            toQImage(viewed(picture->image, project.viewTransform, project.exposure)));
    }
    QString focus;
    for (const Step& step : project.recipe.steps) {
        if (!step.usable() || !step.on)
            continue;
        const StepType& type = stepCatalogue().type(step.type);
        if (!type.focusParameter.empty())
            focus = tr("focus %1").arg(metresText(step.settings.number(type.focusParameter)));
    }
    m_view->setFocusMark(focus.isEmpty() ? std::nullopt : m_focusMark, focus);
    ask();
}

void PictureRoom::ask() {
    const Project& project = m_session.project();
    if (m_session.passes().empty())
        return;
    PictureRequest request;
    request.recipe = project.recipe;
    request.editing = m_recipe->chosen();
    request.solo = m_recipe->soloed();
    request.where = m_recipe->whereShown() == WhereShown::No ? std::string() : m_recipe->chosen();
    request.view = project.viewTransform;
    request.exposure = project.exposure;
    request.moving = m_handMoves;
    m_worker.request(request);
    if (m_handMoves)
        m_rest.start();
}

void PictureRoom::setHandMoving(bool moving) {
    const bool was = std::exchange(m_handMoves, moving);
    if (moving) {
        m_rest.start();
        return;
    }
    m_rest.stop();
    if (was)
        ask();
}

void PictureRoom::showHandles() {
    const Project& project = m_session.project();
    m_groups = handleGroups(project.recipe, stepCatalogue());
    m_sounding->setLanes(m_groups, m_recipe->chosen());
    std::vector<PictureHandle> handles;
    const PassSet& set = m_session.passes();
    for (const HandleGroup& group : m_groups) {
        if (stepOfOwner(group.owner) != m_recipe->chosen() || set.empty())
            continue;
        for (const Handle* handle : group.shown(HandleKind::Place)) {
            const V2f at = std::get<V2f>(handle->at(group.settings));
            handles.push_back({group.owner, handle->id, qstring(handle->label),
                               QPointF(static_cast<qreal>(at.x), static_cast<qreal>(at.y))});
        }
        for (const Handle* handle : group.shown(HandleKind::Point)) {
            const V3f world = std::get<V3f>(handle->at(group.settings));
            const V3f at = noctis::project(set.cameraOrAssumed(), world, set.width, set.height);
            if (at.z > 0.0F)
                handles.push_back({group.owner, handle->id, qstring(handle->label),
                                   QPointF(static_cast<qreal>(at.x), static_cast<qreal>(at.y))});
        }
    }
    m_view->setHandles(std::move(handles));
}

const Handle* PictureRoom::handleNamed(const std::string& owner, const std::string& handle) const {
    for (const HandleGroup& group : m_groups)
        if (group.owner == owner)
            return &group.handle(handle);
    return nullptr;
}

void PictureRoom::moveHandle(const std::string& owner, const std::string& handle,
                             const HandleValue& to) {
    const Handle* moved = handleNamed(owner, handle);
    const Step* step = m_session.project().recipe.find(stepOfOwner(owner));
    if (moved == nullptr || step == nullptr)
        return;
    setHandMoving(true);
    m_session.change(
        tr("%1: %2").arg(qstring(titleOf(*step, stepCatalogue())), qstring(moved->label)),
        QStringLiteral("handle.%1.%2").arg(qstring(owner), qstring(handle)),
        [&](Project& p) { noctis::moveHandle(p.recipe, stepCatalogue(), owner, handle, to); });
}

void PictureRoom::movePictureHandle(const std::string& owner, const std::string& handle,
                                    const QPointF& picture) {
    const Handle* moved = handleNamed(owner, handle);
    if (moved == nullptr)
        return;
    if (moved->kind == HandleKind::Place) {
        moveHandle(owner, handle,
                   V2f(static_cast<float>(picture.x()), static_cast<float>(picture.y())));
        return;
    }
    // A point of the scene stays as far from the picture as it was.
    for (const HandleGroup& group : m_groups)
        if (group.owner == owner) {
            const PassSet& set = m_session.passes();
            const float depth =
                noctis::project(set.cameraOrAssumed(), std::get<V3f>(moved->at(group.settings)),
                                set.width, set.height)
                    .z;
            const CameraRay ray = cameraRay(set.cameraOrAssumed(), static_cast<float>(picture.x()),
                                            static_cast<float>(picture.y()), set.width, set.height);
            moveHandle(owner, handle,
                       V3f(ray.origin + ray.direction * (depth / ray.planarPerDistance)));
            return;
        }
}

void PictureRoom::takeWhere(const QImage& mask) {
    m_whereMask = mask;
    const WhereShown shown = m_recipe->whereShown();
    m_view->setTinted(shown == WhereShown::Overlay ? mask : QImage());
    if (!m_shownPass.isEmpty() || m_session.passes().empty())
        return;
    const QImage& wanted = shown == WhereShown::Matte && !mask.isNull() ? mask : m_picture;
    m_view->setPicture(wanted, QSize(m_session.passes().width, m_session.passes().height));
}

void PictureRoom::probe(const QPointF& picture) {
    const int x = static_cast<int>(std::floor(picture.x()));
    const int y = static_cast<int>(std::floor(picture.y()));
    if (m_probeSet.empty() || x < 0 || y < 0 || x >= m_probeSet.width || y >= m_probeSet.height) {
        m_probe->clear();
        m_sounding->setNeedle(std::nullopt);
        return;
    }
    QStringList parts{QStringLiteral("%1, %2").arg(x).arg(y)};
    for (const ProbeReading& reading : probeAt(m_probeSet, x, y)) {
        if (reading.kind == PassKind::Depth)
            m_sounding->setNeedle(reading.value.front());
        const bool repeats =
            reading.kind == PassKind::Distance || reading.kind == PassKind::Coverage;
        if (!reading.meaning.empty() && !repeats && !parts.contains(qstring(reading.meaning)))
            parts << qstring(reading.meaning);
    }
    m_probe->setText(parts.join(QStringLiteral("    ")));
    QString all;
    for (const ProbeReading& reading : probeAt(m_probeSet, x, y)) {
        all += qstring(reading.pass) + QLatin1String(":");
        for (const float v : reading.value)
            all += QStringLiteral(" %1").arg(static_cast<double>(v), 0, 'g', 5);
        all += QLatin1Char(' ') + qstring(reading.unit) + QLatin1Char('\n');
    }
    m_probe->setToolTip(all.trimmed());
}

std::optional<HandleValue> PictureRoom::valueAt(HandleKind kind, const QPointF& picture) const {
    if (kind == HandleKind::Place)
        return V2f(static_cast<float>(picture.x()), static_cast<float>(picture.y()));
    const auto depth = tryResolvePass(m_session.passes(), PassKind::Depth);
    if (!depth)
        return std::nullopt;
    const float metres =
        depth->image(static_cast<int>(picture.x()), static_cast<int>(picture.y()), 0);
    if (!std::isfinite(metres))
        return std::nullopt;
    if (kind == HandleKind::Distance)
        return metres;
    if (kind != HandleKind::Point)
        return std::nullopt;
    const PassSet& set = m_session.passes();
    const CameraRay ray = cameraRay(set.cameraOrAssumed(), static_cast<float>(picture.x()),
                                    static_cast<float>(picture.y()), set.width, set.height);
    return V3f(ray.origin + ray.direction * (metres / ray.planarPerDistance));
}

void PictureRoom::takeClick(const QPointF& picture) {
    const Recipe& recipe = m_session.project().recipe;
    const auto focuses = [](const Step& step) {
        return step.usable() && !stepCatalogue().type(step.type).focusParameter.empty();
    };
    const Step* chosen = recipe.find(m_recipe->chosen());
    if (chosen != nullptr && focuses(*chosen)) {
        focusAt(chosen->id, picture);
        return;
    }
    // A step that stands somewhere goes where the click is.
    if (chosen != nullptr)
        for (const HandleGroup& group : m_groups)
            if (group.owner == chosen->id)
                for (const HandleKind kind : {HandleKind::Place, HandleKind::Point})
                    for (const Handle* handle : group.shown(kind))
                        if (const auto value = valueAt(kind, picture)) {
                            moveHandle(group.owner, handle->id, *value);
                            m_session.endGesture();
                            setHandMoving(false);
                            return;
                        }
    for (const Step& step : recipe.steps)
        if (focuses(step) && step.on) {
            focusAt(step.id, picture);
            return;
        }
}

void PictureRoom::focusAt(const std::string& step, const QPointF& picture) {
    const auto metres = valueAt(HandleKind::Distance, picture);
    if (!metres) {
        Q_EMIT m_session.told(tr("Nothing was hit there, so the focus stays where it is."), false);
        return;
    }
    m_focusMark = picture;
    m_session.change(tr("Focus here"), {}, [&](Project& p) {
        Step& focused = *p.recipe.find(step);
        focused.settings.set(stepCatalogue().type(focused.type).focusParameter,
                             std::get<float>(*metres));
    });
    m_session.endGesture();
    takeProject();
}

void PictureRoom::showPass(const QString& name) {
    m_shownPass = name;
    m_shownChannel = -1;
    m_prints->setChosen(name);
    showChosenPass();
}

void PictureRoom::showChosenPass() {
    const Pass* pass =
        m_shownPass.isEmpty()
            ? nullptr
            : std::as_const(m_probeSet).find(std::string_view(m_shownPass.toStdString()));
    const bool readable = pass != nullptr && pass->interpretation && !pass->raw.empty();
    m_reading->setVisible(readable);
    if (readable)
        m_reading->setPass(*pass, m_session.passes().camera
                                      ? std::nullopt
                                      : std::optional(m_session.project().readings.yfovRadians));
    for (auto* old : m_channels->findChildren<QPushButton*>())
        old->deleteLater();
    if (pass == nullptr) {
        if (!m_picture.isNull() && !m_session.passes().empty())
            m_view->setPicture(m_picture,
                               QSize(m_session.passes().width, m_session.passes().height));
        return;
    }
    Image shown;
    if (m_shownChannel >= 0 && m_shownChannel < pass->image.channels())
        shown = channelAppearance(*pass, m_shownChannel);
    else if (pass->kind == PassKind::Beauty || pass->kind == PassKind::Colour)
        shown =
            viewed(pass->image, m_session.project().viewTransform, m_session.project().exposure);
    else
        shown = appearanceOf(*pass);
    m_view->setPicture(toQImage(shown), QSize(m_probeSet.width, m_probeSet.height));
    if (pass->image.channels() < 2 || pass->image.channels() > 4)
        return;
    for (int c = -1; c < pass->image.channels(); ++c) {
        QPushButton* button = tab(c < 0 ? tr("All") : qstring(pass->image.channelName(c)),
                                  tr("Shows all channels, or one as grey."));
        button->setChecked(c == m_shownChannel);
        connect(button, &QPushButton::clicked, this, [this, c] {
            m_shownChannel = c;
            showChosenPass();
        });
        m_channels->layout()->addWidget(button);
    }
}

void PictureRoom::showExport() { m_export->present(); }

void PictureRoom::setCompare(int index) {
    static constexpr PictureView::Compare kWays[] = {
        PictureView::Compare::None, PictureView::Compare::Wipe, PictureView::Compare::SideBySide,
        PictureView::Compare::Before};
    for (int i = 0; i < 4; ++i)
        m_compare[static_cast<std::size_t>(i)]->setChecked(i == index);
    m_view->setCompare(kWays[index]);
}

std::vector<RoomCommand> PictureRoom::commands() {
    std::vector<RoomCommand> all{{tr("Export the picture…"), QKeySequence(Qt::CTRL | Qt::Key_E),
                                  [this] { showExport(); }, true}};
    for (const StepType& type : stepCatalogue().types())
        all.push_back({tr("Add step: %1").arg(qstring(type.label)), {}, [this, id = type.id] {
                           m_recipe->addStep(id);
                       }});
    all.push_back({tr("Picture as it is now"), {}, [this] { setCompare(0); }});
    all.push_back({tr("Compare with a wipe"), QKeySequence(Qt::Key_F7), [this] { setCompare(1); }});
    all.push_back(
        {tr("Compare side by side"), QKeySequence(Qt::Key_F8), [this] { setCompare(2); }});
    return all;
}

void PictureRoom::fitPicture() { m_view->fit(); }

void PictureRoom::showWholePixels() { m_view->setZoom(1.0, QRectF(m_view->rect()).center()); }

void PictureRoom::holdBefore(bool hold) { m_view->holdBefore(hold); }

}  // namespace noctis
