#include "app/survey/pass_row.h"

#include "app/controls/elided_label.h"
#include "app/controls/settings_form.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/survey/pass_list.h"
#include "core/settings/counted.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

namespace noctis {

namespace {

constexpr int kBesideTitle = 44;  ///< px: margins, and the gap to the state
constexpr int kLeastForState = 60;

/// A pass's settings in one line, as far as they matter.
QString summaryOf(const PassRequest& request) {
    QStringList parts;
    const std::vector<Parameter>& parameters = passParameters(request.kind);
    for (const Parameter& p : parameters) {
        if (!isShown(p, request.settings) || parts.size() > 3)
            continue;
        const Value& value = request.settings.at(p.id);
        const auto* number = std::get_if<float>(&value);
        const auto* text = std::get_if<std::string>(&value);
        const QString label = qstring(p.label).toLower();
        if (p.id == "samples")
            parts << qstring(counted(static_cast<std::size_t>(*number), "sample"));
        else if (p.id == "denoise" && *number > 0.0F)
            parts << QObject::tr("denoised");
        else if ((p.id == "noise" || p.id == "seconds" ||
                  (p.isNumber() && p.unit == Unit::Metre)) &&
                 *number > 0.0F)
            parts << QStringLiteral("%1 %2").arg(label, qstring(formatNumber(*number, p.unit)));
        else if (p.id == "space")
            parts << qstring(*text);
        else if (p.id == "filtered" && !std::get<bool>(value))
            parts << QObject::tr("centre-sampled");
        else if (p.id == "backdrop" && !std::get<bool>(value))
            parts << QObject::tr("no backdrop");
        else if (p.use == TextUse::SceneNames && !text->empty())
            parts << QStringLiteral("%1 %2").arg(label, qstring(*text));
    }
    return parts.join(QStringLiteral(" · "));
}

}  // namespace

PassRow::PassRow(const PassRequest& request, std::function<NameChoices()> choices, QWidget* parent)
    : QFrame(parent), m_request(request), m_dot(theme::kQuiet), m_choices(std::move(choices)) {
    const PassKindInfo& info = passKindInfo(request.kind);
    setFocusPolicy(Qt::StrongFocus);
    const QString label = qstring(labelOf({request.kind, request.subject}));
    setObjectName(qstring(request.name()));
    setAccessibleName(tr("%1 pass").arg(label));
    setToolTip(qstring(info.meaning));
    m_layout = new QVBoxLayout(this);
    m_layout->setContentsMargins(24, 7, 10, 7);
    m_layout->setSpacing(1);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(label);
    title->setFont(theme::font(13, QFont::Medium));
    m_state = new QLabel;
    m_state->setFont(theme::font(12));
    m_title = title;
    head->addWidget(title, 1);
    head->addWidget(m_state);
    m_layout->addLayout(head);
    m_summary = new ElidedLabel;
    m_summary->setObjectName("summary");
    m_summary->setProperty("role", "quiet");
    m_summary->setFont(theme::font(12));
    m_layout->addWidget(m_summary);
    m_warning = new QLabel;
    m_warning->setObjectName("warning");
    m_warning->setWordWrap(true);
    m_warning->setFont(theme::font(12));
    m_warning->setStyleSheet(QStringLiteral("color: %1").arg(theme::kWarning.name()));
    m_warning->hide();
    m_layout->addWidget(m_warning);
}

void PassRow::setRequest(const PassRequest& request, const PassState& state,
                         const std::vector<std::string>& warnings) {
    // A moving camera asks at every movement, and changes nothing of most rows.
    if (request == m_request && m_shown == std::tuple(request, state, warnings))
        return;
    m_shown.emplace(request, state, warnings);
    QStringList sentences;
    for (const std::string& warning : warnings)
        sentences << qstring(warning);
    m_warning->setText(sentences.join(QLatin1Char('\n')));
    m_warning->setVisible(!sentences.isEmpty());
    m_request = request;
    m_summary->setText(summaryOf(request));
    m_summary->setToolTip(m_summary->text());
    m_summary->setVisible(!m_summary->text().isEmpty());
    const bool stale = state.kind == PassState::Kind::Stale;
    m_dot = stale ? theme::kWarning
                  : (state.kind == PassState::Kind::Current ? theme::kAccent : theme::kQuiet);
    m_stateText = stale ? tr("stale: %1").arg(qstring(state.why))
                        : (state.kind == PassState::Kind::Current ? tr("current") : tr("missing"));
    m_state->setToolTip(m_stateText);
    fitText();
    m_state->setStyleSheet(
        QStringLiteral("color: %1").arg((stale ? theme::kWarning : theme::kQuiet).name()));
    if (m_form != nullptr)
        m_form->setSettings(request.settings);
    update();
}

void PassRow::fitText() {
    const int room = width() - m_title->sizeHint().width() - kBesideTitle;
    m_state->setText(m_state->fontMetrics().elidedText(m_stateText, Qt::ElideRight,
                                                       std::max(room, kLeastForState)));
}

void PassRow::resizeEvent(QResizeEvent*) { fitText(); }

void PassRow::setOpen(bool open) {
    m_open = open;
    if (open && m_body == nullptr) {
        m_body = new QWidget;
        auto* layout = new QVBoxLayout(m_body);
        layout->setContentsMargins(0, 6, 0, 0);
        m_form = new SettingsForm(passParameters(m_request.kind),
                                  [choices = m_choices](TextUse) { return choices(); });
        m_form->setSettings(m_request.settings);
        layout->addWidget(m_form);
        if (m_request.kind == PassKind::Occlusion || m_request.kind == PassKind::Bent) {
            auto* suggest = new QPushButton(tr("Suggest a reach"));
            suggest->setObjectName("suggest-reach");
            suggest->setProperty("role", "link");
            suggest->setFont(theme::font(12));
            suggest->setToolTip(tr("A reach that suits the distances in view: contacts come out "
                                   "dark, open surfaces white."));
            layout->addWidget(suggest, 0, Qt::AlignLeft);
            connect(suggest, &QPushButton::clicked, this, &PassRow::reachAsked);
        }
        auto* remove = new QPushButton(tr("Don't render this pass"));
        remove->setProperty("role", "link");
        remove->setFont(theme::font(12));
        layout->addWidget(remove, 0, Qt::AlignLeft);
        connect(remove, &QPushButton::clicked, this, &PassRow::removeAsked);
        connect(m_form, &SettingsForm::edited, this, [this](const QString& id, const Value& value) {
            m_request.settings.set(id.toStdString(), value);
            Q_EMIT edited(id, m_request);
        });
        connect(m_form, &SettingsForm::rested, this, &PassRow::rested);
        // Before the warning, so that a warning about a setting doesn't move it under the pointer.
        m_layout->insertWidget(m_layout->indexOf(m_warning), m_body);
    }
    if (m_body != nullptr)
        m_body->setVisible(open);
    update();
}

void PassRow::mousePressEvent(QMouseEvent* event) {
    if (event->position().y() < 44)
        Q_EMIT opened();
}

void PassRow::keyPressEvent(QKeyEvent* event) {
    // Keys that its controls ignore are not for the row.
    if (!hasFocus())
        QFrame::keyPressEvent(event);
    else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
        Q_EMIT opened();
    else if (event->key() == Qt::Key_Delete)
        Q_EMIT removeAsked();
    else
        QFrame::keyPressEvent(event);
}

void PassRow::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(m_open ? QPen(theme::kAccent, 1) : QPen(theme::kRaised, 1));
    painter.setBrush(theme::kRaised);
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    painter.setPen(Qt::NoPen);
    painter.setBrush(m_dot);
    painter.drawEllipse(QPointF(12, 16), 3.5, 3.5);
}

}  // namespace noctis
