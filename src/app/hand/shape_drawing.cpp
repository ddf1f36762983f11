#include "app/hand/shape_drawing.h"

#include "core/passes/matte.h"
#include "core/passes/world_normals.h"

#include <algorithm>
#include <bit>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

/// A point is kept where the pen's pressure has changed by this much since the last one.
constexpr float kPressureStep = 0.02F;

const Parameter* ofType(const CriterionType& type, ValueType wanted) {
    const auto found = std::find_if(type.parameters.begin(), type.parameters.end(),
                                    [&](const Parameter& p) { return p.type == wanted; });
    return found == type.parameters.end() ? nullptr : &*found;
}

bool isMatteName(const Parameter& parameter) {
    return parameter.use == TextUse::Objects || parameter.use == TextUse::Materials ||
           parameter.use == TextUse::Groups;
}

PassKind matteKind(TextUse use) {
    return use == TextUse::Objects     ? PassKind::Objects
           : use == TextUse::Materials ? PassKind::Materials
                                       : PassKind::Groups;
}

/// The name with the most of a pixel.
std::string nameAt(const Pass& matte, int x, int y) {
    const float id = matte.image(x, y, 0);
    if (matte.image.channels() < 2 || matte.image(x, y, 1) <= 0.0F)
        return {};
    const auto found = matte.manifest.find(fmt::format("{:08x}", std::bit_cast<std::uint32_t>(id)));
    return found == matte.manifest.end() ? std::string() : found->second;
}

std::vector<Stroke> strokesIn(const CriterionType& type, const Settings& settings) {
    const Parameter* parameter = ofType(type, ValueType::Strokes);
    return std::get<Strokes>(settings.at(parameter->id)).list();
}

Settings withStrokes(const CriterionType& type, Settings settings, std::vector<Stroke> strokes) {
    settings.set(ofType(type, ValueType::Strokes)->id,
                 Strokes{std::make_shared<const std::vector<Stroke>>(std::move(strokes))});
    return settings;
}

}  // namespace

Drawing drawingOf(const CriterionType& type) {
    if (ofType(type, ValueType::Strokes) != nullptr)
        return Drawing::Brush;
    if (ofType(type, ValueType::Places) != nullptr)
        return Drawing::Outline;
    if (ofType(type, ValueType::Place) != nullptr)
        return Drawing::Shape;
    const Parameter* names = ofType(type, ValueType::Names);
    if ((names != nullptr && isMatteName(*names)) ||
        ofType(type, ValueType::Direction) != nullptr || ofType(type, ValueType::Colour) != nullptr)
        return Drawing::Pick;
    return Drawing::None;
}

Settings drawnShape(const CriterionType& type, Settings settings, const V2f& from, const V2f& to) {
    const auto has = [&](const char* id) {
        return std::any_of(type.parameters.begin(), type.parameters.end(),
                           [&](const Parameter& p) { return p.id == id; });
    };
    if (has("radii")) {
        const V2f half((to.x - from.x) * 0.5F, (to.y - from.y) * 0.5F);
        settings.set("centre", from + half);
        settings.set("radii",
                     V2f(std::max(std::abs(half.x), 1.0F), std::max(std::abs(half.y), 1.0F)));
    } else if (has("min")) {
        settings.set("min", V2f(std::min(from.x, to.x), std::min(from.y, to.y)));
        settings.set("max", V2f(std::max(from.x, to.x), std::max(from.y, to.y)));
    } else if (has("from")) {
        settings.set("from", from);
        settings.set("to", to);
    }
    return settings;
}

Settings withCorner(const CriterionType& type, Settings settings, const V2f& corner) {
    const std::string id = ofType(type, ValueType::Places)->id;
    PlaceList outline = std::get<PlaceList>(settings.at(id));
    outline.push_back(corner);
    settings.set(id, std::move(outline));
    return settings;
}

