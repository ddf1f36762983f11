#include "app/relief/shaping_card.h"

#include "app/controls/elided_label.h"
#include "app/controls/settings_form.h"
#include "app/controls/switch_box.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/picture/where_panel.h"
#include "core/relief/sources.h"
#include "core/shaping/registry.h"
#include "core/steps/registry.h"

#include <QContextMenuEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QVBoxLayout>

namespace noctis {

ShapingCard::ShapingCard(const Shaping& shaping, NameSource names, QWidget* parent)
    : QFrame(parent), m_shaping(shaping), m_type(&reliefCatalogue().shaping(shaping.type)),
      m_names(std::move(names)) {
    build(qstring(m_type->label), qstring(m_type->help));
    setShaping(shaping);
}

ShapingCard::ShapingCard(const Relief& relief, NameSource names, QWidget* parent)
    : QFrame(parent), m_type(&reliefSource(relief.source)), m_isSource(true),
      m_names(std::move(names)) {
    m_shaping.id = "source";
    m_shaping.type = relief.source;
    build(tr("Source: %1").arg(qstring(m_type->label)), qstring(m_type->help));
    Shaping shown = m_shaping;
    shown.settings = relief.settings;
    setShaping(shown);
}

void ShapingCard::build(const QString& label, const QString& help) {
    setFocusPolicy(Qt::StrongFocus);
    setObjectName(qstring(m_shaping.id));
    setAccessibleName(label);
    setToolTip(help);
    m_layout = new QVBoxLayout(this);
    m_layout->setContentsMargins(10, 7, 10, 8);
    m_layout->setSpacing(1);
    auto* head = new QHBoxLayout;
    m_title = new QLabel(label);
    m_title->setFont(theme::font(13, QFont::Medium));
    head->addWidget(m_title, 1);
    m_on = new SwitchBox(tr("%1 on").arg(label));
    m_on->setToolTip(tr("Switches it on or off."));
    m_on->setVisible(!m_isSource);
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
    connect(m_on, &SwitchBox::clicked, this, [this](bool on) {
        m_shaping.on = on;
        Q_EMIT edited(on ? tr("Switch on") : tr("Switch off"), {}, m_shaping);
    });
}

void ShapingCard::setShaping(const Shaping& shaping) {
    m_shaping = shaping;
    QString summary = m_type->summary ? qstring(m_type->summary(shaping.settings, {})) : QString();
    if (m_isSource)
        summary = qstring(m_type->help);
    if (!shaping.where.everywhere())
        summary += QStringLiteral(" · ") + qstring(summaryOf(shaping.where, stepCatalogue()));
    m_on->setChecked(shaping.on);
    m_title->setStyleSheet(shaping.on ? QString()
                                      : QStringLiteral("color: %1").arg(theme::kQuiet.name()));
    if (m_form != nullptr)
        m_form->setSettings(shaping.settings);
    if (m_where != nullptr)
        m_where->setWhere(shaping.where, {});
    m_summary->setText(summary);
}

void ShapingCard::setProblem(const QString& text) {
    m_problem->setText(text);
    m_problem->setVisible(!text.isEmpty());
}

void ShapingCard::buildBody() {
    m_body = new QWidget;
    auto* layout = new QVBoxLayout(m_body);
    layout->setContentsMargins(0, 6, 0, 0);
    layout->setSpacing(4);
    m_form = new SettingsForm(m_type->parameters, m_names);
    layout->addWidget(m_form);
    connect(m_form, &SettingsForm::edited, this, [this](const QString& id, const Value& value) {
        m_shaping.settings.set(id.toStdString(), value);
        Q_EMIT edited(qstring(parameterNamed(m_type->parameters, id.toStdString()).label), id,
                      m_shaping);
    });
    connect(m_form, &SettingsForm::rested, this, &ShapingCard::rested);
    m_form->offerPicks();
    connect(m_form, &SettingsForm::picksAsked, this, &ShapingCard::picksAsked);
    if (!m_isSource) {
        m_where = new WherePanel(m_names);
        m_where->leaveOutViews();
        layout->addWidget(m_where);
        connect(m_where, &WherePanel::edited, this,
                [this](const QString& what, const QString& gesture, const Where& where) {
                    m_shaping.where = where;
                    Q_EMIT edited(what, gesture, m_shaping);
                });
        connect(m_where, &WherePanel::rested, this, &ShapingCard::rested);
        connect(m_where, &WherePanel::inHandAsked, this, &ShapingCard::inHandAsked);
        connect(m_where, &WherePanel::brushChanged, this, &ShapingCard::brushChanged);
    }
    m_layout->addWidget(m_body);
    setShaping(m_shaping);
}

void ShapingCard::setOpen(bool open) {
    m_open = open;
    if (open && m_body == nullptr)
        buildBody();
    if (m_body != nullptr)
        m_body->setVisible(open);
    update();
}

void ShapingCard::setInHand(const std::optional<std::string>& way, const std::string& picked) {
    if (m_where != nullptr)
        m_where->setInHand(way);
    if (m_form != nullptr)
        m_form->setPicked(picked);
}

void ShapingCard::showMenu(const QPoint& at) {
    if (m_isSource)
        return;
    QMenu menu(this);
    for (const Preset& preset : m_type->presets)
        menu.addAction(qstring(preset.label), this, [this, preset] {
            m_shaping.settings = settingsWith(*m_type, preset.values);
            Q_EMIT edited(qstring(preset.label), {}, m_shaping);
        });
    if (!m_type->presets.empty())
        menu.addSeparator();
    menu.addAction(tr("Up"), this, [this] { Q_EMIT moved(m_shaping.id, -1); });
    menu.addAction(tr("Down"), this, [this] { Q_EMIT moved(m_shaping.id, 1); });
    menu.addAction(tr("Back to the defaults"), this, [this] {
        m_shaping.settings = initialSettings(m_type->parameters);
        Q_EMIT edited(tr("Back to the defaults"), {}, m_shaping);
    });
    menu.addAction(tr("Remove"), this, [this] { Q_EMIT removed(m_shaping.id); });
    menu.exec(at);
}

void ShapingCard::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && rect().contains(event->position().toPoint()))
        Q_EMIT opened(m_shaping.id);
}

void ShapingCard::keyPressEvent(QKeyEvent* event) {
    const bool turned = (event->modifiers() & Qt::AltModifier) != 0;
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
        Q_EMIT opened(m_shaping.id);
    else if (event->key() == Qt::Key_Delete && !m_isSource)
        Q_EMIT removed(m_shaping.id);
    else if (turned && event->key() == Qt::Key_Up && !m_isSource)
        Q_EMIT moved(m_shaping.id, -1);
    else if (turned && event->key() == Qt::Key_Down && !m_isSource)
        Q_EMIT moved(m_shaping.id, 1);
    else
        QFrame::keyPressEvent(event);
}

void ShapingCard::contextMenuEvent(QContextMenuEvent* event) { showMenu(event->globalPos()); }

void ShapingCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(theme::kRaised);
    painter.setPen(m_open ? QPen(theme::kAccent, 1) : QPen(Qt::NoPen));
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
}

}  // namespace noctis
