#pragma once

#include <QPointer>
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
    void close();
    void run();

    QList<QAction*> m_commands;
    QLineEdit* m_line;
    QPointer<QWidget> m_before;  ///< had the focus
    QTreeWidget* m_list;
};

}  // namespace noctis
