#pragma once

#include <QObject>

namespace noctis {

/// Undo and redo act on the project even while a number box has the focus: an accepted value is undone like any
/// other change. They act on the text only while it is being typed. Installed on the application as an event
/// filter.
class UndoKeys : public QObject {
public:
    using QObject::QObject;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace noctis
