#include "app/window/main_window.h"

#include "app/cards/amount_bar.h"
#include "app/cards/step_card.h"
#include "app/controls/value_bar.h"
#include "app/instruments/sounding.h"
#include "app/picture/export_panel.h"
#include "app/picture/picture_bar.h"
#include "app/picture/picture_room.h"
#include "app/picture/picture_view.h"
#include "app/picture/reading_panel.h"
#include "app/picture/recipe_panel.h"
#include "app/survey/pass_list.h"
#include "app/survey/survey_room.h"
#include "app/survey/trace_view.h"
#include "app/window/command_finder.h"
#include "app/window/note_bar.h"
#include "core/project/project_file.h"
#include "core/steps/registry.h"
#include "support/files.h"
#include "support/windows.h"

#include <QAbstractScrollArea>
#include <QApplication>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QDropEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QPushButton>
#include <QTest>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;
using test::openAndRead;
using test::waitFor;
using test::waitForReading;

// Real windows, driven as a hand does: mouse, keys and drops.

namespace {

constexpr int kWidth = 160;
constexpr int kHeight = 90;

/// A picture and a depth that runs away upwards from 2 to 60 m, as Noctis would write it.
std::filesystem::path passFile(const Folder& folder) {
    PassSet set;
    set.camera = lookingAt(V3f(0, 2, 0), V3f(0, 1, -8), 0.7F);
    for (const PassKind kind : {PassKind::Beauty, PassKind::Depth, PassKind::Occlusion}) {
        Pass pass;
        pass.name = passKindInfo(kind).id;
        pass.kind = kind;
        pass.image = Image(kWidth, kHeight, passKindInfo(kind).channels);
        for (int c = 0; c < pass.image.channels(); ++c)
            for (int y = 0; y < kHeight; ++y)
                for (int x = 0; x < kWidth; ++x)
                    pass.image.editPlane(c)[pass.image.rowStride() * y + x] =
                        kind == PassKind::Depth
                            ? 2.0F + 58.0F * static_cast<float>(kHeight - 1 - y) / kHeight
                            : static_cast<float>((x / 8 + y / 8) % 2) * 0.5F + 0.1F;
        set.put(pass);
    }
    writePasses(folder / "frame.exr", set);
    return folder / "frame.exr";
}

/// Grey depth without any hint, as another renderer might write it: near dark, in one file with the picture.
std::filesystem::path foreignFile(const Folder& folder) {
    FilePart part{
        "rgba",           "", Image(kWidth, kHeight, {"R", "G", "B", "shot.depth.Z"}, 0.3F),
        SampleType::Half, {}, Compression::Zip};
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x)
            part.image.editPlane(3)[part.image.rowStride() * y + x] =
                0.9F * static_cast<float>(kHeight - 1 - y) / kHeight + 0.02F;
    writeImageFile(folder / "foreign.exr", {part});
    return folder / "foreign.exr";
}

std::filesystem::path sceneFile(const Folder& folder) {
    return folder.write("wall.obj",
                        "o ground\nv -20 0 20\nv 20 0 20\nv 20 0 -20\nv -20 0 -20\nf 1 2 3 4\no "
                        "wall\nv -4 0 -5\nv 4 0 -5\nv 4 3 -5\nv -4 3 -5\nf 5 6 7 8\n");
}

void drop(MainWindow& window, const std::vector<std::filesystem::path>& files) {
    QMimeData data;
    QList<QUrl> urls;
    for (const auto& file : files)
        urls << QUrl::fromLocalFile(QString::fromStdString(file.string()));
    data.setUrls(urls);
    QDragEnterEvent enter(QPoint(100, 100), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&window, &enter);
    REQUIRE(enter.isAccepted());
    QDropEvent event(QPointF(100, 100), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&window, &event);
}

/// A window with passes open and a fog and a lens in the recipe.
struct Opened {
    Folder folder;
    MainWindow window{folder / "data"};

    Opened() {
        window.show();
        drop(window, {passFile(folder)});
        REQUIRE(waitForReading(window.session()));
        REQUIRE_FALSE(window.session().passes().empty());
        window.picture().recipe().addStep("fog");
        window.picture().recipe().addStep("depth_of_field");
        settle();
    }
    void settle() {
        REQUIRE(waitFor([&] { return window.picture().settled(); }));
        QApplication::processEvents();
    }
    [[nodiscard]] float setting(std::size_t step, const char* id) {
        const Step& s = window.session().project().recipe.steps.at(step);
        return std::get<float>(s.settings.at(id));
    }
    [[nodiscard]] QImage picture() { return window.picture().view().picture(); }
};

}  // namespace

