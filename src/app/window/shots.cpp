#include "app/window/shots.h"

#include "app/dispatch/dispatch_queue.h"
#include "app/dispatch/dispatch_room.h"
#include "app/instruments/sounding.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/picture/key_graph.h"
#include "app/picture/picture_bar.h"
#include "app/picture/picture_room.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "app/relief/relief_panel.h"
#include "app/relief/relief_room.h"
#include "app/session/demo_folder.h"
#include "app/survey/pass_list.h"
#include "app/survey/survey_room.h"
#include "app/survey/trace_view.h"
#include "app/survey/turnaround_panel.h"
#include "app/window/command_finder.h"
#include "app/window/main_window.h"
#include "core/steps/registry.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QThread>

#include <cstdio>

namespace noctis {

namespace {

constexpr int kPatienceMs = 60000;

/// Runs the event loop until something holds.
template <typename Holds> void waitUntil(Holds holds) {
    QElapsedTimer timer;
    timer.start();
    while (!holds() && timer.elapsed() < kPatienceMs) {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
        QThread::msleep(2);
    }
}

/// A click at a part of the view's frame.
void clickAt(QWidget& view, const QRectF& frame, double x, double y) {
    const QPointF at(frame.left() + frame.width() * x, frame.top() + frame.height() * y);
    const QPointF global = view.mapToGlobal(at);
    for (const auto type : {QEvent::MouseButtonPress, QEvent::MouseButtonRelease}) {
        QMouseEvent event(type, at, global, Qt::LeftButton, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&view, &event);
    }
}

/// Pictures of one size side by side, two in a row.
QPixmap sheetOf(const QList<QPixmap>& pictures) {
    const QSize size = pictures.front().size();
    QPixmap sheet(2 * size.width(), static_cast<int>(pictures.size() + 1) / 2 * size.height());
    sheet.fill(theme::kSurround);
    QPainter painter(&sheet);
    for (int i = 0; i < static_cast<int>(pictures.size()); ++i)
        painter.drawPixmap(i % 2 * size.width(), i / 2 * size.height(),
                           pictures[static_cast<qsizetype>(i)]);
    return sheet;
}

void letRest(int ms) {
    QElapsedTimer timer;
    timer.start();
    waitUntil([&] { return timer.elapsed() > ms; });
}

/// The sides that Survey has just kept as views, rendered small and coarsely, as a sheet with a shadow.
void shootSheet(MainWindow& window, const std::function<void(const QString&)>& shoot) {
    Session& session = window.session();
    session.change({}, {}, [](Project& p) {
        p.width = p.height = 360;
        p.passes = {passRequest(PassKind::Beauty), passRequest(PassKind::Depth),
                    passRequest(PassKind::GroundShadow)};
        applyPassSetting(p.passes, "beauty.backdrop=off");
        applyPassSetting(p.passes, "beauty.samples=12");
        applyPassSetting(p.passes, "beauty.denoise=1");
        applyPassSetting(p.passes, "ground_shadow.samples=24");
        p.recipe.steps = {stepCatalogue().newStep("ground")};
    });
    window.survey().passes().renderViews();
    waitUntil([&] { return !window.survey().renderer().running(); });
    JobQueue& queue = window.queue().jobs();
    const bool paused = queue.paused();
    queue.pause(true);  // nothing is written by a tour
    DispatchRoom& dispatch = window.dispatch();
    window.showRoom(dispatch);
    waitUntil([&] { return dispatch.settled(); });
    dispatch.choose(QStringLiteral("sheet"));
    waitUntil([&] { return dispatch.settled(); });
    const std::vector<QueuedJob> before = queue.jobs();
    dispatch.findChild<QPushButton*>(QStringLiteral("add to queue"))->click();
    letRest(300);
    waitUntil([&] { return dispatch.settled(); });
    shoot(QStringLiteral("dispatch-room"));
    if (queue.jobs().size() > before.size())
        queue.remove(queue.jobs().back().job.id);
    queue.pause(paused);
}

}  // namespace

int takeShots(MainWindow& window, const QString& folder, const QSize& size) {
    QDir().mkpath(folder);
    int status = 0;
    const auto keep = [&](const QPixmap& shot, const QString& name) {
        const QString file = QDir(folder).filePath(name + QStringLiteral(".png"));
        if (!shot.save(file)) {
            std::fprintf(stderr, "noctis: %s: can't be written; choose another folder\n",
                         qPrintable(file));
            status = 4;
        }
    };
    const auto shoot = [&](const QString& name) {
        QApplication::processEvents();
        keep(window.grab(), name);
    };
    window.resize(size);
    window.show();
    PictureRoom& picture = window.picture();
    SurveyRoom& survey = window.survey();
    waitUntil([&] { return !window.session().reader().running(); });
    waitUntil(
        [&] { return window.session().scene() != nullptr || !window.session().loadingScene(); });
    const auto settled = [&] {
        letRest(250);
        waitUntil([&] { return picture.settled(); });
        letRest(50);
    };
    settled();
    shoot("picture-room");
    picture.recipe().choose("depth_of_field");
    settled();
    shoot("picture-depth-of-field");
    picture.recipe().choose("fog");
    picture.bar().setCompare(PictureView::Compare::Wipe);
    settled();
    shoot("picture-wipe");
    picture.bar().setCompare(PictureView::Compare::None);
    // A grade on the near jetty alone, its Where laid over; then a name in the mist.
    picture.recipe().addStep("grade");
    window.session().change({}, {}, [](Project& p) {
        Step& grade = *p.recipe.find("grade");
        grade.settings.set("exposure", 1.2F);
        Where jetty = stepCatalogue().newCriterion("objects");
        jetty.settings.set("names", NameList{"jetty", "jetty frame", "crate 1", "crate 2"});
        Where near = stepCatalogue().newCriterion("depth");
        near.settings.set("span", Span{.to = 9.0F});
        near.settings.set("soft", 4.0F);
        grade.where.parts = {jetty, near};
    });
    picture.findChild<QPushButton*>("where-overlay")->click();
    settled();
    shoot("picture-where");
    window.session().undo();
    window.session().undo();
    picture.recipe().addStep("standee");
    window.session().change({}, {}, [](Project& p) {
        p.recipe.find("standee")->settings = settingsWith(
            stepCatalogue().type("standee"), {{"text", std::string("Saltern Quay")},
                                              {"height", 1.6F},
                                              {"distance", 16.0F},
                                              {"at", V2f(760.0F, 300.0F)},
                                              {"colour", LinearRgb{0.5F, 0.42F, 0.3F}}});
        p.recipe.steps.push_back(stepCatalogue().newStep("mist", p.recipe));
        p.recipe.steps.back().settings.set("colour", LinearRgb{0.03F, 0.045F, 0.07F});
    });
    settled();
    shoot("picture-standee");
    window.session().undo();
    window.session().undo();
    // A second moon from the left; the demo's looks; and a grade that is painted on.
    picture.recipe().addStep("relight");
    window.session().change({}, {}, [](Project& p) {
        const StepType& relight = stepCatalogue().type("relight");
        p.recipe.find("relight")->settings = settingsWith(relight, relight.presets[0].values);
    });
    settled();
    shoot("picture-relight");
    window.session().undo();
    window.session().undo();
    // Several looks of the demo in one picture.
    const auto shootLooks = [&](std::initializer_list<const char*> names, const QString& name) {
        QList<QPixmap> looks;
        for (const char* look : names) {
            picture.recipe().openLook(
                qstring((demoFolder() / "looks" / (std::string(look) + ".json")).string()),
                RecipePanel::LookTaken::Instead);
            settled();
            looks.append(picture.findChild<PictureView*>()->grab());
            window.session().undo();
        }
        keep(sheetOf(looks), name);
    };
    shootLooks({"Warm from the west", "Lantern twice, moon off", "Contact shadows", "Green crates"},
               QStringLiteral("picture-looks"));
    window.session().goTo(18);
    shootLooks({"Second moon", "Lantern in mist", "Moonlight past the boathouse",
                "Ground mist in three layers", "Scanning the boats", "Haze, cleared on the right"},
               QStringLiteral("picture-air"));
    window.session().goTo(1);
    // A look as a group at half its amount, and a focus that is pulled.
    picture.recipe().openLook(
        qstring((demoFolder() / "looks" / "Warm from the west.json").string()),
        RecipePanel::LookTaken::Added);
    window.session().change({}, {}, [](Project& p) {
        for (Step& step : p.recipe.steps)
            if (step.type == kGroup)
                step.amount = 0.5F;
        Key far;
        far.value = 40.0F;
        far.ease = Ease::Settle;
        Key near;
        near.frame = 36;
        near.value = 6.0F;
        if (Step* lens = p.recipe.find("depth_of_field"))
            lens->tracks.keys["focus"] = {far, near};
    });
    picture.recipe().choose("depth_of_field");
    window.session().goTo(16);
    settled();
    shoot("picture-groups");
    auto* curves = picture.findChild<QPushButton*>("curves");
    curves->click();
    settled();
    picture.findChild<KeyGraph*>()->chooseKeys({1});
    shoot("picture-time");
    curves->click();
    window.session().goTo(1);
    window.session().undo();
    window.session().undo();
    picture.recipe().addStep("grade");
    window.session().change({}, {}, [](Project& p) {
        Step& grade = *p.recipe.find("grade");
        grade.settings.set("exposure", 1.5F);
        Where painted = stepCatalogue().newCriterion("strokes");
        std::vector<Stroke> strokes;
        strokes.push_back(
            {{{730.0F, 430.0F}, {800.0F, 475.0F}, {920.0F, 480.0F}}, 60.0F, 0.6F, false});
        strokes.push_back({{{905.0F, 430.0F}, {950.0F, 440.0F}}, 22.0F, 0.4F, true});
        painted.settings.set("strokes",
                             Strokes{std::make_shared<const std::vector<Stroke>>(strokes)});
        grade.where.parts = {painted};
    });
    QApplication::processEvents();
    if (auto* draw = picture.recipe().findChild<QPushButton*>("draw-0"))
        draw->click();
    settled();
    shoot("picture-painted");
    window.session().undo();
    window.session().undo();
    // The tide stone from above; form and detail joined; the quay laid out on the ground.
    ReliefRoom& relief = window.relief();
    window.showRoom(relief);
    const auto showRelief = [&](const char* id) {
        relief.choose(id);
        letRest(200);
        waitUntil([&] { return relief.settled(); });
        letRest(200);
    };
    showRelief("above");
    waitUntil([&] { return relief.allPrinted(); });
    letRest(200);
    shoot("relief-room");
    showRelief("both");
    relief.panel().choose("from_normals");
    letRest(200);
    shoot("relief-detail");
    window.showRoom(survey);
    letRest(400);
    waitUntil([&] { return survey.view().settled(); });
    letRest(1500);
    waitUntil([&] { return survey.view().settled(); });
    shoot("survey-light");
    survey.show({PassKind::Depth, {}});
    letRest(300);
    waitUntil([&] { return survey.view().settled(); });
    // Three things are measured; the ramp runs from the nearest to the farthest of them.
    const auto press = [&](const char* name) {
        survey.findChild<QPushButton*>(QLatin1String(name))->click();
    };
    for (const auto& [x, y] :
         {std::pair(0.30, 0.66), std::pair(0.62, 0.70), std::pair(0.865, 0.36)}) {
        clickAt(survey.view(), survey.view().frame(), x, y);
        press("pin");
        press(x < 0.5 ? "near-here" : "far-here");
    }
    press("mist-here");
    press("cut");
    letRest(300);
    waitUntil([&] { return survey.view().settled(); });
    shoot("survey-depth");
    press("cut");
    window.session().change({}, {}, [](Project& p) { p.pins.clear(); });
    survey.show({PassKind::Occlusion, {}});
    letRest(300);
    waitUntil([&] { return survey.view().settled(); });
    shoot("survey-occlusion");
    while (window.session().history().canUndo())
        window.session().undo();  // the tour's changes are not worth keeping
    window.session().open({demoFolder() / "brass_heron.gltf"});
    survey.show({PassKind::Beauty, {}});
    waitUntil([&] { return window.session().scene() && !window.session().loadingScene(); });
    survey.turnaround().present("brass heron");
    press("keep-views");
    letRest(3000);
    waitUntil([&] { return survey.view().settled(); });
    shoot("survey-turnaround");
    survey.turnaround().hide();
    shootSheet(window, shoot);
    window.finder().present();
    shoot("command-finder");
    window.session().forgetUnsaved();
    return status;
}

}  // namespace noctis
