#pragma once

#include <QFrame>
#include <QStringList>

#include <map>

class QLineEdit;
class QTreeWidget;
class QTreeWidgetItem;

namespace noctis {

/// What a scene offers to be named.
struct NameChoices {
    QStringList objects;
    QStringList groups;
    QStringList materials;
    QStringList passes{};
    bool canLeaveOut = true;  ///< a name can be left out instead of taken
};

/// A list of names to take or leave out, to be searched; what is picked is text as instancesNamed reads it.
class NamesPicker : public QFrame {
    Q_OBJECT
public:
    NamesPicker(const NameChoices& choices, const QString& text, QWidget* parent);

    /// Opens below a place of the screen; closes and deletes itself by a click elsewhere or Escape.
    void presentAt(const QPoint& below);
    [[nodiscard]] QString text() const;

Q_SIGNALS:
    void picked(const QString& text);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    enum class Use { None, Taken, LeftOut };
    void readText(const QString& text);
    void addSection(const QString& title, const QStringList& names);
    void filter(const QString& typed);
    /// From nothing to taken, to left out, and back.
    void turn(QTreeWidgetItem* item);
    void showUse(QTreeWidgetItem* item) const;
    void moveCurrent(int rows);

    std::map<QString, Use> m_uses;
    bool m_canLeaveOut = true;
    QStringList m_order;  ///< as listed, then names that are nothing here
    QLineEdit* m_line;
    QTreeWidget* m_list;
};

}  // namespace noctis
