#pragma once

#include <QWidget>

class QAction;
class QLineEdit;
class QTreeWidget;

namespace noctis {

/// All commands with their keys, found by typing a part of their name.
class CommandFinder : public QWidget {
    Q_OBJECT
public:
    CommandFinder(const QList<QAction*>& commands, QWidget* parent);
    void present();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void run();

    QList<QAction*> m_commands;
    QLineEdit* m_line;
    QTreeWidget* m_list;
};

}  // namespace noctis
