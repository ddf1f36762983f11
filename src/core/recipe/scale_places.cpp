#include "core/recipe/scale_places.h"

#include "core/settings/value_type.h"

#include <algorithm>

namespace noctis {

namespace {

struct Scaler {
    V2f factor;

    [[nodiscard]] V2f place(const V2f& at) const { return at * factor; }
    [[nodiscard]] float length(float pixels) const { return pixels * factor.y; }

    [[nodiscard]] Value scaled(const Parameter& parameter, const Value& value) const {
        if (const auto* at = std::get_if<V2f>(&value); at != nullptr)
            return parameter.type == ValueType::Place ? Value(place(*at)) : value;
        if (const auto* places = std::get_if<PlaceList>(&value)) {
            PlaceList all = *places;
            std::ranges::transform(all, all.begin(), [this](const V2f& at) { return place(at); });
            return all;
        }
        if (const auto* strokes = std::get_if<Strokes>(&value)) {
            auto all = std::make_shared<std::vector<Stroke>>(strokes->list());
            for (Stroke& stroke : *all) {
                stroke.radius = length(stroke.radius);
                for (V2f& at : stroke.points)
                    at = place(at);
            }
            return Strokes{std::move(all)};
        }
        const auto* number = std::get_if<float>(&value);
        if (number == nullptr || parameter.unit != Unit::Pixel)
            return value;
        return std::clamp(length(*number), parameter.range.min, parameter.range.max);
    }
    void scale(Settings& settings, const Declaration& declaration) const {
        for (const Parameter& parameter : declaration.parameters)
            if (const Value* value = settings.find(parameter.id))
                settings.set(parameter.id, scaled(parameter, *value));
    }
    void scale(Where& where, const Catalogue& catalogue) const {
        where.refinement.grow = length(where.refinement.grow);
        where.refinement.soften = length(where.refinement.soften);
        if (where.kind == Where::Kind::Criterion)
            scale(where.settings, catalogue.criterion(where.name));
        for (Where& part : where.parts)
            scale(part, catalogue);
    }
};

}  // namespace

void scalePlaces(Recipe& recipe, const Catalogue& catalogue, const V2f& factor) {
    const Scaler scaler{factor};
    for (Step& step : recipe.steps) {
        if (step.usable())
            scaler.scale(step.settings, catalogue.type(step.type));
        scaler.scale(step.where, catalogue);
    }
    for (auto& [name, where] : recipe.wheres)
        scaler.scale(where, catalogue);
}

}  // namespace noctis
