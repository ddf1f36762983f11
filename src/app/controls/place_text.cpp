#include "app/controls/place_text.h"

#include "app/look/picture_paint.h"
#include "core/image/error.h"

#include <QObject>
#include <QRegularExpression>
#include <QStringList>

#include <cmath>
#include <numbers>

namespace noctis {

namespace {

constexpr double kDegrees = 180.0 / std::numbers::pi;

/// Without a sign or decimals that say nothing.
QString number(float value, int decimals) {
    const QString text = QString::number(static_cast<double>(value), 'f', decimals);
    return text.startsWith('-') && text.toDouble() == 0.0 ? text.mid(1) : text;
}

QString directionText(const V3f& direction) {
    const V3f d = direction.normalized();
    const double turn = std::atan2(static_cast<double>(d.x), static_cast<double>(d.z)) * kDegrees;
    const double rise = std::asin(std::clamp(static_cast<double>(d.y), -1.0, 1.0)) * kDegrees;
    const QString across = number(static_cast<float>(turn < 0.0 ? turn + 360.0 : turn), 0);
    return QObject::tr("%1°, %2° %3")
        .arg(across == QLatin1String("360") ? QStringLiteral("0") : across)
        .arg(number(static_cast<float>(std::abs(rise)), 0))
        .arg(rise < 0.0 ? QObject::tr("down") : QObject::tr("up"));
}

QString pairOf(const V2f& place) {
    return QStringLiteral("%1, %2").arg(number(place.x, 0), number(place.y, 0));
}

/// The numbers of a text, whatever stands between them.
std::vector<float> numbersIn(const QString& text) {
    static const QRegularExpression pattern(
        QStringLiteral("[-+]?(\\d+\\.?\\d*|\\.\\d+)(e[-+]?\\d+)?"));
    std::vector<float> numbers;
    for (auto found = pattern.globalMatch(text); found.hasNext();)
        numbers.push_back(found.next().captured().toFloat());
    return numbers;
}

[[noreturn]] void refuse(const Parameter& parameter, const QString& example) {
    throw Error(ErrorCode::BadSetting, QObject::tr("%1 must be like %2")
                                           .arg(QString::fromStdString(parameter.label), example)
                                           .toStdString());
}

V3f directionFrom(const Parameter& parameter, const QString& text) {
    const std::vector<float> given = numbersIn(text);
    if (given.size() == 3) {
        const V3f direction(given[0], given[1], given[2]);
        if (direction.length2() > 0.0F)
            return direction;
    }
    if (given.size() != 2 || std::abs(given[1]) > 90.0F)
        refuse(parameter, QObject::tr("34°, 41° up"));
    const double turn = static_cast<double>(given[0]) / kDegrees;
    const bool down = text.contains(QObject::tr("down"), Qt::CaseInsensitive);
    const double rise = static_cast<double>(down ? -given[1] : given[1]) / kDegrees;
    return {static_cast<float>(std::sin(turn) * std::cos(rise)), static_cast<float>(std::sin(rise)),
            static_cast<float>(std::cos(turn) * std::cos(rise))};
}

/// A place that stands for something else has both coordinates below 0.
bool isUnsetPlace(const Value& value) {
    const V2f& place = std::get<V2f>(value);
    return place.x < 0.0F && place.y < 0.0F;
}

PlaceList placesFrom(const Parameter& parameter, const QString& text) {
    const std::vector<float> given = numbersIn(text);
    if (given.size() % 2 != 0)
        refuse(parameter, QObject::tr("512, 300; 20, 40 px"));
    PlaceList places;
    for (std::size_t i = 0; i < given.size(); i += 2)
        places.emplace_back(given[i], given[i + 1]);
    return places;
}

}  // namespace

bool isPlaced(const Parameter& parameter) {
    return parameter.type == ValueType::Point || parameter.type == ValueType::Direction ||
           parameter.type == ValueType::Place || parameter.type == ValueType::Places;
}

QString placeText(const Parameter& parameter, const Value& value) {
    if (parameter.type == ValueType::Direction)
        return directionText(std::get<V3f>(value));
    if (parameter.type == ValueType::Point) {
        const auto& p = std::get<V3f>(value);
        return QStringLiteral("%1, %2, %3\u2009%4")
            .arg(number(p.x, 2), number(p.y, 2), number(p.z, 2), qstring(unitName(parameter.unit)));
    }
    if (parameter.type == ValueType::Place && !parameter.unset.empty() && isUnsetPlace(value))
        return {};
    if (parameter.type == ValueType::Place)
        return pairOf(std::get<V2f>(value)) + QStringLiteral("\u2009px");
    QStringList pairs;
    for (const V2f& place : std::get<PlaceList>(value))
        pairs << pairOf(place);
    return pairs.isEmpty() ? QString()
                           : pairs.join(QStringLiteral("; ")) + QStringLiteral("\u2009px");
}

Value valueFromPlaceText(const Parameter& parameter, const QString& text) {
    if (parameter.type == ValueType::Direction)
        return directionFrom(parameter, text);
    if (parameter.type == ValueType::Places)
        return placesFrom(parameter, text);
    if (parameter.type == ValueType::Place && !parameter.unset.empty() && text.trimmed().isEmpty())
        return V2f(-1.0F, -1.0F);
    const std::vector<float> given = numbersIn(text);
    if (parameter.type == ValueType::Place) {
        if (given.size() != 2)
            refuse(parameter, QObject::tr("512, 300 px"));
        return V2f(given[0], given[1]);
    }
    if (given.size() != 3)
        refuse(parameter, QObject::tr("0.5, 0.2, -5 m"));
    return V3f(given[0], given[1], given[2]);
}

}  // namespace noctis
