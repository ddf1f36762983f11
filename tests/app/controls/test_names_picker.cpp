#include "app/controls/names_picker.h"
#include "app/controls/settings_form.h"
#include "core/tracer/pass_settings.h"
#include "support/windows.h"

#include <QLineEdit>
#include <QPointer>
#include <QPushButton>
#include <QSignalSpy>
#include <QTest>
#include <QTreeWidget>

#include <catch2/catch.hpp>

using namespace noctis;
using test::waitFor;

namespace {

/// A picker in its own window, on a small scene's names.
struct Picked {
    QWidget window;
    NamesPicker* picker;
    QTreeWidget* list;
    QLineEdit* line;

    explicit Picked(const QString& text = {}) {
        window.resize(400, 400);
        window.show();
        picker = new NamesPicker({{"crate 1", "crate 2", "oar"}, {"crates"}, {"oak", "oar"}}, text,
                                 &window);
        picker->presentAt(QPoint(20, 20));
        list = picker->findChild<QTreeWidget*>();
        line = picker->findChild<QLineEdit*>();
        REQUIRE(waitFor([&] { return picker->isVisible(); }));
    }
    void click(const char* name, int which = 0) {
        QTreeWidgetItem* item = list->findItems(QLatin1String(name), Qt::MatchExactly).at(which);
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                          list->visualItemRect(item).center());
    }
};

}  // namespace

TEST_CASE("names are taken, left out and dropped by clicks", "[app][names]") {
    Picked o;
    QSignalSpy spy(o.picker, &NamesPicker::picked);
    o.click("crate 2");
    CHECK(spy.takeLast().at(0).toString() == "crate 2");
    o.click("crates");
    o.click("crate 1");
    o.click("crate 1");
    CHECK(o.picker->text() == "-crate 1, crate 2, crates");  // in the order of the list
    o.click("crate 2");
    o.click("crate 2");
    CHECK(o.picker->text() == "-crate 1, crates");
    o.click("oar", 1);  // one name, of an object and of a material
    for (const QTreeWidgetItem* item : o.list->findItems("oar", Qt::MatchExactly))
        CHECK(item->text(1) == "taken");
}

TEST_CASE("what was typed before is kept, also names that are nothing here", "[app][names]") {
    Picked o("crates, -  oak,gone , ");
    CHECK(o.list->findItems("oak", Qt::MatchExactly).at(0)->text(1) == "left out");
    CHECK(o.list->findItems("crates", Qt::MatchExactly).at(0)->text(1) == "taken");
    CHECK(o.picker->text() == "crates, -oak, gone");
}

TEST_CASE("names are found and taken with keys alone", "[app][names]") {
    Picked o;
    QTest::keyClicks(o.line, "CRATE");
    CHECK(o.list->currentItem()->text(0) == "crate 1");
    QTest::keyClick(o.line, Qt::Key_Down);
    QTest::keyClick(o.line, Qt::Key_Return);
    QTest::keyClick(o.line, Qt::Key_Down);
    QTest::keyClick(o.line, Qt::Key_Down);  // nothing further is shown
    QTest::keyClick(o.line, Qt::Key_Return);
    CHECK(o.picker->text() == "crate 2, crates");
    QTest::keyClick(o.line, Qt::Key_Up);
    QTest::keyClick(o.line, Qt::Key_Up);
    QTest::keyClick(o.line, Qt::Key_Up);
    CHECK(o.list->currentItem()->text(0) == "crate 1");
    const QPointer<NamesPicker> alive = o.picker;
    QTest::keyClick(o.line, Qt::Key_Escape);
    CHECK(waitFor([&] { return alive.isNull(); }));
}

TEST_CASE("a setting that names parts of the scene offers them", "[app][names]") {
    SettingsForm form(passParameters(PassKind::Depth), [](TextUse) {
        NameChoices choices;
        choices.objects = {"crate", "oar"};
        return choices;
    });
    form.resize(300, 200);
    form.show();
    QSignalSpy edited(&form, &SettingsForm::edited);
    auto* row = form.findChild<QWidget*>("only");
    REQUIRE(row != nullptr);
    QTest::mouseClick(row->findChild<QPushButton*>("pick"), Qt::LeftButton);
    auto* picker = form.findChild<NamesPicker*>();
    REQUIRE(picker != nullptr);
    auto* line = picker->findChild<QLineEdit*>();
    QTest::keyClicks(line, "oar");
    QTest::keyClick(line, Qt::Key_Return);
    REQUIRE(edited.size() == 1);
    CHECK(std::get<std::string>(edited[0].at(1).value<Value>()) == "oar");
    CHECK(row->findChild<QLineEdit*>()->text() == "oar");
}
