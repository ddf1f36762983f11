#pragma once

#include "core/passes/pass_set.h"

#include <QScrollArea>

namespace noctis {

/// The passes as small prints with their state. One that is chosen is shown in the picture's place.
class PassPrints : public QScrollArea {
    Q_OBJECT
public:
    explicit PassPrints(QWidget* parent = nullptr);

    /// Measured passes first, then those derived from them.
    void setPasses(const std::vector<Pass>& passes, const QString& staleReason);
    void setChosen(const QString& name);

Q_SIGNALS:
    void chosen(const QString& name);  ///< empty: back to the picture

private:
    QString m_chosen;
};

}  // namespace noctis
