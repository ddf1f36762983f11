#pragma once

#include <QObject>

namespace noctis {

/// Undo and redo are the project's, also while a number box has the focus: a value that was taken is
/// undone like any other change. Only in a text that is being typed do they stay with the text.
/// Installed on the application as an event filter.
class UndoKeys : public QObject {
public:
    using QObject::QObject;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace noctis
