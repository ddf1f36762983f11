#include "app/relief/relief_panel.h"

#include "app/controls/clear_layout.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/relief/sources.h"
#include "core/shaping/registry.h"

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
    : QWidget(parent), m_session(session), m_names(std::move(names)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, kMargin, 12);
    layout->setSpacing(6);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Shape"));
    title->setProperty("role", "heading");
    head->addWidget(title, 1);
    auto* add = new QPushButton(tr("Add"));
    add->setObjectName("add-shaping");
    add->setProperty("role", "link");
    add->setToolTip(tr("Adds an operation to the end."));
    m_add = new QMenu(add);
    for (const ShapingType& type : reliefCatalogue().shapings) {
        QAction* action =
            m_add->addAction(qstring(type.label), this, [this, id = type.id] { addShaping(id); });
        action->setToolTip(qstring(type.help));
    }
    m_add->setToolTipsVisible(true);
    connect(add, &QPushButton::clicked, this,
            [this, add] { m_add->exec(add->mapToGlobal(QPoint(0, add->height()))); });
    head->addWidget(add);
    layout->addLayout(head);

    auto* inside = new QWidget;
    auto* column = new QVBoxLayout(inside);
    column->setContentsMargins(0, 0, kBesideCards, 0);
    column->setSpacing(6);
    m_cardsLayout = new QVBoxLayout;
    m_cardsLayout->setSpacing(6);
    column->addLayout(m_cardsLayout);
    auto* numbers = new QLabel(tr("Comes out as"));
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
    auto* scroll = new QScrollArea;
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(inside);
    layout->addWidget(scroll, 1);

    m_write = new QPushButton(tr("Write the heights…"));
    m_write->setObjectName("write-heights");
    m_write->setProperty("role", "main");
    m_write->setToolTip(tr("Writes the map, a map derived from it, or the solid to a file."));
    connect(m_write, &QPushButton::clicked, this, &ReliefPanel::writeAsked);
    auto* below = new QHBoxLayout;
    below->setContentsMargins(0, 0, kBesideCards, 0);
    below->addWidget(m_write);
    layout->addLayout(below);
}

void ReliefPanel::buildNumbers() {
    const std::pair<const char*, QString> rows[] = {{"range", tr("Range")},
                                                    {"step", tr("Step at 16 bits")},
                                                    {"scale", tr("Displacement scale")},
                                                    {"middle", tr("Middle level")},
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
    m_editing.clear();
    if (relief() == nullptr)
        m_figures->hide();
    rebuildCards();
    setInHand({});
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

void ReliefPanel::addShaping(const std::string& type) {
    const Relief* there = relief();
    if (there == nullptr)
        return;
    const Shaping added = newShaping(reliefCatalogue(), type, *there);
    m_editing = added.id;
    // The range is what is written: it stays last.
    change(tr("Add %1").arg(qstring(reliefCatalogue().shaping(type).label)), {}, [&](Relief& r) {
        auto end = r.shapings.end();
        if (type != "range" && !r.shapings.empty() && r.shapings.back().type == "range")
            --end;
        r.shapings.insert(end, added);
    });
}

void ReliefPanel::takeProject() {
    const Relief* there = relief();
    std::vector<std::string> wanted;
    if (there != nullptr) {
        wanted.emplace_back("source");
        for (const Shaping& shaping : there->shapings)
            wanted.push_back(shaping.id);
    }
    std::vector<std::string> shown;
    for (const ShapingCard* card : m_cards)
        shown.push_back(card->id());
    const bool sameSource =
        !m_cards.empty() && there != nullptr && m_cards.front()->type() == there->source;
    if (wanted != shown || !sameSource) {
        rebuildCards();
        return;
    }
    Shaping source;
    source.id = "source";
    source.type = there->source;
    source.settings = there->settings;
    m_cards.front()->setShaping(source);
    for (std::size_t i = 0; i < there->shapings.size(); ++i)
        m_cards[i + 1]->setShaping(there->shapings[i]);
}

void ReliefPanel::rebuildCards() {
    clearLayout(*m_cardsLayout);
    m_cards.clear();
    const Relief* there = relief();
    m_write->setEnabled(there != nullptr);
    if (there == nullptr)
        return;
    const auto add = [this](ShapingCard* card) {
        m_cardsLayout->addWidget(card);
        m_cards.push_back(card);
        card->setOpen(card->id() == m_editing);
        connect(card, &ShapingCard::opened, this, &ReliefPanel::open);
        connect(card, &ShapingCard::inHandAsked, this, [this](const QString& way, bool on) {
            setInHand(on ? InHand{way.toStdString(), {}} : InHand{});
        });
        connect(card, &ShapingCard::picksAsked, this, [this](const QString& setting, bool on) {
            setInHand(on ? InHand{{}, setting.toStdString()} : InHand{});
        });
        connect(card, &ShapingCard::brushChanged, this, [this](const Brush& brush) {
            m_brush = brush;
            Q_EMIT inHandChanged();
        });
        connect(card, &ShapingCard::rested, this, [this] {
            Q_EMIT handMoves(false);
            m_session.endGesture();
        });
        connect(card, &ShapingCard::moved, this, [this](const std::string& id, int way) {
            change(tr("Move an operation"), {}, [&](Relief& r) {
                for (std::size_t i = 0; i < r.shapings.size(); ++i) {
                    const auto other = static_cast<std::size_t>(static_cast<int>(i) + way);
                    if (r.shapings[i].id == id && other < r.shapings.size()) {
                        std::swap(r.shapings[i], r.shapings[other]);
                        return;
                    }
                }
            });
        });
        connect(card, &ShapingCard::removed, this, [this](const std::string& id) {
            change(tr("Remove"), {}, [&](Relief& r) {
                std::erase_if(r.shapings, [&](const Shaping& s) { return s.id == id; });
            });
        });
    };
    auto* source = new ShapingCard(*there, m_names);
    add(source);
    connect(source, &ShapingCard::edited, this,
            [this](const QString& what, const QString& gesture, const Shaping& shaping) {
                change(what, QStringLiteral("source.") + gesture,
                       [&](Relief& r) { r.settings = shaping.settings; });
            });
    for (const Shaping& shaping : there->shapings) {
        auto* card = new ShapingCard(shaping, m_names);
        add(card);
        connect(card, &ShapingCard::edited, this,
                [this](const QString& what, const QString& gesture, const Shaping& changed) {
                    m_editing = changed.id;
                    if (!gesture.isEmpty())
                        Q_EMIT handMoves(true);
                    change(what,
                           gesture.isEmpty() ? QString()
                                             : qstring(changed.id) + QLatin1Char('.') + gesture,
                           [&](Relief& r) {
                               if (Shaping* found = r.find(changed.id))
                                   *found = changed;
                           });
                });
    }
}

void ReliefPanel::open(const std::string& id) {
    m_editing = m_editing == id ? std::string() : id;
    for (ShapingCard* each : m_cards)
        each->setOpen(each->id() == m_editing);
    setInHand({});
}

void ReliefPanel::setInHand(InHand inHand) {
    m_inHand = std::move(inHand);
    for (ShapingCard* each : m_cards) {
        const bool its = each->id() == m_editing;
        each->setInHand(its ? m_inHand.way : std::nullopt, its ? m_inHand.picked : std::string());
    }
    Q_EMIT inHandChanged();
}

}  // namespace noctis