TEST_CASE("dropping a pass file shows the picture, its prints and its depth on the Sounding",
          "[app]") {
    Opened o;
    CHECK(o.picture().width() == kWidth);
    CHECK(o.window.picture().instrument<Sounding>().axis().nearest == Approx(1.6F).epsilon(0.1));
    CHECK(o.window.picture().findChild<QAbstractButton*>("depth") != nullptr);
    CHECK(o.window.picture().isVisible());
}

TEST_CASE("dragging a fog handle on the Sounding moves the fog, and is one undo",
          "[app][sounding]") {
    Opened o;
    Sounding& sounding = o.window.picture().instrument<Sounding>();
    const float before = o.setting(0, "start");
    const QImage unfogged = o.picture();
    const QPoint from = sounding.handlePlace("fog", "start").value().toPoint();
    QTest::mousePress(&sounding, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 10; ++i)
        QTest::mouseMove(&sounding, from + QPoint(i * 8, 0));
    QTest::mouseRelease(&sounding, Qt::LeftButton, {}, from + QPoint(80, 0));
    const float after = o.setting(0, "start");
    CHECK(after == Approx(sounding.axis().metresAt(from.x() + 80)).epsilon(0.02));
    CHECK(after > before);
    o.settle();
    CHECK(o.picture() != unfogged);
    CHECK(o.picture().width() == kWidth);  // at full scale again

    QTest::keyClick(&o.window, Qt::Key_Z, Qt::ControlModifier);
    CHECK(o.setting(0, "start") == before);
    QTest::keyClick(&o.window, Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    CHECK(o.setting(0, "start") == after);
}

TEST_CASE("the Sounding works by keys alone", "[app][sounding]") {
    Opened o;
    Sounding& sounding = o.window.picture().instrument<Sounding>();
    sounding.setFocus();
    const float before = o.setting(0, "start");
    QTest::keyClick(&sounding, Qt::Key_Right);
    CHECK(o.setting(0, "start") > before);
    QTest::keyClick(&sounding, Qt::Key_Down);
    const float density = o.setting(0, "density");
    QTest::keyClick(&sounding, Qt::Key_Left);
    CHECK(o.setting(0, "density") > density);
}

TEST_CASE("a click in the picture sets the focus to the distance there", "[app]") {
    Opened o;
    PictureView& view = o.window.picture().view();
    const QPoint at = view.fromPicture(QPointF(80.5, 60.5)).toPoint();
    QTest::mouseClick(&view, Qt::LeftButton, {}, at);
    const QPointF hit = view.toPicture(at);
    const float depth = o.window.session()
                            .passes()
                            .find(PassKind::Depth)
                            ->image(static_cast<int>(hit.x()), static_cast<int>(hit.y()), 0);
    CHECK(o.setting(1, "focus") == Approx(depth));
}

TEST_CASE("pointing into the picture probes it and moves the needle; pointing at the axis lights "
          "the picture up",
          "[app][sounding]") {
    Opened o;
    PictureView& view = o.window.picture().view();
    QTest::mouseMove(&view, view.fromPicture(QPointF(40.5, 80.5)).toPoint());
    QApplication::processEvents();
    const auto* probe = o.window.findChild<QLabel*>("probe");
    REQUIRE(probe != nullptr);
    CHECK(probe->text().contains("m deep"));
    CHECK(probe->text().contains("% open"));
    const QImage before = view.grab().toImage();
    QTest::mouseMove(&o.window.picture().instrument<Sounding>(), QPoint(700, 90));
    CHECK(view.grab().toImage() != before);
}

TEST_CASE("a value is dragged, typed and stepped with keys on its bar", "[app][controls]") {
    Opened o;
    o.window.picture().recipe().choose("fog");
    QApplication::processEvents();
    auto* bar = o.window.picture().recipe().findChild<ValueBar*>("start");
    REQUIRE(bar != nullptr);
    const QPoint middle = bar->track().center();
    QTest::mousePress(bar, Qt::LeftButton, {}, middle);
    QTest::mouseMove(bar, middle + QPoint(20, 0));
    QTest::mouseRelease(bar, Qt::LeftButton, {}, middle + QPoint(20, 0));
    CHECK(o.setting(0, "start") == Approx(bar->value()));
    CHECK(bar->value() > 5.0F);

    QTest::keyClick(bar, Qt::Key_Return);
    auto* line = bar->findChild<QLineEdit*>();
    REQUIRE(line != nullptr);
    QTest::keyClicks(line, "12.5");
    QTest::keyClick(line, Qt::Key_Return);
    CHECK(o.setting(0, "start") == 12.5F);
    QTest::keyClick(bar, Qt::Key_Left);
    CHECK(o.setting(0, "start") < 12.5F);
}

TEST_CASE("a typed visibility becomes the density that makes it", "[app][controls]") {
    Opened o;
    o.window.picture().recipe().choose("fog");
    QApplication::processEvents();
    auto* bar = o.window.picture().recipe().findChild<ValueBar*>("density");
    REQUIRE(bar != nullptr);
    QTest::keyClick(bar, Qt::Key_Return);
    QTest::keyClicks(bar->findChild<QLineEdit*>(), "60");
    QTest::keyClick(bar->findChild<QLineEdit*>(), Qt::Key_Return);
    CHECK(o.setting(0, "density") == Approx(0.05F));
}

TEST_CASE("a card switches its step, drags its amount, and goes with Delete", "[app][recipe]") {
    Opened o;
    auto* card = o.window.picture().recipe().findChild<StepCard*>("fog");
    REQUIRE(card != nullptr);
    auto* amount = card->findChild<AmountBar*>();
    QTest::mouseClick(amount, Qt::LeftButton, {},
                      QPoint(amount->width() / 4, amount->height() - 2));
    CHECK(o.window.session().project().recipe.steps[0].amount == Approx(0.25F).margin(0.02));
    QTest::mouseClick(card->findChild<QAbstractButton*>(), Qt::LeftButton);
    CHECK_FALSE(o.window.session().project().recipe.steps[0].on);
    card->setFocus();
    QTest::keyClick(card, Qt::Key_Delete);
    CHECK(o.window.session().project().recipe.steps.size() == 1);
    QTest::keyClick(&o.window, Qt::Key_Z, Qt::ControlModifier);
    CHECK(o.window.session().project().recipe.steps.size() == 2);
}

TEST_CASE("before and after are compared by a held key, a wipe and side by side", "[app]") {
    Opened o;
    PictureView& view = o.window.picture().view();
    view.setFocus();
    const QImage now = view.grab().toImage();
    const auto lit = [&](const char* text) {
        for (const auto* button : o.window.picture().bar().findChildren<QPushButton*>())
            if (button->text() == QLatin1String(text))
                return button->isChecked();
        return false;
    };
    CHECK(lit("Now"));
    QTest::keyPress(&view, Qt::Key_B);
    CHECK(view.grab().toImage() != now);
    CHECK(lit("Before"));
    CHECK_FALSE(lit("Now"));
    QTest::keyRelease(&view, Qt::Key_B);
    CHECK(view.grab().toImage() == now);
    CHECK(lit("Now"));
    QTest::keyClick(&o.window, Qt::Key_F7);
    CHECK(view.compare() == PictureView::Compare::Wipe);
    const QImage middle = view.grab().toImage();
    const QPoint line(view.width() / 2, view.height() / 2);
    QTest::mousePress(&view, Qt::LeftButton, {}, line);
    QTest::mouseMove(&view, line - QPoint(120, 0));
    QTest::mouseRelease(&view, Qt::LeftButton, {}, line - QPoint(120, 0));
    CHECK(view.grab().toImage() != middle);
    QTest::keyClick(&o.window, Qt::Key_F8);
    CHECK(view.compare() == PictureView::Compare::SideBySide);
}

TEST_CASE("the picture zooms about the pointer and pans with a drag", "[app]") {
    Opened o;
    PictureView& view = o.window.picture().view();
    const QPointF pointer(view.width() * 0.3, view.height() * 0.4);
    const QPointF under = view.toPicture(pointer);
    QWheelEvent wheel(pointer, view.mapToGlobal(pointer), {}, QPoint(0, 240), Qt::NoButton,
                      Qt::NoModifier, Qt::NoScrollPhase, false);
    const qreal zoom = view.zoom();
    QApplication::sendEvent(&view, &wheel);
    CHECK(view.zoom() > zoom * 1.4);
    CHECK((view.toPicture(pointer) - under).manhattanLength() < 0.01);
    QTest::mousePress(&view, Qt::LeftButton, {}, pointer.toPoint());
    QTest::mouseMove(&view, pointer.toPoint() + QPoint(30, 10));
    QTest::mouseRelease(&view, Qt::LeftButton, {}, pointer.toPoint() + QPoint(30, 10));
    CHECK((view.toPicture(pointer + QPointF(30, 10)) - under).manhattanLength() < 1.0);
    QTest::keyClick(&o.window, Qt::Key_0, Qt::ControlModifier);
    CHECK(view.zoom() == Approx(zoom));
}

TEST_CASE("foreign grey depth is read with a reason, corrected on the spot, and takes fog",
          "[app][reading]") {
    const Folder folder;
    MainWindow window(folder / "data");
    window.show();
    REQUIRE(waitFor([&] { return window.isActiveWindow(); }));
    drop(window, {foreignFile(folder)});
    REQUIRE(waitForReading(window.session()));
    const Pass* depth = window.session().passes().find(PassKind::Depth);
    REQUIRE(depth != nullptr);
    REQUIRE(depth->interpretation);
    CHECK(depth->interpretation->coding == DepthCoding::Normalised);
    CHECK(window.notes().text().contains("read as normalised"));

    REQUIRE(waitFor([&] { return window.picture().settled(); }));
    auto* print = window.picture().findChild<QAbstractButton*>(QString::fromStdString(depth->name));
    REQUIRE(print != nullptr);
    QTest::mouseClick(print, Qt::LeftButton);
    auto* panel = window.picture().findChild<ReadingPanel*>();
    REQUIRE(panel->isVisible());
    for (auto* box : panel->findChildren<QDoubleSpinBox*>())
        if (box->accessibleName() == "Far") {
            box->setFocus();
            box->selectAll();
            QTest::keyClicks(box, "40");
            QTest::keyClick(box, Qt::Key_Return);
        }
    depth = window.session().passes().find(PassKind::Depth);
    CHECK(depth->interpretation->farDistance == 40.0F);
    CHECK(depth->image(5, 0, 0) == Approx(0.5F + 39.5F * 0.91F).epsilon(0.02));

    // No file has a camera, so its angle can be set, and places follow.
    const float top = resolvePass(window.session().passes(), PassKind::Position).image(80, 0, 1);
    for (auto* box : panel->findChildren<QDoubleSpinBox*>())
        if (box->accessibleName() == "Angle of view") {
            REQUIRE(box->isVisible());
            CHECK(box->value() == Approx(40.0));
            box->setFocus();
            box->selectAll();
            QTest::keyClicks(box, "60");
            QTest::keyClick(box, Qt::Key_Return);
        }
    CHECK(resolvePass(window.session().passes(), PassKind::Position).image(80, 0, 1) ==
          Approx(top * std::tan(0.5236F) / std::tan(0.3491F)).epsilon(1e-3));
    // The box still has the focus, and yet it is the change that is undone.
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Z, Qt::ControlModifier);
    CHECK(window.session().project().readings.yfovRadians == kAssumedYfovRadians);

    window.picture().recipe().addStep("fog");
    // It starts with the picture's own colour, which on this even one shows nothing.
    window.session().change({}, {}, [](Project& p) {
        p.recipe.steps.front().settings.set("colour", LinearRgb{0.0F, 0.0F, 0.9F});
    });
    QTest::qWait(200);
    REQUIRE(waitFor([&] { return window.picture().settled(); }));
    window.picture().showPass({});
    const QImage fogged = window.picture().view().picture();
    CHECK(fogged.pixelColor(10, 2) != fogged.pixelColor(10, kHeight - 2));
    for (int i = 0; i < 3; ++i)
        QTest::keyClick(&window, Qt::Key_Z, Qt::ControlModifier);
    REQUIRE(waitForReading(window.session()));
    CHECK(window.session().passes().find(PassKind::Depth)->interpretation->farDistance != 40.0F);
}

