#include "app/controls/curve_editor.h"

#include "app/controls/settings_form.h"
#include "core/operations/registry.h"

#include <QTest>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

struct Shown {
    CurveGraph graph;
    Curve reported;
    int rests = 0;
    Shown() {
        graph.resize(240, graph.height());
        graph.show();
        QObject::connect(&graph, &CurveGraph::moved, [this](const Curve& c) { reported = c; });
        QObject::connect(&graph, &CurveGraph::rested, [this] { ++rests; });
    }
    [[nodiscard]] QPoint at(float x, float y) const { return graph.fromCurve({x, y}).toPoint(); }
    void drag(const QPoint& from, const QPoint& to) {
        QTest::mousePress(&graph, Qt::LeftButton, {}, from);
        for (int i = 1; i <= 6; ++i)
            QTest::mouseMove(&graph, from + (to - from) * i / 6);
        QTest::mouseRelease(&graph, Qt::LeftButton, {}, to);
    }
};

}  // namespace

TEST_CASE("points of a curve are added by a click, dragged, and taken away", "[app][curve]") {
    Shown shown;
    shown.drag(shown.at(0.5F, 0.5F), shown.at(0.5F, 0.8F));
    REQUIRE(shown.reported.points.size() == 3);
    CHECK(shown.reported.points[1].x == Approx(0.5F).margin(0.01));
    CHECK(shown.reported.points[1].y == Approx(0.8F).margin(0.01));
    CHECK(shown.rests == 1);
    // It stays between its neighbours and within the graph, however far the hand goes.
    shown.drag(shown.at(0.5F, 0.8F), shown.at(1.4F, 1.3F));
    CHECK(shown.reported.points[1].x < 1.0F);
    CHECK(shown.reported.points[1].y == 1.0F);
    CHECK(shown.reported.points[2] == V2f(1.0F, 1.0F));
    // The ends move as well: what is lowest may be lifted.
    shown.drag(shown.at(0.0F, 0.0F), shown.at(0.0F, 0.25F));
    CHECK(shown.reported.points[0].y == Approx(0.25F).margin(0.01));
    QTest::mouseClick(&shown.graph, Qt::RightButton, {},
                      shown.graph.fromCurve(shown.reported.points[1]).toPoint());
    CHECK(shown.reported.points.size() == 2);
    // Two are left: a curve has no fewer.
    QTest::mouseClick(&shown.graph, Qt::RightButton, {}, shown.at(1.0F, 1.0F));
    CHECK(shown.graph.curve().points.size() == 2);
}

TEST_CASE("a curve is edited by keys alone", "[app][curve]") {
    Shown shown;
    shown.graph.setCurve({{{0.0F, 0.0F}, {0.4F, 0.6F}, {1.0F, 1.0F}}});
    shown.graph.setFocus();
    QTest::keyClick(&shown.graph, Qt::Key_PageDown);
    QTest::keyClick(&shown.graph, Qt::Key_PageDown);
    QTest::keyClick(&shown.graph, Qt::Key_Down);
    QTest::keyClick(&shown.graph, Qt::Key_Right);
    CHECK(shown.reported.points[1].x == Approx(0.41F));
    CHECK(shown.reported.points[1].y == Approx(0.59F));
    QTest::keyClick(&shown.graph, Qt::Key_Delete);
    CHECK(shown.reported.points.size() == 2);
}

TEST_CASE("a setting that is a curve is shown as its graph", "[app][curve]") {
    SettingsForm form(reliefCatalogue().operation("curve").parameters);
    form.resize(260, 200);
    form.show();
    auto* graph = form.findChild<CurveGraph*>("curve-graph");
    REQUIRE(graph != nullptr);
    CHECK(graph->curve() == Curve{});
    std::optional<Value> edited;
    QObject::connect(&form, &SettingsForm::edited,
                     [&](const QString&, const Value& value) { edited = value; });
    QTest::mouseClick(graph, Qt::LeftButton, {}, graph->fromCurve({0.3F, 0.1F}).toPoint());
    REQUIRE(edited);
    CHECK(std::get<Curve>(*edited).points.size() == 3);
    // An undo elsewhere shows here.
    form.setSettings(initialSettings(reliefCatalogue().operation("curve").parameters));
    CHECK(graph->curve() == Curve{});
}
