#include "app/window/command_finder.h"

#include "app/look/theme.h"

#include <QAction>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QTreeWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <numeric>
#include <vector>

namespace noctis {

namespace {

/// What is found first: a command, or its object, of just these words; then words that begin with them.
int rankOf(const QString& command, const QString& typed) {
    const QString text = command.toLower();
    if (text == typed || text.endsWith(QStringLiteral(": ") + typed))
        return 0;
    if (text.startsWith(typed) || text.contains(QStringLiteral(": ") + typed))
        return 1;
    return text.contains(QLatin1Char(' ') + typed) ? 2 : 3;
}

}  // namespace

CommandFinder::CommandFinder(const QList<QAction*>& commands, QWidget* parent)
    : QWidget(parent), m_commands(commands) {
    setObjectName("finder");
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet(
        QStringLiteral(
            "#finder { background: %1; border: 1px solid %2; border-radius: 6px; } QTreeWidget { "
            "background: transparent; border: none; outline: 0; } QTreeWidget::item { padding: 5px "
            "6px; } QTreeWidget::item:selected { background: %4; color: %3; }")
            .arg(theme::kRaised.name(), theme::kHairline.name(), theme::kText.name(),
                 theme::kSelected.name()));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 10, 10, 10);
    m_line = new QLineEdit;
    m_line->setPlaceholderText(tr("Find a command"));
    m_line->setAccessibleName(tr("Find a command"));
    m_line->installEventFilter(this);
    m_list = new QTreeWidget;
    m_list->setColumnCount(2);
    m_list->setHeaderHidden(true);
    m_list->setRootIsDecorated(false);
    m_list->header()->setStretchLastSection(false);
    m_list->setAccessibleName(tr("Commands"));
    m_list->setFocusPolicy(Qt::NoFocus);
    layout->addWidget(m_line);
    layout->addWidget(m_list);
    connect(m_line, &QLineEdit::textChanged, this, &CommandFinder::fill);
    connect(m_line, &QLineEdit::returnPressed, this, &CommandFinder::run);
    connect(m_list, &QTreeWidget::itemClicked, this, &CommandFinder::run);
    hide();
}

void CommandFinder::present() {
    const QSize room = parentWidget()->size();
    setGeometry((room.width() - 460) / 2, 56, 460, std::min(420, room.height() - 80));
    m_line->clear();
    fill();
    m_before = window()->focusWidget();
    show();
    raise();
    m_line->setFocus();
}

void CommandFinder::fill() {
    m_list->clear();
    const QString typed = m_line->text().toLower().simplified();
    const QStringList words = typed.split(' ', Qt::SkipEmptyParts);
    std::vector<qsizetype> order(static_cast<std::size_t>(m_commands.size()));
    std::iota(order.begin(), order.end(), 0);
    if (!typed.isEmpty())
        std::ranges::stable_sort(order, {},
                                 [&](qsizetype i) { return rankOf(m_commands[i]->text(), typed); });
    for (const qsizetype i : order) {
        const QAction* command = m_commands[i];
        const QString text = command->text();
        const bool found = std::all_of(words.begin(), words.end(), [&](const QString& word) {
            return text.toLower().contains(word);
        });
        if (!found || !command->isEnabled())
            continue;
        const QString keys = command->shortcut().toString(QKeySequence::NativeText);
        auto* item = new QTreeWidgetItem(m_list, {text, keys});
        item->setData(0, Qt::UserRole, i);
        item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
        item->setForeground(1, theme::kQuiet);
    }
    if (m_list->topLevelItemCount() == 0) {
        auto* none = new QTreeWidgetItem(m_list, {tr("No command matches")});
        none->setFlags(Qt::NoItemFlags);
        none->setForeground(0, theme::kQuiet);
    }
    m_list->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_list->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    m_list->setCurrentItem(m_list->topLevelItem(0));
}

void CommandFinder::close() {
    hide();
    if (m_before)
        m_before->setFocus();
}

void CommandFinder::run() {
    const QTreeWidgetItem* item = m_list->currentItem();
    close();
    if (item != nullptr && item->data(0, Qt::UserRole).isValid())
        m_commands[item->data(0, Qt::UserRole).toLongLong()]->trigger();
}

bool CommandFinder::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Escape) {
            close();
            return true;
        }
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            const int row =
                m_list->indexOfTopLevelItem(m_list->currentItem()) + (key == Qt::Key_Down ? 1 : -1);
            m_list->setCurrentItem(m_list->topLevelItem(
                std::clamp(row, 0, std::max(0, m_list->topLevelItemCount() - 1))));
            return true;
        }
    } else if (event->type() == QEvent::FocusOut) {
        hide();
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace noctis
