#include "app/picture/recipe_panel.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/picture/step_card.h"
#include "app/session/session.h"
#include "core/image/safe_write.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace noctis {

namespace {

QPushButton* linkButton(const QString& text, const QString& help) {
    auto* button = new QPushButton(text);
    button->setProperty("role", "link");
    button->setToolTip(help);
    return button;
}

}  // namespace

RecipePanel::RecipePanel(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    setFixedWidth(302);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 8, 0);
    layout->setSpacing(2);
    auto* head = new QHBoxLayout;
    auto* heading = new QLabel(tr("Recipe"));
    heading->setProperty("role", "heading");
    head->addWidget(heading, 1);
    auto* looks =
        linkButton(tr("Looks"), tr("A look is a saved recipe: lays one on, or keeps this one."));
    auto* add = linkButton(tr("Add a step"), tr("Adds a step to the recipe."));
    add->setObjectName("add step");
    head->addWidget(looks);
    head->addWidget(add);
    layout->addLayout(head);
    m_scroll = new QScrollArea;
    m_scroll->setWidgetResizable(true);
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(m_scroll, 1);
    connect(add, &QPushButton::clicked, this, [this, add] {
        QMenu menu;
        for (const StepType& type : stepCatalogue().types()) {
            QAction* action =
                menu.addAction(qstring(type.label), this, [this, id = type.id] { addStep(id); });
            action->setToolTip(qstring(type.help));
        }
        menu.setToolTipsVisible(true);
        menu.exec(add->mapToGlobal(QPoint(0, add->height())));
    });
    connect(looks, &QPushButton::clicked, this, [this, looks] {
        QMenu menu;
        menu.addAction(tr("Open a look…"), this, [this] {
            const QString file =
                QFileDialog::getOpenFileName(this, tr("Open a look"), {}, tr("Looks (*.json)"));
            if (file.isEmpty())
                return;
            try {
                const Recipe recipe =
                    recipeFromText(readTextFile(file.toStdString()), stepCatalogue());
                m_session.change(tr("Lay on a look"), {}, [&](Project& p) { p.recipe = recipe; });
            } catch (const std::exception& error) {
                Q_EMIT m_session.told(
                    QStringLiteral("%1: %2").arg(file, QString::fromUtf8(error.what())), true);
            }
        });
        menu.addAction(tr("Keep as a look…"), this, [this] {
            const QString file = QFileDialog::getSaveFileName(
                this, tr("Keep as a look"), QStringLiteral("look.json"), tr("Looks (*.json)"));
            if (file.isEmpty())
                return;
            try {
                writeTextFile(file.toStdString(),
                              recipeToText(m_session.project().recipe, stepCatalogue()));
            } catch (const std::exception& error) {
                Q_EMIT m_session.told(QString::fromUtf8(error.what()), true);
            }
        });
        menu.exec(looks->mapToGlobal(QPoint(0, looks->height())));
    });
    connect(&m_session, &Session::projectChanged, this, &RecipePanel::refresh);
    rebuild();
}

void RecipePanel::addStep(const std::string& type) {
    const std::size_t index = m_session.project().recipe.steps.size();
    m_session.change(tr("Add %1").arg(qstring(stepCatalogue().type(type).label)), {},
                     [&](Project& p) { p.recipe.steps.push_back(stepCatalogue().newStep(type)); });
    choose(index);
}

