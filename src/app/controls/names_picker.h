#pragma once

#include <QFrame>
#include <QStringList>

#include <map>

class QLineEdit;
class QTreeWidget;
class QTreeWidgetItem;

namespace noctis {

/// The names that a scene offers.
struct NameChoices {
    QStringList objects;
    QStringList groups;
    QStringList materials;
    QStringList passes{};
    bool canLeaveOut = true;  ///< names can be excluded as well as picked
};

/// A searchable list of names to include or exclude; the result is text that instancesNamed reads.
class NamesPicker : public QFrame {
    Q_OBJECT
public:
    NamesPicker(const NameChoices& choices, const QString& text, QWidget* parent);

    /// Opens below a point of the screen; closes and deletes itself on a click elsewhere or Escape.
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
    /// Goes from nothing to included, to excluded, and back.
    void turn(QTreeWidgetItem* item);
    void showUse(QTreeWidgetItem* item) const;
    void moveCurrent(int rows);

    std::map<QString, Use> m_uses;
    bool m_canLeaveOut = true;
    QStringList m_order;  ///< as listed, then names unknown here
    QLineEdit* m_line;
    QTreeWidget* m_list;
};

}  // namespace noctis
