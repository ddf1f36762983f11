#include "app/relief/relief_panel.h"

#include "app/controls/clear_layout.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/operations/registry.h"
#include "core/relief/sources.h"
#include "core/steps/registry.h"

#include <QApplication>
#include <QClipboard>
#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace noctis {

namespace {

constexpr int kMargin = 8;
constexpr int kBesideCards = 6;  ///< the scroll bar's room

}  // namespace

ReliefPanel::ReliefPanel(Session& session, NameSource names, QWidget* parent)
    : StepList(std::move(names), parent), m_session(session) {
    m_layout = new QVBoxLayout(this);
    m_layout->setContentsMargins(12, 6, kMargin, 12);
    m_layout->setSpacing(6);
    connect(this, &StepList::refused, &m_session,
            [&session](const QString& why) { Q_EMIT session.notified(why, true); });
    buildHead();
    auto* scroll = new QScrollArea;
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(buildColumn());
    m_layout->addWidget(scroll, 1);
    m_write = new QPushButton(tr("Write the heights…"));
    m_write->setObjectName("write-heights");
    m_write->setProperty("role", "main");
    m_write->setToolTip(tr("Writes the map, a map derived from it, or the solid to a file."));
    connect(m_write, &QPushButton::clicked, this, &ReliefPanel::writeAsked);
    auto* below = new QHBoxLayout;
    below->setContentsMargins(0, 0, kBesideCards, 0);
    below->addWidget(m_write);
    m_layout->addLayout(below);
}

void ReliefPanel::buildHead() {
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Operations"));
    title->setProperty("role", "heading");
    head->addWidget(title, 1);
    auto* add = new QPushButton(tr("Add an operation"));
    add->setObjectName("add-operation");
    add->setProperty("role", "link");
    add->setToolTip(tr("Adds an operation to the end."));
    m_add = new QMenu(add);
    for (const OperationType& type : reliefCatalogue().operations) {
        QAction* action =
            m_add->addAction(qstring(type.label), this, [this, id = type.id] { addOperation(id); });
        action->setToolTip(qstring(type.help));
    }
    m_add->setToolTipsVisible(true);
    connect(add, &QPushButton::clicked, this,
            [this, add] { m_add->exec(add->mapToGlobal(QPoint(0, add->height()))); });
    head->addWidget(add);
    m_layout->addLayout(head);
}

QWidget* ReliefPanel::buildColumn() {
    auto* inside = new QWidget;
    auto* column = new QVBoxLayout(inside);
    column->setContentsMargins(0, 0, kBesideCards, 0);
    column->setSpacing(6);
    m_cardsLayout = new QVBoxLayout;
    m_cardsLayout->setSpacing(6);
    column->addLayout(m_cardsLayout);
    auto* numbers = new QLabel(tr("Output"));
    numbers->setProperty("role", "heading");
    m_numbers = new QGridLayout;
    m_numbers->setContentsMargins(8, 0, 0, 0);
    m_numbers->setVerticalSpacing(0);
    m_figures = new QWidget;
    auto* figures = new QVBoxLayout(m_figures);
    figures->setContentsMargins(0, 4, 0, 0);
    figures->setSpacing(6);
    figures->addWidget(numbers);
    figures->addLayout(m_numbers);
    column->addWidget(m_figures);
    m_figures->hide();
    buildNumbers();
    m_warnings = new QLabel;
    m_warnings->setObjectName("relief-warnings");
    m_warnings->setProperty("role", "warning");
    m_warnings->setFont(theme::font(12));
    m_warnings->setWordWrap(true);
    m_warnings->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(m_warnings);
    m_remedies = new QVBoxLayout;
    m_remedies->setSpacing(0);
    column->addLayout(m_remedies);
    m_notes = new QLabel;
    m_notes->setObjectName("relief-notes");
    m_notes->setProperty("role", "quiet");
    m_notes->setFont(theme::font(12));
    m_notes->setWordWrap(true);
    column->addWidget(m_notes);
    column->addStretch(1);
    return inside;
}

