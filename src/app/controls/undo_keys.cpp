#include "app/controls/undo_keys.h"

#include <QAbstractSpinBox>
#include <QKeyEvent>
#include <QLineEdit>

namespace noctis {

bool UndoKeys::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::ShortcutOverride)
        return false;
    const auto* key = static_cast<QKeyEvent*>(event);
    if (!key->matches(QKeySequence::Undo) && !key->matches(QKeySequence::Redo))
        return false;
    const auto* box = qobject_cast<QAbstractSpinBox*>(watched);
    const auto* text =
        box != nullptr ? box->findChild<QLineEdit*>() : qobject_cast<QLineEdit*>(watched);
    const bool ofNumbers =
        box != nullptr ||
        (text != nullptr && qobject_cast<QAbstractSpinBox*>(text->parentWidget()));
    if (!ofNumbers || text == nullptr || text->isModified())
        return false;
    event->ignore();
    return true;
}

}  // namespace noctis
