#include "app/cards/step_card.h"

#include "app/controls/line_over.h"
#include "app/controls/tab_button.h"
#include "app/look/picture_paint.h"
#include "app/look/sentence.h"
#include "app/look/theme.h"
#include "core/image/error.h"
#include "core/steps/registry.h"

#include <QContextMenuEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPointer>
#include <QPushButton>

#include <utility>

// What a card offers besides its settings: presets, the step's own buttons, and what is done to the step as a whole.

namespace noctis {

void StepCard::addOwnActions(QVBoxLayout& layout) {
    if (m_type->actions.empty() || !m_offers.around)
        return;
    auto* row = new QHBoxLayout;
    for (const CardAction& action : m_type->actions) {
        if (action.ofPart && !m_offers.askPart)
            continue;
        auto* button = linkButton(qstring(action.label), qstring(action.help));
        button->setObjectName(qstring(action.label));
        button->setFont(theme::font(12));
        row->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, action] { take(action); });
    }
    row->addStretch(1);
    layout.addLayout(row);
}

void StepCard::take(const CardAction& action, const std::optional<Tile>& part) {
    if (action.ofPart && !part) {
        m_offers.askPart(tr("%1: drag a box over the part.").arg(qstring(action.label)),
                         [card = QPointer(this), action](const Tile& drawn) {
                             if (card != nullptr)
                                 card->take(action, drawn);
                         });
        return;
    }
    Surroundings around = m_offers.around();
    around.part = part;
    Step added = action.adds.empty() ? m_step : stepCatalogue().newStep(action.adds, {}, around);
    try {
        action.change(added.settings, m_step.settings, around);
    } catch (const Error& error) {
        return Q_EMIT refused(sentence(QString::fromUtf8(error.what())));
    }
    if (!action.adds.empty())
        return Q_EMIT companionAsked(qstring(action.label), added);
    m_step = added;
    emitEdited(qstring(action.label), {});
}

void StepCard::addPresets(QMenu& menu) {
    const auto use = [this](const Settings& settings, const QString& what) {
        const Settings old = std::exchange(m_step.settings, settings);
        if (!m_offers.kept.empty())
            m_step.settings.set(m_offers.kept, old.at(m_offers.kept));
        emitEdited(what, {});
    };
    for (const Preset& preset : m_type->presets)
        menu.addAction(qstring(preset.label), this, [this, use, preset] {
            use(settingsWith(*m_type, preset.values), qstring(preset.label));
        });
    menu.addAction(tr("Defaults"), this, [this] {
        m_step.settings = initialSettings(m_type->parameters);
        emitEdited(tr("Defaults"), {});
    });
}

void StepCard::addActions(QMenu& menu) {
    if (m_type != nullptr)
        menu.addAction(tr("Rename"), this, &StepCard::rename);
    menu.addAction(tr("Move up"), this, [this] { Q_EMIT moveAsked(-1); });
    menu.addAction(tr("Move down"), this, [this] { Q_EMIT moveAsked(1); });
    if (m_type != nullptr)
        menu.addAction(tr("Duplicate"), this, &StepCard::duplicateAsked);
    if (m_offers.groups) {
        if (isGroup())
            menu.addAction(tr("Dissolve the group"), this, &StepCard::ungroupAsked);
        else if (m_step.group.empty())
            menu.addAction(tr("Put into a group"), this, &StepCard::groupAsked);
        else
            menu.addAction(tr("Take out of the group"), this, &StepCard::ungroupAsked);
    }
    menu.addAction(isGroup() ? tr("Remove with its steps") : tr("Remove"), this,
                   &StepCard::removeAsked);
}

void StepCard::rename() {
    const QRect place(m_title->geometry().topLeft(), QSize(width() - 60, 22));
    auto* line = new LineOver(this, place, title());
    connect(line, &LineOver::taken, this, [this](const QString& text) {
        m_step.name = text == qstring(m_type->label) ? std::string() : text.trimmed().toStdString();
        emitEdited(tr("Rename"), {});
    });
}

void StepCard::contextMenuEvent(QContextMenuEvent* event) {
    if (m_offers.fixed)
        return;
    QMenu menu;
    if (m_type != nullptr && !m_type->parameters.empty()) {
        addPresets(menu);
        menu.addSeparator();
    }
    addActions(menu);
    menu.exec(event->globalPos());
}

}  // namespace noctis
