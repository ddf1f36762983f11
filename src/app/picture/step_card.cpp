#include "app/picture/step_card.h"

#include "app/controls/settings_form.h"
#include "app/controls/switch_box.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/steps/registry.h"

#include <QComboBox>
#include <QContextMenuEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace noctis {

AmountBar::AmountBar(QWidget* parent) : QWidget(parent) {
    setFixedHeight(10);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::SizeHorCursor);
    setAccessibleName(tr("Amount"));
}

void AmountBar::setAmount(float amount, bool on) {
    m_amount = amount;
    m_on = on;
    setToolTip(tr("Amount %1: how much of the step shows. Drag.")
                   .arg(qstring(formatNumber(amount, Unit::Percent))));
    update();
}

void AmountBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const int y = height() - 2;
    painter.fillRect(QRect(0, y, width(), 2), theme::kHairline);
    painter.fillRect(QRectF(0, y, width() * static_cast<qreal>(m_amount), 2),
                     m_on ? theme::kAccent : theme::kQuiet);
    if (hasFocus() || m_dragging || underMouse()) {
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::kText);
        painter.drawEllipse(
            QPointF(std::clamp(width() * static_cast<qreal>(m_amount), 4.0, width() - 4.0), y - 1),
            4, 4);
    }
}

void AmountBar::moveTo(qreal x) {
    const float amount = std::clamp(static_cast<float>(x / width()), 0.0F, 1.0F);
    if (amount != m_amount)
        Q_EMIT moved(amount);
}

void AmountBar::mousePressEvent(QMouseEvent* event) {
    m_dragging = true;
    moveTo(event->position().x());
}

void AmountBar::mouseMoveEvent(QMouseEvent* event) {
    if (m_dragging)
        moveTo(event->position().x());
}

void AmountBar::mouseReleaseEvent(QMouseEvent*) {
    m_dragging = false;
    Q_EMIT rested();
}

void AmountBar::keyPressEvent(QKeyEvent* event) {
    if (event->key() != Qt::Key_Left && event->key() != Qt::Key_Right)
        return QWidget::keyPressEvent(event);
    Q_EMIT moved(
        std::clamp(m_amount + (event->key() == Qt::Key_Left ? -0.02F : 0.02F), 0.0F, 1.0F));
    Q_EMIT rested();
}

StepCard::StepCard(const Step& step, QWidget* parent) : QFrame(parent), m_step(step) {
    const StepType& type = stepCatalogue().type(step.type);
    setFocusPolicy(Qt::StrongFocus);
    setObjectName(qstring(step.type));
    setAccessibleName(qstring(type.label));
    setToolTip(qstring(type.help));
    m_layout = new QVBoxLayout(this);
    m_layout->setContentsMargins(10, 7, 10, 0);
    m_layout->setSpacing(1);
    auto* head = new QHBoxLayout;
    m_title = new QLabel(qstring(type.label));
    m_title->setFont(theme::font(13, QFont::Medium));
    m_on = new SwitchBox(tr("%1 on").arg(qstring(type.label)));
    m_on->setToolTip(tr("Switches the step on or off."));
    head->addWidget(m_title, 1);
    head->addWidget(m_on);
    m_layout->addLayout(head);
    m_summary = new QLabel;
    m_summary->setProperty("role", "quiet");
    m_summary->setFont(theme::font(12));
    m_layout->addWidget(m_summary);
    m_problem = new QLabel;
    m_problem->setProperty("role", "warning");
    m_problem->setFont(theme::font(12));
    m_problem->setWordWrap(true);
    m_problem->hide();
    m_layout->addWidget(m_problem);
    m_amount = new AmountBar;
    m_layout->addWidget(m_amount);
    connect(m_on, &SwitchBox::clicked, this, [this](bool on) {
        m_step.on = on;
        tell(on ? tr("Switch on") : tr("Switch off"), {});
    });
    connect(m_amount, &AmountBar::moved, this, [this](float amount) {
        m_step.amount = amount;
        tell(tr("Amount"), QStringLiteral("amount"));
    });
    connect(m_amount, &AmountBar::rested, this, &StepCard::rested);
    setStep(step);
}

void StepCard::tell(const QString& what, const QString& gesture) {
    Q_EMIT edited(
        QStringLiteral("%1: %2").arg(qstring(stepCatalogue().type(m_step.type).label), what),
        gesture, m_step);
}

void StepCard::setStep(const Step& step) {
    m_step = step;
    const StepType& type = stepCatalogue().type(step.type);
    m_summary->setText(qstring(type.summary(step.settings)));
    m_on->setChecked(step.on);
    m_amount->setAmount(step.amount, step.on);
    m_title->setStyleSheet(step.on ? QString()
                                   : QStringLiteral("color: %1").arg(theme::kQuiet.name()));
    if (m_form != nullptr) {
        m_form->setSettings(step.settings);
        const QSignalBlocker quiet(m_blend);
        m_blend->setCurrentIndex(static_cast<int>(step.blend));
    }
}