TEST_CASE("a scene is looked at, rendered and stopped in Survey", "[app][survey]") {
    const Folder folder;
    MainWindow window(folder / "data");
    window.show();
    drop(window, {sceneFile(folder)});
    REQUIRE(waitFor([&] { return window.session().scene() != nullptr; }));
    SurveyRoom& survey = window.survey();
    REQUIRE(survey.isVisible());
    REQUIRE(waitFor([&] { return !survey.view().image().isNull(); }));
    window.session().change("size", {}, [](Project& p) {
        p.width = 96;
        p.height = 54;
        for (PassRequest& pass : p.passes)
            if (pass.kind == PassKind::Beauty)
                pass.settings.set("samples", 4.0F);
    });
    const View before = window.session().view();
    QTest::mousePress(&survey.view(), Qt::LeftButton, {}, QPoint(300, 200));
    QTest::mouseMove(&survey.view(), QPoint(340, 215));
    QTest::mouseRelease(&survey.view(), Qt::LeftButton, {}, QPoint(340, 215));
    CHECK_FALSE(window.session().view() == before);

    auto* button = survey.findChild<QPushButton*>("render");
    REQUIRE(button->isEnabled());
    QTest::mouseClick(button, Qt::LeftButton);
    CHECK(survey.renderer().running());
    REQUIRE(waitFor([&] { return !survey.renderer().running(); }));
    CHECK(window.session().passes().width == 96);
    CHECK(window.session().passes().find(PassKind::Depth) != nullptr);
    const auto states = [&] { return survey.passes().statesOf(window.session().view()); };
    CHECK(states().size() == window.session().project().passes.size());
    for (const PassState& state : states())
        CHECK(state.kind == PassState::Kind::Current);
    CHECK_FALSE(button->isEnabled());

    REQUIRE(waitFor([&] { return window.picture().settled(); }));
    QTest::qWait(50);
    int pictures = 0;
    QObject::connect(&window.picture().worker(), &PictureWorker::pictureReady, &window,
                     [&] { ++pictures; });
    QTest::mousePress(&survey.view(), Qt::LeftButton, {}, QPoint(300, 200));
    QTest::mouseMove(&survey.view(), QPoint(260, 200));
    QTest::mouseRelease(&survey.view(), Qt::LeftButton, {}, QPoint(260, 200));
    CHECK(states()[0].kind == PassState::Kind::Stale);
    QTest::qWait(50);
    CHECK(pictures == 0);  // a camera that moves changes nothing of the picture
    window.session().change("samples", {},
                            [](Project& p) { p.passes[0].settings.set("samples", 60000.0F); });
    QTest::mouseClick(button, Qt::LeftButton);
    QTest::qWait(50);
    const PassSet kept = window.session().passes();
    QTest::mouseClick(survey.findChild<QPushButton*>("stop"), Qt::LeftButton);
    CHECK_FALSE(survey.renderer().running());
    CHECK(test::sameBits(window.session().passes().passes[0].image, kept.passes[0].image));
}

