#pragma once

#include "core/relief/relief.h"

#include <QImage>
#include <QMap>
#include <QScrollArea>

namespace noctis {

/// The height maps of the project as small prints, each with where it is from.
class ReliefStrip : public QScrollArea {
    Q_OBJECT
public:
    explicit ReliefStrip(QWidget* parent = nullptr);

    void setReliefs(const std::vector<Relief>& reliefs, const std::string& chosen);
    void setPrint(const std::string& id, const QImage& print);
    /// What is wrong with one, in a few words; empty: nothing.
    void setState(const std::string& id, const QString& state);

Q_SIGNALS:
    void chosen(const std::string& id);
    void renamed(const std::string& id, const QString& name);
    void removed(const std::string& id);

private:
    void rebuild();

    std::vector<Relief> m_reliefs;
    std::string m_chosen;
    QMap<QString, QImage> m_prints;
    QMap<QString, QString> m_states;
};

/// What a relief is called: its own name, or by its source.
QString titleOf(const Relief& relief);

}  // namespace noctis
