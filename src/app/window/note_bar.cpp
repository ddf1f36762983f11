#include "app/window/note_bar.h"

#include "app/look/sentence.h"
#include "app/look/theme.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QTimer>

#include <algorithm>

namespace noctis {

namespace {

/// A passing note closes by itself after this long, or later if it offers an action.
constexpr int kStaysMs = 7000;
constexpr int kStaysToActMs = 20000;
/// Shorter work is not announced.
constexpr int kWorkShownAfterMs = 400;

}  // namespace

NoteBar::NoteBar(QWidget* parent) : QWidget(parent) {
    setObjectName("notes");
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 4, 8, 4);
    m_text = new QLabel;
    m_text->setWordWrap(true);
    m_text->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_more = new QLabel;
    m_more->setProperty("role", "quiet");
    for (std::size_t i = 0; i < m_actions.size(); ++i) {
        auto* button = m_actions[i] = new QPushButton;
        button->setObjectName(i == 0 ? QStringLiteral("note-action")
                                     : QStringLiteral("note-action-%1").arg(i + 1));
        button->setProperty("role", "link");
        connect(button, &QPushButton::clicked, this, [this, i] { act(i); });
    }
    m_close = new QPushButton(theme::icon("x"), {});
    m_close->setProperty("role", "icon");
    m_close->setAccessibleName(tr("Close the note"));
    layout->addWidget(m_text, 1);
    layout->addWidget(m_more);
    for (QPushButton* button : m_actions)
        layout->addWidget(button);
    layout->addWidget(m_close);
    m_timer = new QTimer(this);
    m_timer->setSingleShot(true);
    const auto next = [this] {
        if (!m_notes.empty()) {
            if (m_notes.front().decline)
                m_notes.front().decline();
            m_notes.pop_front();
        }
        showFirst();
    };
    connect(m_close, &QPushButton::clicked, this, next);
    connect(m_timer, &QTimer::timeout, this, next);
    m_workDelay = new QTimer(this);
    m_workDelay->setSingleShot(true);
    m_workDelay->setInterval(kWorkShownAfterMs);
    connect(m_workDelay, &QTimer::timeout, this, &NoteBar::showFirst);
    setAttribute(Qt::WA_StyledBackground);
    parent->installEventFilter(this);
    hide();
}

void NoteBar::act(std::size_t action) {
    const bool working = showsWork();
    const std::function<void()> run = (working ? m_work : m_notes.front()).actions.at(action).run;
    if (!working) {
        m_notes.pop_front();
        showFirst();
    }
    run();
}

void NoteBar::setFoot(QWidget* foot) {
    if (m_foot) {
        m_foot->removeEventFilter(this);
        m_foot->setContentsMargins(0, 0, 0, 0);
    }
    m_foot = foot;
    if (m_foot)
        m_foot->installEventFilter(this);
    place();
}

bool NoteBar::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Resize || event->type() == QEvent::Move ||
        event->type() == QEvent::Show)
        place();
    return QWidget::eventFilter(watched, event);
}

void NoteBar::place() {
    if (isHidden()) {
        if (m_foot)
            m_foot->setContentsMargins(0, 0, 0, 0);
        return;
    }
    layout()->activate();
    const QWidget& over = m_foot ? *m_foot : *parentWidget();
    const QPoint corner = over.mapTo(parentWidget(), QPoint(0, over.height()));
    const int high = layout()->heightForWidth(over.width());
    setGeometry(corner.x(), corner.y() - high, over.width(), high);
    if (m_foot)
        m_foot->setContentsMargins(0, 0, 0, high);
    raise();
}

void NoteBar::add(const QString& text, bool warning) {
    if (warning)
        return warn(text, {}, {});
    dropPassing();
    // It is news: what waits is seen again when it has passed.
    m_notes.push_front({text, false, true, {}, {}});
    showFirst();
}

void NoteBar::warn(const QString& text, const QString& action,
                   const std::function<void()>& accept) {
    ask(text,
        action.isEmpty() ? std::vector<NoteAction>() : std::vector{NoteAction{action, accept}});
}

void NoteBar::ask(const QString& text, const std::vector<NoteAction>& actions) {
    dropPassing();
    // A new warning is seen before older ones.
    m_notes.push_front({text, true, false, actions, {}});
    showFirst();
}

void NoteBar::dropPassing() {
    if (!m_notes.empty() && m_notes.front().passing)
        m_notes.pop_front();
}

void NoteBar::takeBack(const QString& text) {
    if (std::erase_if(m_notes, [&](const Note& note) { return note.text == text; }) > 0)
        showFirst();
}

void NoteBar::mention(const QString& text, const QString& action,
                      const std::function<void()>& accept) {
    m_notes.push_front({text, false, true, {{action, accept}}, {}});
    showFirst();
}

void NoteBar::offer(const QString& text, const QString& action, const std::function<void()>& accept,
                    const std::function<void()>& decline) {
    m_notes.push_back({text, false, false, {{action, accept}}, decline});
    showFirst();
}

void NoteBar::work(const QString& text, const std::function<void()>& stop) {
    const bool begins = m_work.text.isEmpty();
    m_work = {text, false, false, {{tr("Stop"), stop}}, {}};
    if (text.isEmpty())
        m_workDelay->stop();
    else if (begins)
        m_workDelay->start();
    if (!begins && !m_workDelay->isActive())
        showFirst();
}

bool NoteBar::showsWork() const { return !m_work.text.isEmpty() && !m_workDelay->isActive(); }

QString NoteBar::text() const { return m_notes.empty() ? QString() : m_notes.front().text; }

void NoteBar::showFirst() {
    m_timer->stop();
    const bool working = showsWork();
    setVisible(working || !m_notes.empty());
    if (!working && m_notes.empty())
        return place();
    const Note& note = working ? m_work : m_notes.front();
    m_text->setText(sentence(note.text));
    m_text->setStyleSheet(
        QStringLiteral("color: %1").arg((note.warning ? theme::kWarning : theme::kText).name()));
    const std::size_t more = working ? m_notes.size() : m_notes.size() - 1;
    m_more->setText(more > 0 ? tr("%1 more").arg(more) : QString());
    for (std::size_t i = 0; i < m_actions.size(); ++i) {
        const bool there = i < note.actions.size();
        m_actions[i]->setText(there ? note.actions[i].label : QString());
        m_actions[i]->setVisible(there);
    }
    m_close->setToolTip(note.decline ? tr("Closes this note and discards what it offers.")
                                     : tr("Closes this note."));
    m_close->setVisible(!working);
    place();
    if (note.passing)
        m_timer->start(!note.actions.empty() ? kStaysToActMs : kStaysMs);
}

}  // namespace noctis