Settings withStroke(const CriterionType& type, Settings settings, const V2f& at, const Brush& brush,
                    bool takesAway, float pressure) {
    std::vector<Stroke> strokes = strokesIn(type, settings);
    Stroke stroke{{at}, brush.radius, brush.softness, takesAway};
    // A mouse presses fully, and leaves no trace of it.
    if (pressure < 1.0F)
        stroke.pressures = {pressure};
    strokes.push_back(std::move(stroke));
    return withStrokes(type, std::move(settings), std::move(strokes));
}

Settings withStrokeTo(const CriterionType& type, Settings settings, const V2f& to, float pressure) {
    std::vector<Stroke> strokes = strokesIn(type, settings);
    if (strokes.empty())
        return settings;
    Stroke& stroke = strokes.back();
    const float before = stroke.pressures.empty() ? 1.0F : stroke.pressures.back();
    // Points closer than a fraction of the brush don't show as a bend.
    const bool near = !stroke.points.empty() &&
                      (stroke.points.back() - to).length() <= std::max(1.0F, stroke.radius * 0.1F);
    if (near && std::abs(pressure - before) < kPressureStep)
        return settings;
    if (stroke.pressures.empty() && pressure < 1.0F)
        stroke.pressures.assign(stroke.points.size(), 1.0F);
    stroke.points.push_back(to);
    if (!stroke.pressures.empty())
        stroke.pressures.push_back(pressure);
    return withStrokes(type, std::move(settings), std::move(strokes));
}

std::optional<Settings> picked(const CriterionType& type, Settings settings, const PassSet& passes,
                               int x, int y) {
    if (x < 0 || y < 0 || x >= passes.width || y >= passes.height)
        return std::nullopt;
    if (const Parameter* names = ofType(type, ValueType::Names); names != nullptr) {
        const Pass* matte = passes.find(matteKind(names->use));
        const std::string name = matte == nullptr ? std::string() : nameAt(*matte, x, y);
        if (name.empty())
            return std::nullopt;
        NameList list = std::get<NameList>(settings.at(names->id));
        if (std::erase(list, name) == 0)
            list.push_back(name);
        settings.set(names->id, std::move(list));
        return settings;
    }
    if (const Parameter* direction = ofType(type, ValueType::Direction)) {
        const auto normals = tryResolvePass(passes, PassKind::Normal);
        if (!normals)
            return std::nullopt;
        const Image world = inWorld(*normals, passes.cameraOrAssumed());
        const V3f n(world(x, y, 0), world(x, y, 1), world(x, y, 2));
        if (!(n.length2() > 0.1F))
            return std::nullopt;
        settings.set(direction->id, n.normalized());
        return settings;
    }
    if (const Parameter* colour = ofType(type, ValueType::Colour)) {
        const Pass* picture = passes.find(PassKind::Beauty);
        if (picture == nullptr || picture->image.channels() < 3)
            return std::nullopt;
        settings.set(colour->id, LinearRgb{std::max(0.0F, picture->image(x, y, 0)),
                                           std::max(0.0F, picture->image(x, y, 1)),
                                           std::max(0.0F, picture->image(x, y, 2))});
        return settings;
    }
    return std::nullopt;
}

std::optional<Settings> ShapeHand::begin(const CriterionType& type, const Settings& settings,
                                         const Brush& brush, const V2f& at, bool takesAway,
                                         float pressure) {
    m_from = at;
    if (drawingOf(type) != Drawing::Brush)
        return std::nullopt;
    return withStroke(type, settings, at, brush, takesAway, pressure);
}

std::optional<Settings> ShapeHand::lead(const CriterionType& type, const Settings& settings,
                                        const V2f& to, float pressure) {
    switch (drawingOf(type)) {
    case Drawing::Shape:
        return drawnShape(type, settings, m_from, to);
    case Drawing::Brush:
        return withStrokeTo(type, settings, to, pressure);
    default:
        return std::nullopt;
    }
}

std::optional<Settings> ShapeHand::end(const CriterionType& type, const Settings& settings,
                                       const V2f& at) {
    return drawingOf(type) == Drawing::Outline ? std::optional(withCorner(type, settings, at))
                                               : std::nullopt;
}

}  // namespace noctis
