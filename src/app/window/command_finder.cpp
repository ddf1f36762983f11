#include "app/window/command_finder.h"

#include "app/look/theme.h"

#include <QAction>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

namespace noctis {

CommandFinder::CommandFinder(const QList<QAction*>& commands, QWidget* parent) : QWidget(parent), m_commands(commands) {
    setObjectName("finder");
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet(QStringLiteral("#finder { background: %1; border: 1px solid %2; border-radius: 6px; } QListWidget { background: transparent; border: none; outline: 0; } QListWidget::item { padding: 5px 6px; } QListWidget::item:selected { background: #2f3a38; color: %3; }").arg(theme::kRaised.name(), theme::kHairline.name(), theme::kText.name()));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 10, 10, 10);
    m_line = new QLineEdit;
    m_line->setPlaceholderText(tr("Find a command"));
    m_line->setAccessibleName(tr("Find a command"));
    m_line->installEventFilter(this);
    m_list = new QListWidget;
    m_list->setAccessibleName(tr("Commands"));
    m_list->setFocusPolicy(Qt::NoFocus);
    layout->addWidget(m_line);
    layout->addWidget(m_list);
    connect(m_line, &QLineEdit::textChanged, this, &CommandFinder::fill);
    connect(m_line, &QLineEdit::returnPressed, this, &CommandFinder::run);
    connect(m_list, &QListWidget::itemClicked, this, &CommandFinder::run);
    hide();
}

void CommandFinder::present() {
    const QSize room = parentWidget()->size();
    setGeometry((room.width() - 460) / 2, 56, 460, std::min(420, room.height() - 80));
    m_line->clear();
    fill();
    show();
    raise();
    m_line->setFocus();
}

void CommandFinder::fill() {
    m_list->clear();
    const QStringList words = m_line->text().toLower().split(' ', Qt::SkipEmptyParts);
    for (qsizetype i = 0; i < m_commands.size(); ++i) {
        const QAction* command = m_commands[i];
        const QString text = command->text();
        const bool found = std::all_of(words.begin(), words.end(), [&](const QString& word) { return text.toLower().contains(word); });
        if (!found || !command->isEnabled())
            continue;
        const QString keys = command->shortcut().toString(QKeySequence::NativeText);
        auto* item = new QListWidgetItem(keys.isEmpty() ? text : QStringLiteral("%1    %2").arg(text, keys), m_list);
        item->setData(Qt::UserRole, i);
    }
    m_list->setCurrentRow(0);
}

void CommandFinder::run() {
    const QListWidgetItem* item = m_list->currentItem();
    hide();
    if (item != nullptr)
        m_commands[item->data(Qt::UserRole).toLongLong()]->trigger();
}

bool CommandFinder::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Escape) {
            hide();
            return true;
        }
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            m_list->setCurrentRow(std::clamp(m_list->currentRow() + (key == Qt::Key_Down ? 1 : -1), 0, std::max(0, m_list->count() - 1)));
            return true;
        }
    } else if (event->type() == QEvent::FocusOut) {
        hide();
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace noctis
