#include "app/picture/picture_room.h"

#include "app/controls/file_dialog.h"
#include "app/controls/hairline.h"
#include "app/instruments/registry.h"
#include "app/look/panel_width.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/picture/export_panel.h"
#include "app/picture/key_curves.h"
#include "app/picture/pass_prints.h"
#include "app/picture/picture_bar.h"
#include "app/picture/picture_hand.h"
#include "app/picture/picture_view.h"
#include "app/picture/reading_panel.h"
#include "app/picture/recipe_panel.h"
#include "app/picture/stale_passes.h"
#include "app/picture/time_strip.h"
#include "core/dispatch/picture_export.h"
#include "core/passes/picture_pass.h"
#include "core/steps/registry.h"

#include <QDir>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <cmath>

namespace noctis {

namespace {

/// The full picture is made once the hand has rested this long.
constexpr int kRestMs = 140;
constexpr int kInstrumentWidth = 236;
constexpr int kInstrumentHeight = 236;
constexpr int kLeastInstruments = 120;

}  // namespace

PictureRoom::PictureRoom(Session& session, QWidget* parent)
    : Room(parent), m_session(session),
      m_player({[this](int frame) { return isReady(frame); },
                [this] { return m_worker.idle() && !m_session.readingFrame(); },
                [this](int frame) { m_session.goTo(frame); }}) {
    m_prints = new PassPrints;
    m_view = new PictureView;
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
    m_stale = new StalePasses;
    left->addWidget(m_stale);
    connect(m_stale, &StalePasses::renderAsked, this, &PictureRoom::renderAsked);
    connect(m_stale, &StalePasses::stopAsked, this, &PictureRoom::stopRenderAsked);
    connect(m_recipe, &RecipePanel::renderAsked, this, &PictureRoom::renderAsked);
    connect(&m_session, &Session::sceneChanged, this, &PictureRoom::showStates);

    auto* middle = new QVBoxLayout;
    middle->setSpacing(0);
    middle->addWidget(m_export);
    middle->addWidget(m_reading);
    middle->addWidget(m_view, 1);
    m_bar = new PictureBar(*m_view);
    middle->addWidget(m_bar);
    middle->addWidget(hairline(false));
    m_foot = new QWidget;
    auto* below = new QVBoxLayout(m_foot);
    below->setContentsMargins(0, 0, 0, 0);
    below->setSpacing(0);
    m_instrumentRow = buildInstruments();
    below->addWidget(m_instrumentRow);
    m_curves = new KeyCurves;
    m_curves->hide();
    below->addWidget(m_curves);
    m_time = new TimeStrip;
    below->addWidget(m_time);
    middle->addWidget(m_foot);

    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(left);
    layout->addWidget(hairline(true));
    layout->addLayout(middle, 1);
    layout->addWidget(hairline(true));
    layout->addWidget(m_recipe);

    m_hand = new PictureHand(m_session, *m_recipe, *m_view, m_instruments, this);
    m_recipe->setAskPart([this](const QString& hint, const std::function<void(const Tile&)>& take) {
        showPass({});
        m_hand->askPart(hint, take);
    });
    connect(m_hand, &PictureHand::looseMoved, this, [this](const QPointF& to) {
        const PassSet& set = m_session.passes();
        setHandMoving(true);
        m_bar->moveGround(
            toV2f(to) - 0.5F * V2f(static_cast<float>(set.width), static_cast<float>(set.height)));
    });
    m_rest.setSingleShot(true);
    m_rest.setInterval(kRestMs);
    connect(&m_rest, &QTimer::timeout, this, [this] { setHandMoving(false); });
    connect(&m_session, &Session::passesChanged, this, &PictureRoom::takePasses);
    connect(&m_session, &Session::projectChanged, this, &PictureRoom::takeProject);
    connect(&m_session.reader(), &PassReader::progressed, this, &PictureRoom::showHint);
    connect(&m_session.reader(), &PassReader::finished, this, &PictureRoom::showHint);
    connect(&m_worker, &PictureWorker::pictureReady, this, [this](const QImage& picture, int) {
        m_picture = picture;
        if (m_measureLater && !m_player.playing())
            measure();
        if (m_shownPass.isEmpty() && m_recipe->whereShown() != WhereShown::Matte)
            m_view->setPicture(picture, QSize(m_session.passes().width, m_session.passes().height));
    });
    connect(&m_worker, &PictureWorker::whereReady, this, &PictureRoom::takeWhere);
    connect(&m_worker, &PictureWorker::stepProblems, m_recipe, &RecipePanel::setProblems);
    connect(&m_worker, &PictureWorker::stepNotices, m_recipe, &RecipePanel::setNotices);
    connect(m_prints, &PassPrints::chosen, this, &PictureRoom::showPass);
    connect(m_prints, &PassPrints::exportAsked, this, &PictureRoom::exportPassAsked);
    connect(m_reading, &ReadingPanel::corrected, this,
            [this](const QString& key, const PassReading& reading) {
                m_session.correctReading(key.toStdString(), reading);
            });
    const auto changeRules = [this](const std::function<void(PassRules&)>& change) {
        try {
            change(m_session.rules());
        } catch (const std::exception& error) {
            Q_EMIT m_session.notified(QString::fromUtf8(error.what()), true);
        }
        m_reading->setRules(m_session.rules().all());
    };
    connect(m_reading, &ReadingPanel::ruleKept, this,
            [changeRules](const QString& key, const PassReading& reading) {
                changeRules([&](PassRules& rules) { rules.keep(key.toStdString(), reading); });
            });
    connect(m_reading, &ReadingPanel::ruleRemoved, this, [changeRules](const QString& key) {
        changeRules([&](PassRules& rules) { rules.remove(key.toStdString()); });
    });
    m_reading->setRules(m_session.rules().all());
    m_hand->setTakesFirst([this](const QPointF& at) {
        return m_reading->takeClick(static_cast<int>(at.x()), static_cast<int>(at.y()));
    });
    connect(m_reading, &ReadingPanel::refused, this,
            [this](const QString& why) { Q_EMIT m_session.notified(why, true); });
    connect(m_reading, &ReadingPanel::angleSet, &m_session, &Session::setAssumedAngle);
    connect(m_export, &ExportPanel::closed, this, [this] {
        m_export->hide();
        m_view->setFocus();
    });
    connect(m_recipe, &RecipePanel::chosenChanged, this, [this] {
        m_hand->refresh();
        showTime();
        ask();
    });
    connect(m_recipe, &RecipePanel::shownChanged, this, [this] {
        // Another way of showing the same place needs no new mask.
        takeWhere(m_recipe->whereShown() == WhereShown::No ? QImage() : m_whereMask);
        ask();
    });
    connect(m_recipe, &RecipePanel::exportWhereAsked, this, [this](const std::string& step) {
        const QString file =
            askFileToWrite(this, tr("Export where the step works"),
                           QDir(m_session.folderForFiles()).filePath(qstring(step) + ".png"),
                           tr("Pictures (*.exr *.png *.tif)"));
        if (!file.isEmpty())
            exportWhere(step, file.toStdString());
    });
    connect(m_recipe, &RecipePanel::stepAdded, this, [this] { showPass({}); });
    connect(m_recipe, &RecipePanel::handMoves, this, &PictureRoom::setHandMoving);
    connectTime();
    connect(m_view, &PictureView::pointed, this, &PictureRoom::probe);
    connect(m_view, &PictureView::pointerLeft, this, [this] {
        setNeedle({});
        m_bar->setReading({}, {});
    });
    connect(m_bar, &PictureBar::channelChosen, this, [this](int channel) {
        m_shownChannel = channel;
        showChosenPass();
    });
    connect(m_bar, &PictureBar::formerToggled, this, &PictureRoom::showBefore);
    connect(m_bar, &PictureBar::groundChosen, this, [this](const LookGround& ground) {
        m_ground = ground;
        showGroundHandle();
        ask();
    });
    connect(&m_session, &Session::opened, this, [this] {
        enlarge(nullptr);
        setFormer({}, {});
        showPass({});
    });
    connect(&m_session, &Session::relinking, this,
            [this] { setFormer(m_picture, tr("Previous render")); });
    for (const Instrument* instrument : m_instruments)
        connect(instrument, &Instrument::distancePointed, m_view, &PictureView::setLitDistance);
    connect(m_hand, &PictureHand::moves, this, [this] { setHandMoving(true); });
    connect(m_hand, &PictureHand::rested, this, [this] { setHandMoving(false); });
    enlarge(nullptr);
    takeProject();
}

QWidget* PictureRoom::buildInstruments() {
    auto* box = new QWidget;
    box->setMinimumHeight(kLeastInstruments);
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    m_instruments = makeInstruments(box);
    for (Instrument* instrument : m_instruments) {
        connect(instrument, &Instrument::enlargeAsked, this, [this, instrument] {
            enlarge(m_hand->large() == instrument ? nullptr : instrument);
        });
        if (!instrument->isWide())
            instrument->setFixedWidth(kInstrumentWidth);
        row->addWidget(instrument, instrument->isWide() ? 1 : 0);
        instrument->setVisible(instrument->isWide());
    }
    return box;
}

void PictureRoom::enlarge(Instrument* instrument) {
    const bool large = instrument != nullptr;
    for (Instrument* each : m_instruments)
        if (!each->isWide()) {
            each->setMinimumWidth(kInstrumentWidth);
            each->setMaximumWidth(each == instrument ? QWIDGETSIZE_MAX : kInstrumentWidth);
        }
    m_view->setHidden(large);
    m_bar->setHidden(large);
    m_foot->setMinimumHeight(kInstrumentHeight);
    m_foot->setMaximumHeight(large ? QWIDGETSIZE_MAX : kInstrumentHeight);
    m_hand->setLarge(instrument);
}

void PictureRoom::setNeedle(const Needle& needle) {
    for (Instrument* instrument : m_instruments)
        instrument->setNeedle(needle);
}

void PictureRoom::resizeEvent(QResizeEvent*) { m_recipe->setFixedWidth(panelWidth(width())); }

void PictureRoom::showSeenThrough() {
    const Pass* picture = m_session.passes().find(PassKind::Beauty);
    const bool own = picture != nullptr && picture->image.channels() > 3;
    // A matte gives an opaque picture its alpha.
    m_bar->setSeenThrough(own ||
                          std::ranges::find(m_session.project().recipe.steps, "matte",
                                            &Step::type) != m_session.project().recipe.steps.end());
}

void PictureRoom::showGroundHandle() {
    const PassSet& set = m_session.passes();
    if (!m_bar->movesGround() || set.empty())
        return m_hand->setLoose({});
    const QPointF middle(set.width / 2.0, set.height / 2.0);
    m_hand->setLoose(PictureHandle{"ground", "moved", tr("Ground"),
                                   middle + QPointF(static_cast<qreal>(m_ground.moved.x),
                                                    static_cast<qreal>(m_ground.moved.y))});
}

void PictureRoom::takeProject() {
    const Project& project = m_session.project();
    showHint();
    m_hand->refresh();
    showStates();
    showTime();
    showSeenThrough();
    if (picturePass(m_session.passes()) == nullptr) {
        m_view->setPicture({}, {});
        m_view->setBefore({}, {});
    } else if (m_beforeExposure != project.exposure || m_beforeView != project.viewTransform) {
        m_beforeExposure = project.exposure;
        m_beforeView = project.viewTransform;
        showBefore();
    }
    ask();
}

void PictureRoom::showHint() {
    const bool nothing = m_session.passes().empty() && !m_session.reader().running();
    m_view->setHint(nothing
                        ? tr("Drop pass files, a scene or a project here.\n\nOr render passes of "
                             "a scene in Survey.")
                        : QString());
}

void PictureRoom::showStates() {
    const std::map<std::string, PassState> states = m_session.passStates();
    m_prints->setStates(states);
    m_recipe->setPassStates(states);
    std::map<std::string, PassState> there;
    for (const auto& [name, state] : states)
        if (m_session.passes().find(name) != nullptr)
            there[name] = state;
    m_stale->setStates(there);
}

void PictureRoom::setRendering(const QString& progress) { m_stale->setRendering(progress); }

void PictureRoom::setFormer(const QImage& former, const QString& name) {
    m_former = former;
    m_formerName = name;
    m_bar->setFormer(former.isNull() ? QString() : name);
    showBefore();
}

void PictureRoom::showBefore() {
    if (m_bar->comparesFormer()) {
        m_view->setBefore(
            m_former.isNull() ? std::function<QImage()>() : [former = m_former] { return former; },
            m_formerName.toLower());
        return;
    }
    const Project& project = m_session.project();
    const Pass* picture = picturePass(m_session.passes());
    if (picture != nullptr)
        m_view->setBefore(
            [image = picture->image, transform = project.viewTransform,
             exposure = project.exposure] { return toQImage(viewed(image, transform, exposure)); },
            tr("before"));
}

void PictureRoom::ask() {
    if (m_session.passes().empty())
        return;
    PictureRequest request = requestAt(m_session.time());
    request.editing = m_recipe->chosen();
    request.where = m_recipe->whereShown() == WhereShown::No ? std::string() : m_recipe->chosen();
    request.moving = m_handMoves;
    request.playing = m_player.playing() ? playingFactor() : 0;
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

void PictureRoom::takeWhere(const QImage& mask) {
    m_whereMask = mask;
    const WhereShown shown = m_recipe->whereShown();
    m_view->setTinted(shown == WhereShown::Overlay ? mask : QImage());
    if (!m_shownPass.isEmpty() || m_session.passes().empty())
        return;
    const QImage& wanted = shown == WhereShown::Matte && !mask.isNull() ? mask : m_picture;
    m_view->setPicture(wanted, QSize(m_session.passes().width, m_session.passes().height));
}

void PictureRoom::exportWhere(const std::string& step, const std::filesystem::path& file) {
    m_exporting.start(
        [this, step, file, project = m_session.project(), passes = m_session.passes(),
         time = m_session.time()](const std::stop_token& stop) {
            requireExportable({file}, project, 0);
            Evaluator evaluator(stepCatalogue());
            evaluator.setPasses(passes);
            EvaluateOptions how;
            how.time = time;
            how.problem = [](const std::string&, const std::string&) {};
            const Image matte =
                evaluator.where(project.recipe, step, how, {.stop = stop, .progress = {}});
            if (matte.empty())
                return std::function<void()>();
            exportMatte(file, matte, {});
            return std::function<void()>([this, file] {
                Q_EMIT m_session.notified(tr("Exported %1").arg(qstring(file.filename().string())),
                                          false);
            });
        },
        [this](const QString& text) { Q_EMIT m_session.notified(text, true); });
}

void PictureRoom::showExport() {
    m_export->setShownPass(m_shownPass);
    m_export->present();
}

std::vector<RoomCommand> PictureRoom::commands() {
    std::vector<RoomCommand> all{{tr("Export the picture…"), QKeySequence(Qt::CTRL | Qt::Key_E),
                                  [this] { showExport(); }, true},
                                 {tr("Relink to other pass files…"),
                                  {},
                                  [this] {
                                      const QStringList files =
                                          askFilesToRead(this, tr("Relink to other pass files"),
                                                         m_session.folderForFiles());
                                      std::vector<std::filesystem::path> paths;
                                      for (const QString& file : files)
                                          paths.emplace_back(file.toStdString());
                                      if (!paths.empty())
                                          m_session.relink(paths);
                                  },
                                  true}};
    for (const StepType& type : stepCatalogue().types())
        all.push_back({tr("Add step: %1").arg(qstring(type.label)), {}, [this, id = type.id] {
                           m_recipe->addStep(id);
                       }});
    using Compare = PictureView::Compare;
    all.push_back({tr("Picture as it is now"), {}, [this] { m_bar->setCompare(Compare::None); }});
    all.push_back({tr("Compare with a wipe"), QKeySequence(Qt::Key_F7),
                   [this] { m_bar->setCompare(Compare::Wipe); }});
    all.push_back({tr("Compare side by side"), QKeySequence(Qt::Key_F8),
                   [this] { m_bar->setCompare(Compare::SideBySide); }});
    all.push_back({tr("Compare with the previous render"), {}, [this] { compareFormer(); }});
    all.push_back({tr("Compare other frames with this one"), {}, [this] {
                       setFormer(m_picture, tr("Frame %1").arg(m_session.time().number));
                       compareFormer();
                   }});
    return all;
}

void PictureRoom::fitPicture() { m_view->fit(); }

void PictureRoom::showWholePixels() { m_view->showWholePixels(); }

void PictureRoom::compareFormer() { m_bar->compareFormer(); }

void PictureRoom::holdBefore(bool hold) { m_view->holdBefore(hold); }

}  // namespace noctis