TEST_CASE("what can't be opened is reported, and the open project stays as it was", "[app]") {
    Opened o;
    const Project before = o.window.session().project();
    for (const auto& file :
         {o.folder.write("cut.exr", "v/1\x01 half a file"), o.folder.write("bad.noctis", "{"),
          o.folder.write("song.mp3", "la"), o.folder / "none.noctis"}) {
        drop(o.window, {file});
        REQUIRE(waitForReading(o.window.session()));
        CHECK(o.window.notes().isVisible());
        CHECK(o.window.session().project() == before);
        CHECK_FALSE(o.window.session().passes().empty());
    }
    drop(o.window, {o.folder.write("noise.obj", "hello")});
    REQUIRE(waitFor([&] { return !o.window.session().loadingScene(); }));
    CHECK(o.window.notes().isVisible());
}

TEST_CASE("notes have a line at the foot: instruments make room, and nothing above moves",
          "[app]") {
    Opened o;
    NoteBar& notes = o.window.notes();
    const auto placeOf = [&](QWidget& widget) {
        QApplication::processEvents();
        return QRect(widget.mapTo(&o.window, QPoint()), widget.size());
    };
    auto& sounding = o.window.picture().instrument<Sounding>();
    const QRect picture = placeOf(o.window.picture().view());
    const QRect before = placeOf(sounding);
    notes.add("A depth has stairs.", true);
    const QRect line = placeOf(notes);
    CHECK(placeOf(o.window.picture().view()) == picture);
    CHECK(line.bottom() == o.window.rect().bottom());
    CHECK(placeOf(sounding).bottom() < line.top());
    // A long one takes the lines it needs, upwards; so does a narrower window.
    notes.add(QString("What is said at length. ").repeated(20), true);
    const QRect lines = placeOf(notes);
    CHECK(lines.height() > line.height());
    CHECK(lines.bottom() == line.bottom());
    CHECK(placeOf(sounding).bottom() < lines.top());
    CHECK(placeOf(o.window.picture().view()) == picture);
    o.window.resize(o.window.minimumSize());
    CHECK(placeOf(notes).bottom() == o.window.rect().bottom());
    CHECK(placeOf(notes).height() >= lines.height());
    o.window.resize(1280, 800);
    // News is seen before what waits.
    notes.add("Wrote it.", false);
    CHECK(notes.text() == "Wrote it.");
    notes.takeBack("Wrote it.");
    CHECK(notes.text().startsWith("What is said at length."));
    notes.takeBack(notes.text());
    notes.takeBack("A depth has stairs.");
    CHECK_FALSE(notes.isVisible());
    CHECK(placeOf(sounding).size() == before.size());
}

