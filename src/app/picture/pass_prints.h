#pragma once

#include "core/passes/pass_set.h"
#include "core/tracer/pass_state.h"

#include <QImage>
#include <QScrollArea>
#include <QString>

#include <map>
#include <string>
#include <vector>

namespace noctis {

/// What stands on a pass's print.
struct PassPrint {
    QString name;   ///< the pass's own
    QString label;  ///< for people
    QString range;
    QString help;
    QImage image;
    bool derived = false;
    bool warns = false;
};

/// Measured passes first, then those derived from them. Reads all their pixels.
/// Threads  any.
std::vector<PassPrint> printsOf(const PassSet& measured, const std::vector<Pass>& derived);

/// The passes as small prints with their state. One that is chosen is shown in the picture's place.
class PassPrints : public QScrollArea {
    Q_OBJECT
public:
    explicit PassPrints(QWidget* parent = nullptr);

    void setPrints(const std::vector<PassPrint>& prints);
    void setChosen(const QString& name);
    /// By the passes' names; those that aren't named are as they should be.
    void setStates(const std::map<std::string, PassState>& states);

Q_SIGNALS:
    void chosen(const QString& name);  ///< empty: back to the picture
    void exportAsked(const QString& name);

private:
    void showStates();

    QString m_chosen;
    std::map<std::string, PassState> m_states;
};

}  // namespace noctis
