#include "app/look/sentence.h"

#include <algorithm>

namespace noctis {

QString sentence(QString message) {
    const QString first = message.section(QLatin1Char(' '), 0, 0);
    const auto isPartOfName = [](QChar c) { return !c.isLetter() && c != '\'' && c != ','; };
    if (!message.isEmpty() && std::none_of(first.begin(), first.end(), isPartOfName))
        message[0] = message[0].toUpper();
    return message;
}

}  // namespace noctis
