#include "app/controls/names_picker.h"

#include "app/look/theme.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QScreen>
#include <QTreeWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace noctis {

namespace {

constexpr QSize kSize(264, 340);

bool isHeading(const QTreeWidgetItem* item) { return item->flags() == Qt::NoItemFlags; }

}  // namespace

NamesPicker::NamesPicker(const NameChoices& choices, const QString& text, QWidget* parent)
    : QFrame(parent, Qt::Popup), m_canLeaveOut(choices.canLeaveOut) {
    setObjectName("names-picker");
    setAttribute(Qt::WA_DeleteOnClose);
    setStyleSheet(
        QStringLiteral("#names-picker { background: %1; border: 1px solid %2; } "
                       "QTreeWidget { background: transparent; border: none; outline: 0; } "
                       "QTreeWidget::item { padding: 3px 4px; border: none; } "
                       "QTreeWidget::item:selected { background: %4; color: %3; }")
            .arg(theme::kRaised.name(), theme::kHairline.name(), theme::kText.name(),
                 theme::kSelected.name()));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 8, 8, 6);
    layout->setSpacing(6);
    m_line = new QLineEdit;
    m_line->setPlaceholderText(tr("Find a name"));
    m_line->setAccessibleName(tr("Find a name"));
    m_line->installEventFilter(this);
    m_list = new QTreeWidget;
    m_list->setColumnCount(2);
    m_list->setHeaderHidden(true);
    m_list->setRootIsDecorated(false);
    m_list->setAccessibleName(tr("Names"));
    m_list->setFocusPolicy(Qt::NoFocus);
    m_list->setFont(theme::font(12));
    m_list->header()->setStretchLastSection(false);
    auto* hint =
        new QLabel(m_canLeaveOut ? tr("Click or press Return to pick a name, again to exclude it. "
                                      "With none picked, everything counts.")
                                 : tr("Click or press Return to pick a name, again to drop it."));
    hint->setProperty("role", "quiet");
    hint->setFont(theme::font(11));
    hint->setWordWrap(true);
    layout->addWidget(m_line);
    layout->addWidget(m_list, 1);
    layout->addWidget(hint);
    readText(text);
    addSection(tr("Objects"), choices.objects);
    addSection(tr("Groups"), choices.groups);
    addSection(tr("Passes"), choices.passes);
    addSection(tr("Materials"), choices.materials);
    for (const auto& [name, use] : m_uses)
        if (!m_order.contains(name))
            m_order << name;
    m_list->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_list->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    connect(m_line, &QLineEdit::textChanged, this, &NamesPicker::filter);
    connect(m_list, &QTreeWidget::itemClicked, this, &NamesPicker::turn);
    filter({});
}

void NamesPicker::presentAt(const QPoint& below) {
    const QRect room = screen()->availableGeometry();
    resize(kSize);
    move(std::clamp(below.x(), room.left(), room.right() - kSize.width()),
         std::clamp(below.y(), room.top(), room.bottom() - kSize.height()));
    show();
    m_line->setFocus();
}

void NamesPicker::readText(const QString& text) {
    for (const QString& part : text.split(QLatin1Char(','), Qt::SkipEmptyParts)) {
        const QString trimmed = part.trimmed();
        const bool out = trimmed.startsWith(QLatin1Char('-'));
        if (const QString name = out ? trimmed.mid(1).trimmed() : trimmed; !name.isEmpty())
            m_uses[name] = out ? Use::LeftOut : Use::Taken;
    }
}

QString NamesPicker::text() const {
    QStringList parts;
    for (const QString& name : m_order)
        if (const auto found = m_uses.find(name); found != m_uses.end()) {
            if (found->second == Use::Taken)
                parts << name;
            if (found->second == Use::LeftOut)
                parts << QLatin1Char('-') + name;
        }
    return parts.join(QStringLiteral(", "));
}

void NamesPicker::addSection(const QString& title, const QStringList& names) {
    if (names.isEmpty())
        return;
    auto* heading = new QTreeWidgetItem(m_list, {title, QString::number(names.size())});
    heading->setFlags(Qt::NoItemFlags);
    for (const int column : {0, 1})
        heading->setForeground(column, theme::kQuiet);
    for (const QString& name : names) {
        auto* item = new QTreeWidgetItem(m_list, {name, {}});
        item->setData(0, Qt::UserRole, name);
        showUse(item);
        if (!m_order.contains(name))
            m_order << name;
    }
}

void NamesPicker::filter(const QString& typed) {
    QTreeWidgetItem* first = nullptr;
    for (int i = 0; i < m_list->topLevelItemCount(); ++i) {
        QTreeWidgetItem* item = m_list->topLevelItem(i);
        const bool found =
            isHeading(item) ? typed.isEmpty() : item->text(0).contains(typed, Qt::CaseInsensitive);
        item->setHidden(!found);
        if (found && !isHeading(item) && first == nullptr)
            first = item;
    }
    m_list->setCurrentItem(first);
}

void NamesPicker::turn(QTreeWidgetItem* item) {
    if (item == nullptr || isHeading(item))
        return;
    Use& use = m_uses[item->data(0, Qt::UserRole).toString()];
    use = use == Use::None                     ? Use::Taken
          : use == Use::Taken && m_canLeaveOut ? Use::LeftOut
                                               : Use::None;
    for (int i = 0; i < m_list->topLevelItemCount(); ++i)
        showUse(m_list->topLevelItem(i));  // an object and a material may share a name
    Q_EMIT picked(text());
}

void NamesPicker::showUse(QTreeWidgetItem* item) const {
    if (isHeading(item))
        return;
    const auto found = m_uses.find(item->data(0, Qt::UserRole).toString());
    const Use use = found == m_uses.end() ? Use::None : found->second;
    item->setText(1, use == Use::Taken     ? tr("taken")
                     : use == Use::LeftOut ? tr("left out")
                                           : QString());
    item->setForeground(1, use == Use::Taken ? theme::kAccent : theme::kWarning);
}

void NamesPicker::moveCurrent(int rows) {
    int row = m_list->indexOfTopLevelItem(m_list->currentItem());
    do
        row += rows;
    while (row >= 0 && row < m_list->topLevelItemCount() &&
           (m_list->topLevelItem(row)->isHidden() || isHeading(m_list->topLevelItem(row))));
    if (QTreeWidgetItem* item = m_list->topLevelItem(row))
        m_list->setCurrentItem(item);
}

bool NamesPicker::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        switch (static_cast<QKeyEvent*>(event)->key()) {
        case Qt::Key_Escape:
            close();
            return true;
        case Qt::Key_Down:
            moveCurrent(1);
            return true;
        case Qt::Key_Up:
            moveCurrent(-1);
            return true;
        case Qt::Key_Return:
        case Qt::Key_Enter:
            turn(m_list->currentItem());
            return true;
        default:
            break;
        }
    }
    return QFrame::eventFilter(watched, event);
}

}  // namespace noctis