void StepCard::setProblem(const QString& text) {
    m_problem->setText(text);
    m_problem->setVisible(!text.isEmpty());
}

void StepCard::buildBody() {
    const StepType& type = stepCatalogue().type(m_step.type);
    m_body = new QWidget(this);
    auto* layout = new QVBoxLayout(m_body);
    layout->setContentsMargins(0, 6, 0, 4);
    layout->setSpacing(4);
    m_form = new SettingsForm(type.parameters, m_body);
    layout->addWidget(m_form);
    connect(m_form, &SettingsForm::edited, this, [this](std::size_t index, const Value& value) {
        m_step.settings[index] = value;
        const Parameter& parameter = stepCatalogue().type(m_step.type).parameters[index];
        tell(qstring(parameter.label), qstring(parameter.id));
    });
    connect(m_form, &SettingsForm::rested, this, &StepCard::rested);
    auto* foot = new QHBoxLayout;
    m_blend = new QComboBox;
    m_blend->setAccessibleName(tr("Blend"));
    m_blend->setToolTip(tr("How the step is laid over the picture before it."));
    m_blend->setFont(theme::font(12));
    for (const BlendInfo& info : blends())
        m_blend->addItem(qstring(info.label));
    connect(m_blend, &QComboBox::activated, this, [this](int index) {
        m_step.blend = blends()[static_cast<std::size_t>(index)].blend;
        tell(tr("Blend"), {});
    });
    auto* label = new QLabel(tr("Blend"));
    label->setProperty("role", "quiet");
    label->setFont(theme::font(12));
    label->setFixedWidth(84);
    foot->addWidget(label);
    foot->addWidget(m_blend, 1);
    m_blend->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_blend->setMinimumContentsLength(6);
    auto* more = new QPushButton(tr("Presets"));
    more->setToolTip(tr("Settings that look good at once, and what can be done with the step."));
    more->setProperty("role", "link");
    more->setFont(theme::font(12));
    connect(more, &QPushButton::clicked, this,
            [this, more] { showMenu(more->mapToGlobal(QPoint(0, more->height()))); });
    foot->addWidget(more);
    layout->addLayout(foot);
    m_layout->insertWidget(3, m_body);
}

void StepCard::setOpen(bool open) {
    if (open && m_body == nullptr) {
        buildBody();
        setStep(m_step);
    }
    m_open = open;
    if (m_body != nullptr)
        m_body->setVisible(open);
    update();
}

void StepCard::showMenu(const QPoint& at) {
    QMenu menu;
    const StepType& type = stepCatalogue().type(m_step.type);
    for (const Preset& preset : type.presets)
        menu.addAction(qstring(preset.label), this, [this, &type, preset] {
            // A preset keeps where the lens is focused: that belongs to the picture.
            const Settings old = m_step.settings;
            m_step.settings = settingsWith(type, preset.values);
            if (!type.focusParameter.empty()) {
                const std::size_t focus = parameterIndex(type.parameters, type.focusParameter);
                m_step.settings[focus] = old[focus];
            }
            tell(qstring(preset.label), {});
        });
    menu.addAction(tr("Defaults"), this, [this, &type] {
        m_step.settings = initialSettings(type.parameters);
        tell(tr("Defaults"), {});
    });
    menu.addSeparator();
    menu.addAction(tr("Move up"), this, [this] { Q_EMIT moveAsked(-1); });
    menu.addAction(tr("Move down"), this, [this] { Q_EMIT moveAsked(1); });
    menu.addAction(tr("Duplicate"), this, &StepCard::duplicateAsked);
    menu.addAction(tr("Remove"), this, &StepCard::removeAsked);
    menu.exec(at);
}

void StepCard::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton &&
        event->position().y() < m_summary->geometry().bottom() + 4)
        Q_EMIT opened();
}

void StepCard::keyPressEvent(QKeyEvent* event) {
    const bool alt = (event->modifiers() & Qt::AltModifier) != 0;
    // Keys that a control in it left over are not for the card.
    if (!hasFocus() && !alt)
        QFrame::keyPressEvent(event);
    else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
        Q_EMIT opened();
    else if (event->key() == Qt::Key_Delete)
        Q_EMIT removeAsked();
    else if (alt && event->key() == Qt::Key_Up)
        Q_EMIT moveAsked(-1);
    else if (alt && event->key() == Qt::Key_Down)
        Q_EMIT moveAsked(1);
    else
        QFrame::keyPressEvent(event);
}

void StepCard::contextMenuEvent(QContextMenuEvent* event) { showMenu(event->globalPos()); }

void StepCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(m_open || hasFocus() ? QPen(theme::kAccent, 1) : QPen(theme::kRaised, 1));
    painter.setBrush(theme::kRaised);
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
}

}  // namespace noctis