void RecipePanel::rebuild() {
    const Recipe& recipe = m_session.project().recipe;
    if (m_chosen && *m_chosen >= recipe.steps.size())
        m_chosen.reset();
    auto* column = new QWidget;
    auto* layout = new QVBoxLayout(column);
    layout->setContentsMargins(0, 0, 6, 8);
    layout->setSpacing(6);
    m_cards.assign(recipe.steps.size(), nullptr);
    for (const Phase phase : {Phase::Light, Phase::Air, Phase::Lens, Phase::Finish}) {
        auto* head = new QHBoxLayout;
        head->setSpacing(8);
        auto* label = new QLabel(qstring(phaseLabel(phase)));
        label->setProperty("role", "quiet");
        label->setFont(theme::font(12));
        auto* line = new QFrame;
        line->setFixedHeight(1);
        line->setStyleSheet(QStringLiteral("background: %1").arg(theme::kHairline.name()));
        head->addWidget(label);
        head->addWidget(line, 1);
        layout->addLayout(head);
        // An empty recipe offers what there is, where it would go.
        for (const StepType& type : stepCatalogue().types())
            if (recipe.steps.empty() && type.phase == phase) {
                QPushButton* offer =
                    linkButton(tr("Add %1").arg(qstring(type.label).toLower()), qstring(type.help));
                connect(offer, &QPushButton::clicked, this, [this, id = type.id] { addStep(id); });
                layout->addWidget(offer, 0, Qt::AlignLeft);
            }
        for (std::size_t i = 0; i < recipe.steps.size(); ++i) {
            if (stepCatalogue().type(recipe.steps[i].type).phase != phase)
                continue;
            auto* card = new StepCard(recipe.steps[i]);
            m_cards[i] = card;
            card->setOpen(m_chosen == i);
            layout->addWidget(card);
            connect(card, &StepCard::opened, this,
                    [this, i] { choose(m_chosen == i ? std::nullopt : std::optional(i)); });
            connect(card, &StepCard::edited, this,
                    [this, i](const QString& what, const QString& gesture, const Step& step) {
                        editStep(i, what, gesture, step);
                    });
            connect(card, &StepCard::rested, this, [this] {
                m_session.endGesture();
                Q_EMIT handMoves(false);
            });
            connect(card, &StepCard::moveAsked, this, [this, i](int way) { moveStep(i, way); });
            connect(card, &StepCard::duplicateAsked, this, [this, i] {
                m_session.change(tr("Duplicate"), {}, [&](Project& p) {
                    p.recipe.steps.insert(p.recipe.steps.begin() + static_cast<std::ptrdiff_t>(i) +
                                              1,
                                          p.recipe.steps[i]);
                });
            });
            connect(card, &StepCard::removeAsked, this, [this, i] {
                m_session.change(tr("Remove"), {}, [&](Project& p) {
                    p.recipe.steps.erase(p.recipe.steps.begin() + static_cast<std::ptrdiff_t>(i));
                });
            });
        }
    }
    layout->addStretch(1);
    // A card may be what asked for this; it goes once it is done.
    if (QWidget* old = m_scroll->takeWidget())
        old->deleteLater();
    m_scroll->setWidget(column);
    setProblems(m_problems);
}

void RecipePanel::refresh() {
    const Recipe& recipe = m_session.project().recipe;
    bool same = recipe.steps.size() == m_cards.size();
    for (std::size_t i = 0; same && i < m_cards.size(); ++i)
        same = m_cards[i]->type() == recipe.steps[i].type;
    if (!same) {
        rebuild();
        return;
    }
    for (std::size_t i = 0; i < m_cards.size(); ++i)
        m_cards[i]->setStep(recipe.steps[i]);
}

void RecipePanel::setProblems(const QStringList& byStep) {
    m_problems = byStep;
    for (std::size_t i = 0; i < m_cards.size(); ++i)
        m_cards[i]->setProblem(static_cast<qsizetype>(i) < byStep.size()
                                   ? byStep[static_cast<qsizetype>(i)]
                                   : QString());
}

void RecipePanel::choose(std::optional<std::size_t> step) {
    m_chosen = step;
    for (std::size_t i = 0; i < m_cards.size(); ++i)
        m_cards[i]->setOpen(step == i);
    if (step && *step < m_cards.size())
        m_scroll->ensureWidgetVisible(m_cards[*step]);
    Q_EMIT chosenChanged();
}

void RecipePanel::editStep(std::size_t index, const QString& what, const QString& gesture,
                           const Step& step) {
    if (!gesture.isEmpty())
        Q_EMIT handMoves(true);
    const QString whole =
        gesture.isEmpty() ? QString() : QStringLiteral("step.%1.%2").arg(index).arg(gesture);
    m_session.change(what, whole, [&](Project& p) { p.recipe.steps[index] = step; });
}

void RecipePanel::moveStep(std::size_t index, int way) {
    const auto& steps = m_session.project().recipe.steps;
    const Phase phase = stepCatalogue().type(steps[index].type).phase;
    auto other = static_cast<std::ptrdiff_t>(index) + way;
    const auto count = static_cast<std::ptrdiff_t>(steps.size());
    while (other >= 0 && other < count &&
           stepCatalogue().type(steps[static_cast<std::size_t>(other)].type).phase != phase)
        other += way;
    if (other < 0 || other >= count)
        return;
    m_session.change(tr("Move a step"), {}, [&](Project& p) {
        std::swap(p.recipe.steps[index], p.recipe.steps[static_cast<std::size_t>(other)]);
    });
    rebuild();
}

}  // namespace noctis
