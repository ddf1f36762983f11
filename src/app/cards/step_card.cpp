#include "app/cards/step_card.h"

#include "app/cards/amount_bar.h"
#include "app/controls/elided_label.h"
#include "app/controls/settings_form.h"
#include "app/controls/switch_box.h"
#include "app/controls/tab_button.h"
#include "app/look/picture_paint.h"
#include "app/look/sentence.h"
#include "app/look/theme.h"
#include "core/recipe/recipe_at.h"
#include "core/steps/registry.h"

#include <QApplication>
#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include <utility>

namespace noctis {

namespace {

constexpr int kBeforeAmount = 4;  ///< place in the layout

}  // namespace

StepCard::StepCard(const Step& step, const Declaration* type, CardOffers offers, NameSource names,
                   QWidget* parent)
    : QFrame(parent), m_step(step), m_type(step.usable() ? type : nullptr),
      m_offers(std::move(offers)), m_names(std::move(names)) {
    setFocusPolicy(Qt::StrongFocus);
    setObjectName(qstring(step.id));
    if (m_type != nullptr)
        setToolTip(qstring(m_type->help));
    m_layout = new QVBoxLayout(this);
    m_layout->setContentsMargins(10, 7, 10, m_offers.mixes ? 0 : 8);
    m_layout->setSpacing(1);
    buildHead();
    setStep(step, {}, {});
}

QString StepCard::title() const {
    if (!m_offers.title.isEmpty())
        return m_offers.title;
    if (!m_step.name.empty())
        return qstring(m_step.name);
    return qstring(m_type != nullptr ? m_type->label : m_step.type);
}

void StepCard::buildHead() {
    auto* head = new QHBoxLayout;
    m_title = new QLabel;
    m_title->setFont(theme::font(13, QFont::Medium));
    m_on = new SwitchBox(tr("%1 on").arg(title()));
    m_on->setToolTip(tr("Switch it on or off."));
    if (isGroup()) {
        m_fold = linkButton({}, tr("Shows or hides the steps of the group."));
        m_fold->setObjectName("fold");
        m_fold->setIconSize(QSize(12, 12));
        connect(m_fold, &QPushButton::clicked, this, &StepCard::foldAsked);
        head->addWidget(m_fold);
    }
    head->addWidget(m_title, 1);
    head->addWidget(m_on);
    m_layout->addLayout(head);
    m_summary = new ElidedLabel;
    m_summary->setProperty("role", "quiet");
    m_summary->setFont(theme::font(12));
    m_layout->addWidget(m_summary);
    m_problem = new QLabel;
    m_problem->setProperty("role", "warning");
    m_problem->setFont(theme::font(12));
    m_problem->setWordWrap(true);
    m_problem->hide();
    m_layout->addWidget(m_problem);
    m_remedy = linkButton({}, {});
    m_remedy->setObjectName("remedy");
    m_remedy->setFont(theme::font(12));
    m_remedy->hide();
    connect(m_remedy, &QPushButton::clicked, this, &StepCard::remedyAsked);
    m_layout->addWidget(m_remedy, 0, Qt::AlignLeft);
    m_amount = new AmountBar(isGroup() ? tr("the group") : tr("the step"));
    m_layout->addWidget(m_amount);
    m_on->setVisible(m_type != nullptr && !m_offers.fixed);
    m_amount->setVisible(m_type != nullptr && m_offers.mixes);
    connect(m_on, &SwitchBox::clicked, this, [this](bool on) {
        m_step.on = on;
        emitEdited(on ? tr("Switch on") : tr("Switch off"), {});
    });
    connect(m_amount, &AmountBar::moved, this, [this](float amount) {
        m_step.amount = amount;
        emitEdited(tr("Amount"), QStringLiteral("amount"));
    });
    connect(m_amount, &AmountBar::rested, this, &StepCard::rested);
}

bool StepCard::isFor(const Step& step) const {
    return m_step.id == step.id && m_step.type == step.type && m_step.group == step.group &&
           m_step.usable() == step.usable();
}

void StepCard::emitEdited(const QString& what, const QString& gesture) {
    Q_EMIT edited(QStringLiteral("%1: %2").arg(title(), what), gesture, m_step);
}

void StepCard::setStep(const Step& step, const NamedWheres& wheres, const ShownFrame& frame) {
    m_step = step;
    m_wheres = wheres;
    m_frame = frame;
    m_title->setText(m_soloed ? tr("%1 · alone").arg(title()) : title());
    setAccessibleName(title());
    m_title->setStyleSheet(step.on && m_type != nullptr
                               ? QString()
                               : QStringLiteral("color: %1").arg(theme::kQuiet.name()));
    if (m_type == nullptr) {
        m_summary->setText(tr("switched off, and kept as it is"));
        setProblem(qstring(step.problem));
        return;
    }
    QString summary =
        isGroup() ? m_members
                  : qstring(m_type->summary ? m_type->summary(step.settings, frame) : m_type->help);
    if (!step.where.everywhere())
        summary += QStringLiteral(" · ") + qstring(summaryOf(step.where, stepCatalogue(), frame));
    m_summary->setText(summary);
    m_on->setChecked(step.on);
    m_amount->setAmount(step.amount, step.on);
    if (m_form != nullptr)
        m_form->setSettings(step.settings);
    if (m_where != nullptr)
        m_where->setWhere(step.where, wheres);
    if (m_blend != nullptr) {
        const QSignalBlocker quiet(m_blend);
        m_blend->setCurrentIndex(static_cast<int>(step.blend));
    }
}

void StepCard::setKeys(const KeyStates& states) {
    m_keys = states;
    if (m_form == nullptr || !m_offers.keys)
        return;
    const auto own = states.find({});
    const std::map<std::string, KeyState> of =
        own == states.end() ? std::map<std::string, KeyState>() : own->second;
    m_form->setKeys(of);
    for (const auto& [setting, button] : m_mixKeys) {
        const auto state = of.find(setting);
        button->setState(state == of.end() ? KeyState::None : state->second);
    }
    if (m_where != nullptr)
        m_where->setKeys(states);
}

void StepCard::setMembers(int count, bool folded) {
    m_members = count == 1 ? tr("1 step") : tr("%1 steps").arg(count);
    m_fold->setIcon(
        theme::icon(folded ? QStringLiteral("chevron-right") : QStringLiteral("chevron-down")));
    m_fold->setAccessibleName(folded ? tr("Show the steps of %1").arg(title())
                                     : tr("Hide the steps of %1").arg(title()));
    setStep(m_step, m_wheres, m_frame);
}

void StepCard::setProblem(const QString& text, const QString& remedy) {
    m_problem->setText(sentence(text));
    m_problem->setVisible(!text.isEmpty());
    m_remedy->setText(remedy);
    m_remedy->setAccessibleName(tr("%1 for %2").arg(remedy, title()));
    m_remedy->setVisible(!remedy.isEmpty());
}

void StepCard::setSoloed(bool soloed) {
    if (m_soloed == soloed)
        return;
    m_soloed = soloed;
    if (m_solo != nullptr)
        m_solo->setChecked(soloed);
    setStep(m_step, m_wheres, m_frame);
}

void StepCard::setInHand(const std::optional<std::string>& path, const std::string& picked) {
    if (m_where != nullptr)
        m_where->setInHand(path);
    if (m_form != nullptr)
        m_form->setPicked(picked);
}

void StepCard::setWhereShown(WhereShown shown) {
    if (m_where != nullptr)
        m_where->setShown(shown);
}

void StepCard::buildBody() {
    m_body = new QWidget(this);
    auto* layout = new QVBoxLayout(m_body);
    layout->setContentsMargins(0, 6, 0, 4);
    layout->setSpacing(4);
    addForm(*layout);
    addOwnActions(*layout);
    if (!m_offers.fixed) {
        addWhere(*layout);
        if (m_offers.keys)
            addMixKeys(*layout);
        layout->addLayout(buildFoot());
    }
    setKeys(m_keys);
    m_layout->insertWidget(kBeforeAmount, m_body);
}

void StepCard::addForm(QVBoxLayout& layout) {
    m_form = new SettingsForm(m_type->parameters, m_names, m_body);
    layout.addWidget(m_form);
    connect(m_form, &SettingsForm::edited, this, [this](const QString& id, const Value& value) {
        m_step.settings.set(id.toStdString(), value);
        emitEdited(qstring(parameterNamed(m_type->parameters, id.toStdString()).label), id);
    });
    connect(m_form, &SettingsForm::rested, this, &StepCard::rested);
    if (m_offers.keys) {
        m_form->offerKeys();
        connect(m_form, &SettingsForm::keyAsked, this, [this](const QString& setting) {
            Q_EMIT keyAsked({m_step.id, setting.toStdString()});
        });
        connect(m_form, &SettingsForm::curveAsked, this, [this](const QString& setting) {
            Q_EMIT curveAsked({m_step.id, setting.toStdString()});
        });
    }
    if (!m_offers.picksPlaces)
        return;
    m_form->offerPicks();
    connect(m_form, &SettingsForm::picksAsked, this, &StepCard::picksAsked);
}

void StepCard::addWhere(QVBoxLayout& layout) {
    m_where = new WherePanel(m_names, m_offers.around);
    if (!m_offers.showsWhere)
        m_where->leaveOutViews();
    layout.addWidget(m_where);
    if (m_offers.keys)
        m_where->offerKeys();
    connect(m_where, &WherePanel::keyAsked, this,
            [this](const QString& criterion, const QString& setting) {
                Q_EMIT keyAsked({m_step.id, setting.toStdString(), criterion.toStdString()});
            });
    connect(m_where, &WherePanel::curveAsked, this,
            [this](const QString& criterion, const QString& setting) {
                Q_EMIT curveAsked({m_step.id, setting.toStdString(), criterion.toStdString()});
            });
    connect(m_where, &WherePanel::edited, this,
            [this](const QString& what, const QString& gesture, const Where& where) {
                m_step.where = where;
                emitEdited(what, gesture);
            });
    connect(m_where, &WherePanel::rested, this, &StepCard::rested);
    connect(m_where, &WherePanel::shareAsked, this, &StepCard::shareWhereAsked);
    connect(m_where, &WherePanel::shownAsked, this, &StepCard::whereShownAsked);
    connect(m_where, &WherePanel::exportAsked, this, &StepCard::exportWhereAsked);
    connect(m_where, &WherePanel::inHandAsked, this, &StepCard::inHandAsked);
    connect(m_where, &WherePanel::brushChanged, this, &StepCard::brushChanged);
}

void StepCard::addMixKeys(QVBoxLayout& layout) {
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    for (const Parameter& parameter : mixParameters()) {
        auto* label = new QLabel(qstring(parameter.label));
        label->setFont(theme::font(12));
        label->setProperty("role", "quiet");
        auto* button = m_mixKeys[parameter.id] = new KeyButton(qstring(parameter.label));
        row->addWidget(label);
        row->addWidget(button);
        row->addSpacing(12);
        const TrackPlace place{m_step.id, parameter.id};
        connect(button, &KeyButton::clicked, this, [this, place] { Q_EMIT keyAsked(place); });
        connect(button, &KeyButton::curveAsked, this, [this, place] { Q_EMIT curveAsked(place); });
    }
    row->addStretch(1);
    layout.addLayout(row);
}

QHBoxLayout* StepCard::buildFoot() {
    auto* foot = new QHBoxLayout;
    foot->setSpacing(0);
    if (m_offers.mixes)
        addMix(*foot);
    else
        foot->addStretch(1);
    auto* presets = linkButton(tr("Presets"), tr("Settings to start from."));
    auto* more = linkButton(tr("More"), tr("Rename, move, duplicate or remove it."));
    const auto opens = [this](QPushButton* button, void (StepCard::*fill)(QMenu&)) {
        connect(button, &QPushButton::clicked, this, [this, button, fill] {
            QMenu menu;
            (this->*fill)(menu);
            menu.exec(button->mapToGlobal(QPoint(0, button->height())));
        });
    };
    opens(presets, &StepCard::addPresets);
    opens(more, &StepCard::addActions);
    foot->addWidget(presets);
    if (m_type->parameters.empty())
        presets->hide();
    foot->addWidget(more);
    return foot;
}

void StepCard::addMix(QHBoxLayout& foot) {
    m_blend = new QComboBox;
    m_blend->setAccessibleName(tr("Blend"));
    m_blend->setToolTip(tr("How the step blends with the picture before it."));
    m_blend->setFont(theme::font(12));
    m_blend->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_blend->setMinimumContentsLength(6);
    for (const BlendInfo& info : blends())
        m_blend->addItem(qstring(info.label));
    connect(m_blend, &QComboBox::activated, this, [this](int index) {
        m_step.blend = blends()[static_cast<std::size_t>(index)].blend;
        emitEdited(tr("Blend"), {});
    });
    m_solo =
        linkButton(tr("Alone"), tr("Show what this step does to the picture without the others."));
    m_solo->setObjectName("solo");
    m_solo->setCheckable(true);
    m_solo->setChecked(m_soloed);
    connect(m_solo, &QPushButton::clicked, this, &StepCard::soloAsked);
    if (isGroup())
        m_solo->hide();
    foot.addWidget(m_blend, 1);
    foot.addWidget(m_solo);
}

void StepCard::setOpen(bool open) {
    if (open && m_body == nullptr && m_type != nullptr) {
        buildBody();
        setStep(m_step, m_wheres, m_frame);
    }
    m_open = open;
    if (m_body != nullptr)
        m_body->setVisible(open);
    if (open && m_form != nullptr)
        m_form->refreshNames();
    update();
}

bool StepCard::isHead(const QPointF& at) const {
    return at.y() >= 0.0 && at.y() < m_summary->geometry().bottom() + 4;
}

void StepCard::mousePressEvent(QMouseEvent* event) {
    m_pressed.reset();
    if (event->button() == Qt::LeftButton && isHead(event->position()))
        m_pressed = event->position();
}

void StepCard::mouseReleaseEvent(QMouseEvent* event) {
    // A drag that begins on the head is no click.
    const auto pressed = std::exchange(m_pressed, std::nullopt);
    if (pressed && event->button() == Qt::LeftButton &&
        (event->position() - *pressed).manhattanLength() < QApplication::startDragDistance())
        Q_EMIT opened();
}

void StepCard::keyPressEvent(QKeyEvent* event) {
    const bool alt = (event->modifiers() & Qt::AltModifier) != 0;
    if (m_offers.keys && m_amount->hasFocus() && event->key() == Qt::Key_K &&
        event->modifiers() == Qt::NoModifier)
        return Q_EMIT keyAsked({m_step.id, "amount"});
    // Keys that its controls ignore are not for the card.
    if (!hasFocus() && !alt)
        QFrame::keyPressEvent(event);
    else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
        Q_EMIT opened();
    else if (m_offers.fixed)
        QFrame::keyPressEvent(event);
    else if (event->key() == Qt::Key_Delete)
        Q_EMIT removeAsked();
    else if (alt && event->key() == Qt::Key_Up)
        Q_EMIT moveAsked(-1);
    else if (alt && event->key() == Qt::Key_Down)
        Q_EMIT moveAsked(1);
    else
        QFrame::keyPressEvent(event);
}

void StepCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(m_open ? QPen(theme::kAccent, 1) : QPen(theme::kRaised, 1));
    painter.setBrush(theme::kRaised);
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
}

}  // namespace noctis