TEST_CASE("a project is saved, changed, opened again, and recovered after a crash",
          "[app][project]") {
    Opened o;
    const auto path = o.folder / "work.noctis";
    REQUIRE(o.window.session().save(path));
    CHECK_FALSE(o.window.session().history().changedSinceSaved());
    o.window.session().change("exposure", {}, [](Project& p) { p.exposure = 1.5F; });
    CHECK(o.window.session().history().changedSinceSaved());
    const auto isKept = [&] {
        return std::any_of(
            std::filesystem::directory_iterator(o.folder.path()), {},
            [](const auto& entry) { return entry.path().extension() == ".noctis-autosave"; });
    };
    REQUIRE(waitFor(isKept));

    // A second window finds what the first would have left behind had it crashed.
    MainWindow next(o.folder / "data");
    next.show();
    next.offerRecovery();
    REQUIRE(next.notes().isVisible());
    for (auto* button : next.notes().findChildren<QPushButton*>())
        if (button->text() == "Open them")
            QTest::mouseClick(button, Qt::LeftButton);
    REQUIRE(waitForReading(next.session()));
    CHECK(next.session().project().exposure == 1.5F);
    CHECK(next.session().project().recipe.steps.size() == 2);
    REQUIRE(openAndRead(next, {path}));
    CHECK(next.session().project().exposure == 0.0F);
}