void ReliefPanel::buildNumbers() {
    const std::pair<const char*, QString> rows[] = {{"range", tr("Range")},
                                                    {"step", tr("Step at 16 bits")},
                                                    {"black_to_white", tr("From black to white")},
                                                    {"grey_of_zero", tr("Grey of height 0")},
                                                    {"pixel", tr("Pixel size")},
                                                    {"level", tr("Height 0 is")},
                                                    {"clipped", tr("Clipped")},
                                                    {"holes", tr("Holes")}};
    int row = 0;
    for (const auto& [id, label] : rows) {
        auto* name = new QLabel(label);
        name->setProperty("role", "quiet");
        m_numbers->addWidget(name, row, 0);
        auto* value = new QPushButton;
        value->setObjectName(QStringLiteral("number-") + QLatin1String(id));
        value->setProperty("role", "icon");
        value->setToolTip(tr("Click to copy the number."));
        value->setAccessibleName(label);
        connect(value, &QPushButton::clicked, this, [this, value, label] {
            QApplication::clipboard()->setText(value->property("copied").toString());
            Q_EMIT m_session.notified(tr("%1 copied").arg(label), false);
        });
        m_numbers->addWidget(value, row, 1, Qt::AlignRight);
        m_values[id] = value;
        ++row;
    }
}

const Relief* ReliefPanel::relief() const { return reliefOf(m_session.project(), m_id); }

void ReliefPanel::setRelief(const std::string& id) {
    m_id = id;
    if (relief() == nullptr)
        m_figures->hide();
    choose({});
    rebuildCards();
}

Steps ReliefPanel::steps() const {
    const Relief* there = relief();
    if (there == nullptr)
        return {};
    Steps all;
    all.push_back({.id = kSourceCard, .type = there->source, .settings = there->settings});
    all.insert(all.end(), there->operations.begin(), there->operations.end());
    return all;
}

StepTypes ReliefPanel::types() const {
    const Relief* there = relief();
    // The source stands among the operations.
    return {[source = there != nullptr ? there->source
                                       : std::string()](std::string_view id) -> const Declaration& {
                if (id == source)
                    return reliefSource(id);
                return reliefCatalogue().operation(id);
            },
            stepCatalogue()};
}

CardOffers ReliefPanel::offersFor(const Step& step) const {
    CardOffers offers;
    offers.mixes = false;
    offers.showsWhere = false;
    offers.picksPlaces = true;
    if (step.id == kSourceCard) {
        offers.fixed = true;
        offers.title = tr("Source: %1").arg(qstring(reliefSource(step.type).label));
    }
    return offers;
}

void ReliefPanel::changeSteps(const QString& what, const QString& gesture, const Edit& edit) {
    change(what, gesture, [&](Relief& r) { edit(r.operations); });
}

void ReliefPanel::replaceStep(const QString& what, const QString& gesture, const Step& step) {
    if (step.id == kSourceCard)
        change(what, gesture, [&](Relief& r) { r.settings = step.settings; });
    else
        StepList::replaceStep(what, gesture, step);
}

void ReliefPanel::endGesture() { m_session.endGesture(); }

void ReliefPanel::layOut() {
    clearLayout(*m_cardsLayout);
    const Steps all = steps();
    m_write->setEnabled(!all.empty());
    for (const Step& step : all)
        m_cardsLayout->addWidget(makeCard(step));
}

void ReliefPanel::change(const QString& what, const QString& gesture,
                         const std::function<void(Relief&)>& edit) {
    const QString whole =
        gesture.isEmpty() ? QString() : QStringLiteral("relief.%1.%2").arg(qstring(m_id), gesture);
    m_session.change(what, whole, [&](Project& p) {
        if (Relief* there = reliefOf(p, m_id))
            edit(*there);
    });
}

void ReliefPanel::addOperation(const std::string& type) {
    const Relief* there = relief();
    if (there == nullptr || !hasRoom())
        return;
    const Step added = newOperation(reliefCatalogue(), type, *there);
    // The range is what is written: it stays last.
    changeSteps(tr("Add %1").arg(qstring(reliefCatalogue().operation(type).label)), {},
                [&](Steps& steps) {
                    auto end = steps.end();
                    if (type != "range" && !steps.empty() && steps.back().type == "range")
                        --end;
                    steps.insert(end, added);
                });
    choose(added.id);
}

void ReliefPanel::takeProject() { refreshCards(); }

}  // namespace noctis
