// The figures of a height map, what is wrong with it, and the remedies.
#include "app/controls/clear_layout.h"
#include "app/look/picture_paint.h"
#include "app/relief/relief_panel.h"
#include "core/operations/registry.h"
#include "core/relief/sources.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

QString length(double metres) { return qstring(lengthText(metres)); }

/// Two heights in the unit of the larger one.
QString rangeText(const std::array<float, 2>& range) {
    const LengthUnit unit = lengthUnitFor(std::max(std::abs(range[0]), std::abs(range[1])));
    return QStringLiteral("%1 – %2\u2009%3")
        .arg(unit.number(range[0]), 0, 'f', 2)
        .arg(unit.number(range[1]), 0, 'f', 2)
        .arg(QString::fromUtf8(unit.name));
}

QString percent(double part) {
    return part <= 0.0 ? QStringLiteral("none")
                       : QStringLiteral("%1\u2009%").arg(100.0 * part, 0, 'g', 2);
}

}  // namespace

void ReliefPanel::setNumber(const char* row, const QString& text) {
    QPushButton* value = m_values.at(row);
    value->setText(value->fontMetrics().elidedText(text, Qt::ElideRight, 134));
    value->setProperty("copied", text);
    value->setToolTip(tr("%1\nClick to copy it.").arg(text));
}

void ReliefPanel::offer(const QString& text, const QString& help, std::function<void()> remedy) {
    auto* button = new QPushButton(text);
    button->setProperty("role", "link");
    button->setObjectName(QStringLiteral("remedy ") + text);
    button->setToolTip(help);
    connect(button, &QPushButton::clicked, this, std::move(remedy));
    m_remedies->addWidget(button, 0, Qt::AlignLeft);
}

void ReliefPanel::setProblem(const QString& why) {
    // "level 2: what is wrong" belongs to that operation's card, all else to the source's.
    QMap<QString, QString> problems;
    if (why.isEmpty())
        return setProblems(problems);
    problems[QLatin1String(kSourceCard)] = why;
    for (const Step& step : steps())
        if (const QString prefix = qstring(step.id) + QStringLiteral(": "); why.startsWith(prefix))
            problems = {{qstring(step.id), why.mid(prefix.size())}};
    setProblems(problems);
}

void ReliefPanel::setWorked(const WorkedRelief& worked) {
    setProblem({});
    const HeightReport& r = worked.report;
    const HeightField& field = worked.map->full();
    const auto metres = [](float v) { return length(static_cast<double>(v)); };
    setNumber("range", rangeText(r.range));
    setNumber("step", metres(r.step));
    m_figures->show();
    setNumber("black_to_white", metres(r.blackToWhite()));
    setNumber("grey_of_zero", QString::number(static_cast<double>(r.greyOfZero()), 'f', 4));
    setNumber("pixel", metres(field.metresPerPixel / static_cast<float>(worked.factor)));
    setNumber("level", qstring(field.level));
    setNumber("clipped", percent(r.clipped));
    setNumber("holes", percent(r.holes));
    m_values.at("black_to_white")
        ->setProperty("copied", QString::number(static_cast<double>(r.blackToWhite())));
    m_values.at("grey_of_zero")
        ->setProperty("copied", QString::number(static_cast<double>(r.greyOfZero())));
    QStringList warnings;
    for (const std::string& warning : r.warnings)
        warnings << qstring(warning);
    m_warnings->setText(warnings.join(QLatin1Char('\n')));
    m_warnings->setVisible(!warnings.isEmpty());
    QStringList notes;
    for (const std::string& note : r.notes)
        notes << qstring(note);
    m_notes->setText(notes.join(QLatin1Char('\n')));
    m_notes->setVisible(!notes.isEmpty());
    if (worked.request.moving)
        return;
    clearLayout(*m_remedies);
    const auto holds = [&](const char* words) {
        return warnings.join(' ').contains(QLatin1String(words));
    };
    const auto adds = [this](const char* type) { return [this, type] { addOperation(type); }; };
    if (holds("tilted"))
        offer(tr("Level it"), tr("Removes the tilt."), adds("level"));
    if (r.holes > 0.0)
        offer(tr("Fill the holes"), tr("Fills holes with a smooth surface between their edges."),
              adds("fill"));
    if (holds("contradict"))
        offer(tr("Flip the green channel"), tr("Reads +y as down the picture."), [this] {
            change(tr("Flip the green channel"), {}, [](Relief& relief) {
                const bool down = relief.settings.get<bool>("flip_y");
                relief.settings.set("flip_y", !down);
            });
        });
    if (holds("upside down"))
        offer(tr("Invert heights"), tr("Turns hills into valleys and valleys into hills."), [this] {
            change(tr("Invert heights"), {}, [](Relief& relief) {
                if (relief.source == "grey") {
                    const auto black = relief.settings.get<float>("black");
                    relief.settings.set("black", relief.settings.get<float>("white"));
                    relief.settings.set("white", black);
                    return;
                }
                Step turned = newOperation(reliefCatalogue(), "exaggerate", relief);
                turned.settings.set("factor", -1.0F);
                relief.operations.insert(relief.operations.begin(), std::move(turned));
            });
        });
    if (holds("bands can be smoothed"))
        offer(tr("Smooth the bands"), tr("Smooths the bands by at most half a step."), [this] {
            change(tr("Smooth the bands"), {},
                   [](Relief& relief) { relief.settings.set("smooth_steps", true); });
        });
    if (r.clipped > 0.0)
        offer(tr("Range from the map"), tr("Black is the lowest height and white the highest."),
              [this] {
                  change(tr("Range from the map"), {}, [](Relief& relief) {
                      for (Step& operation : relief.operations)
                          if (operation.type == "range" && operation.usable()) {
                              operation.settings.set("by", std::string("spread"));
                              operation.settings.set("left_out", 0.0F);
                          }
                  });
              });
}

}  // namespace noctis
