#include "app/look/theme.h"
#include "app/survey/survey_lanes.h"
#include "app/survey/survey_plan.h"
#include "app/survey/survey_room.h"
#include "app/survey/trace_view.h"
#include "app/window/main_window.h"
#include "event_loop.h"
#include "harness.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <stdexcept>

#include <fmt/format.h>

namespace bench {

namespace {

constexpr int kMoveMs = 16;  ///< a mouse reports some sixty moves a second
constexpr int kMoves = 180;
constexpr double kWantedSharpMs = 1000.0;

/// Survey on the demo, at rest.
struct Survey {
    QTemporaryDir folder;
    noctis::MainWindow window{folder.path().toStdString()};
    noctis::TraceView& view = window.survey().view();

    explicit Survey(const Demo& demo) {
        window.resize(1280, 800);
        window.show();
        window.open({demo.folder / "saltern_quay.noctis"});
        runWindow([&] { return !window.session().reader().running(); }, 60'000);
        window.showRoom(window.survey());
        runWindow([&] { return window.session().scene() != nullptr && !view.image().isNull(); },
                  60'000);
        // Dragging begins on a still picture, whose light is carried over.
        runWindow([&] { return view.settled(); }, 3'000);
    }
    /// Drags from a place of a widget, and counts the pictures that come.
    Row drag(QWidget& widget, const QPoint& from, const std::function<QPoint(int)>& way,
             const std::string& name, double wanted, int width) {
        QTest::mousePress(&widget, Qt::LeftButton, {}, from);
        int pictures = 0;
        qint64 shown = view.image().cacheKey();
        QElapsedTimer moving;
        moving.start();
        for (int i = 1; i <= kMoves; ++i) {
            QTest::mouseMove(&widget, from + way(i));
            runWindow(
                [&] {
                    const qint64 now = view.image().cacheKey();
                    pictures += now != shown ? 1 : 0;
                    shown = now;
                    return false;
                },
                kMoveMs);
        }
        Row row;
        row.name = name;
        row.unit = "/s";
        row.ours = 1000.0 * pictures / static_cast<double>(moving.elapsed());
        row.reference = wanted;
        row.ratio = row.ours / row.reference;
        row.target = 1.0;
        row.higherIsBetter = true;
        row.note = fmt::format("pictures a second, {} pixels wide; {} wanted", view.image().width(),
                               width);
        QTest::mouseRelease(&widget, Qt::LeftButton, {}, from + way(kMoves));
        return row;
    }
};

}  // namespace

void orbit(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    const std::string orbitName = "orbit of the demo";
    const std::string sharpName = "sharp after an orbit";
    const std::string lightName = "drag of the lantern in Survey";
    if (!wanted(orbitName) && !wanted(sharpName) && !wanted(lightName))
        return;
    noctis::theme::apply(*qApp);
    Survey survey(demo);
    noctis::TraceView& view = survey.view;
    if (wanted(lightName)) {
        noctis::SurveyPlan& plan = survey.window.survey().plan();
        const auto lantern = plan.handlePlace(noctis::kLightsOwner, "lantern");
        if (!lantern)
            throw std::runtime_error("the demo has no lantern to drag");
        const QPoint from = lantern->toPoint();
        rows.push_back(survey.drag(
            plan, from, [](int i) { return QPoint(i / 6, i % 2); }, lightName, 12.0, 320));
        runWindow([&] { return view.settled(); }, 3'000);
    }
    if (!wanted(orbitName) && !wanted(sharpName))
        return;
    const Row row = survey.drag(
        view, view.rect().center(), [](int i) { return QPoint(i, i / 4); }, orbitName, 20.0, 480);
    const int coarse = view.image().width();
    const double sharp = runWindow([&] { return view.image().width() > 5 * coarse / 4; }, 20'000);
    if (wanted(orbitName))
        rows.push_back(row);
    Row after;
    after.name = sharpName;
    after.ours = sharp;
    after.reference = kWantedSharpMs;
    after.ratio = sharp / kWantedSharpMs;
    after.target = 1.0;
    after.note = fmt::format("from release to a picture {} pixels wide; {:.0f} ms wanted",
                             view.image().width(), kWantedSharpMs);
    if (wanted(sharpName))
        rows.push_back(after);
}

}  // namespace bench