TEST_CASE("a project that changed elsewhere is asked about where it would be saved",
          "[app][project]") {
    Opened o;
    Session& session = o.window.session();
    const auto path = o.folder / "work.noctis";
    REQUIRE(session.save(path));
    const auto press = [&](const char* label) {
        for (auto* button : o.window.notes().findChildren<QPushButton*>())
            if (button->text() == label && button->isVisible())
                return QTest::mouseClick(button, Qt::LeftButton);
        FAIL_CHECK("no button " << label);
    };
    const auto changeElsewhere = [&](float exposure) {
        Project theirs = openProject(path, stepCatalogue());
        theirs.exposure = exposure;
        saveProject(theirs, path, stepCatalogue());
    };
    session.change("exposure", {}, [](Project& p) { p.exposure = 1.5F; });
    changeElsewhere(3.0F);
    for (int i = 0; i < 2; ++i) {
        QTest::keyClick(&o.window, Qt::Key_S, Qt::ControlModifier);
        REQUIRE(o.window.notes().text().contains("work.noctis was changed elsewhere"));
    }
    CHECK(openProject(path, stepCatalogue()).exposure == 3.0F);
    press("Replace theirs");
    CHECK(openProject(path, stepCatalogue()).exposure == 1.5F);
    CHECK_FALSE(session.unsaved());

    session.change("exposure", {}, [](Project& p) { p.exposure = 2.5F; });
    changeElsewhere(4.0F);
    QTest::keyClick(&o.window, Qt::Key_S, Qt::ControlModifier);
    press("Open theirs");
    REQUIRE(waitForReading(session));
    CHECK(session.project().exposure == 4.0F);
    CHECK(o.window.notes().text().contains("its changes were kept"));
}

TEST_CASE("closing keeps what is unsaved, and asks only where it can't", "[app][project]") {
    Opened o;
    o.window.session().change("exposure", {}, [](Project& p) { p.exposure = 1.5F; });
    CHECK(o.window.close());
    MainWindow next(o.folder / "data");
    next.show();
    next.offerRecovery();
    CHECK(next.notes().text().startsWith("Unsaved changes from "));
    for (auto* button : next.notes().findChildren<QPushButton*>())
        if (button->text() == "Open them")
            QTest::mouseClick(button, Qt::LeftButton);
    REQUIRE(waitForReading(next.session()));
    CHECK(next.session().project().exposure == 1.5F);

    MainWindow nowhere("/proc/noctis");
    nowhere.show();
    CHECK(nowhere.close());  // nothing is unsaved
    nowhere.show();
    nowhere.session().change("exposure", {}, [](Project& p) { p.exposure = 1.5F; });
    CHECK_FALSE(nowhere.close());
    CHECK(nowhere.isVisible());
    CHECK(nowhere.notes().text().startsWith("Couldn't keep your changes."));
    CHECK(nowhere.notes().text().contains("/proc/noctis"));
    nowhere.session().change("exposure", {}, [](Project& p) { p.exposure = 2.5F; });
    CHECK_FALSE(nowhere.close());  // that is other work
    CHECK(nowhere.close());
}

TEST_CASE("saving where nothing can be written says so and loses nothing", "[app][project]") {
    Opened o;
    CHECK_FALSE(o.window.session().save("/proc/work.noctis"));
    CHECK(o.window.notes().text().contains("/proc/work.noctis"));
    CHECK(o.window.session().project().recipe.steps.size() == 2);
}

TEST_CASE("commands are found by a part of their name and run with Return", "[app][finder]") {
    Opened o;
    QTest::keyClick(&o.window, Qt::Key_F1);
    REQUIRE(o.window.finder().isVisible());
    auto* line = o.window.finder().findChild<QLineEdit*>();
    QTest::keyClicks(line, "survey");
    QTest::keyClick(line, Qt::Key_Return);
    CHECK_FALSE(o.window.finder().isVisible());
    CHECK(o.window.survey().isVisible());
    // The exact one is found before one that only holds its words.
    QTest::keyClick(&o.window, Qt::Key_F1);
    QTest::keyClicks(line, "shadow");
    QTest::keyClick(line, Qt::Key_Return);
    REQUIRE_FALSE(o.window.session().project().recipe.steps.empty());
    CHECK(o.window.session().project().recipe.steps.back().type == "shadow");
}

TEST_CASE("an instrument stands in the picture's place for a while", "[app][instruments]") {
    Opened o;
    auto& sounding = o.window.picture().instrument<Sounding>();
    PictureView& view = o.window.picture().view();
    const QSize before = sounding.size();
    auto* enlarge = sounding.findChild<QPushButton*>("enlarge");
    REQUIRE(enlarge != nullptr);
    QTest::mouseClick(enlarge, Qt::LeftButton);
    QApplication::processEvents();
    CHECK_FALSE(view.isVisible());
    CHECK(sounding.height() > 2 * before.height());
    QTest::mouseClick(enlarge, Qt::LeftButton);
    QApplication::processEvents();
    CHECK(view.isVisible());
    CHECK(sounding.size() == before);
}

TEST_CASE("every control has a name for those who can't see it, and everything has its tooltip",
          "[app][access]") {
    Opened o;
    o.window.picture().recipe().choose("depth_of_field");
    QApplication::processEvents();
    for (auto* widget : o.window.findChildren<QWidget*>()) {
        if (widget->focusPolicy() == Qt::NoFocus || !widget->isVisible() ||
            qobject_cast<QAbstractScrollArea*>(widget) != nullptr)
            continue;
        const auto* button = qobject_cast<QAbstractButton*>(widget);
        const bool named = !widget->accessibleName().isEmpty() ||
                           (button != nullptr && !button->text().isEmpty()) ||
                           qobject_cast<QLineEdit*>(widget) != nullptr;
        INFO(widget->metaObject()->className() << " " << widget->objectName().toStdString());
        CHECK(named);
    }
    for (auto* bar : o.window.picture().recipe().findChildren<ValueBar*>())
        CHECK_FALSE(bar->toolTip().isEmpty());
}
