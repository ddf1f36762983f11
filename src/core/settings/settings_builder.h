#pragma once

#include "core/settings/parameter.h"

#include <functional>
#include <memory>
#include <utility>

namespace noctis {

/// Parameters bound to the fields of a plain struct S.
template <typename S> class Binding {
public:
    void add(Parameter parameter, std::function<void(S&, const Value&)> setter) {
        m_parameters.push_back(std::move(parameter));
        m_setters.push_back(std::move(setter));
    }
    [[nodiscard]] const std::vector<Parameter>& parameters() const { return m_parameters; }
    [[nodiscard]] Parameter& last() { return m_parameters.back(); }

    /// What the settings leave out has the struct's own default.
    [[nodiscard]] S bind(const Settings& settings) const {
        S s;
        for (std::size_t i = 0; i < m_setters.size(); ++i)
            if (const Value* value = settings.find(m_parameters[i].id, i))
                m_setters[i](s, *value);
        return s;
    }

private:
    std::vector<Parameter> m_parameters;
    std::vector<std::function<void(S&, const Value&)>> m_setters;
};

/// The declarations that steps, criteria and passes share; Builder is the class they chain on. Each binds
/// a field of the plain settings struct S, and a field's default is the struct's own.
template <typename Builder, typename S> class Declares {
public:
    Builder& number(float S::*field, std::string id, std::string label, Unit unit, Range range,
                    std::string help) {
        Parameter p = named(ValueType::Number, std::move(id), std::move(label), std::move(help));
        p.unit = unit;
        p.range = range;
        return value(field, std::move(p));
    }
    Builder& whole(int S::*field, std::string id, std::string label, Range range,
                   std::string help) {
        Parameter p = named(ValueType::Whole, std::move(id), std::move(label), std::move(help));
        p.unit = Unit::Count;
        p.range = range;
        p.initial = static_cast<float>(S{}.*field);
        return add(std::move(p), [field](S& s, const Value& v) {
            s.*field = static_cast<int>(std::get<float>(v));
        });
    }
    Builder& toggle(bool S::*field, std::string id, std::string label, std::string help) {
        return value(field,
                     named(ValueType::Switch, std::move(id), std::move(label), std::move(help)));
    }
    Builder& colour(LinearRgb S::*field, std::string id, std::string label, std::string help) {
        return value(field,
                     named(ValueType::Colour, std::move(id), std::move(label), std::move(help)));
    }
    Builder& text(std::string S::*field, std::string id, std::string label, TextUse use,
                  std::string help) {
        Parameter p = named(ValueType::Text, std::move(id), std::move(label), std::move(help));
        p.use = use;
        return value(field, std::move(p));
    }
    Builder& file(FilePath S::*field, std::string id, std::string label, TextUse use,
                  std::string help) {
        Parameter p = named(ValueType::File, std::move(id), std::move(label), std::move(help));
        p.use = use;
        return value(field, std::move(p));
    }
    Builder& position(V3f S::*field, std::string id, std::string label, std::string help) {
        Parameter p = named(ValueType::Point, std::move(id), std::move(label), std::move(help));
        p.unit = Unit::Metre;
        return value(field, std::move(p));
    }
    /// m/s along the world's axes.
    Builder& velocity(V3f S::*field, std::string id, std::string label, std::string help) {
        Parameter p = named(ValueType::Point, std::move(id), std::move(label), std::move(help));
        p.unit = Unit::MetrePerSecond;
        return value(field, std::move(p));
    }
    Builder& direction(V3f S::*field, std::string id, std::string label, std::string help) {
        return value(field,
                     named(ValueType::Direction, std::move(id), std::move(label), std::move(help)));
    }
    Builder& place(V2f S::*field, std::string id, std::string label, std::string help) {
        Parameter p = named(ValueType::Place, std::move(id), std::move(label), std::move(help));
        p.unit = Unit::Pixel;
        return value(field, std::move(p));
    }
    Builder& places(PlaceList S::*field, std::string id, std::string label, std::string help) {
        Parameter p = named(ValueType::Places, std::move(id), std::move(label), std::move(help));
        p.unit = Unit::Pixel;
        return value(field, std::move(p));
    }
    /// Between the two ends of range its control moves.
    Builder& span(Span S::*field, std::string id, std::string label, Unit unit, Range range,
                  std::string help) {
        Parameter p = named(ValueType::Span, std::move(id), std::move(label), std::move(help));
        p.unit = unit;
        p.range = range;
        return value(field, std::move(p));
    }
    Builder& curve(Curve S::*field, std::string id, std::string label, std::string help) {
        return value(field,
                     named(ValueType::Curve, std::move(id), std::move(label), std::move(help)));
    }
    Builder& gradient(Gradient S::*field, std::string id, std::string label, std::string help) {
        return value(field,
                     named(ValueType::Gradient, std::move(id), std::move(label), std::move(help)));
    }
    Builder& strokes(Strokes S::*field, std::string id, std::string label, std::string help) {
        return value(field,
                     named(ValueType::Strokes, std::move(id), std::move(label), std::move(help)));
    }
    Builder& names(NameList S::*field, std::string id, std::string label, TextUse use,
                   std::string help) {
        Parameter p = named(ValueType::Names, std::move(id), std::move(label), std::move(help));
        p.use = use;
        return value(field, std::move(p));
    }
    /// Several of one kind, each declared by of and addressed by its name.
    template <typename R>
    Builder& records(std::vector<R> S::*field, std::string R::*name, const Binding<R>& of,
                     std::string id, std::string label, TextUse use, std::string help) {
        Parameter p = named(ValueType::Records, std::move(id), std::move(label), std::move(help));
        p.use = use;
        p.fields = of.parameters();
        p.initial = RecordList{};
        return add(std::move(p), [field, name, of](S& s, const Value& v) {
            (s.*field).clear();
            for (const Record& record : std::get<RecordList>(v)) {
                (s.*field).push_back(of.bind(record.settings));
                (s.*field).back().*name = record.name;
            }
        });
    }
    /// An enum; choices are in the order of its values, and saved by their id.
    template <typename E>
    Builder& choice(E S::*field, std::string id, std::string label, std::vector<Choice> choices,
                    std::string help) {
        Parameter p = named(ValueType::Choice, std::move(id), std::move(label), std::move(help));
        p.initial = choices[static_cast<std::size_t>(S{}.*field)].id;
        p.choices = choices;
        return add(std::move(p), [field, choices](S& s, const Value& v) {
            for (std::size_t i = 0; i < choices.size(); ++i)
                if (choices[i].id == std::get<std::string>(v))
                    s.*field = static_cast<E>(i);
        });
    }
    /// The last parameter is shown only while another has one of some values: "id=value|value".
    Builder& onlyWhen(std::string condition) {
        m_binding.last().onlyWhen = std::move(condition);
        return self();
    }
    /// The last parameter is read under this id as well, as older files have it.
    Builder& alias(std::string oldId) {
        m_binding.last().oldIds.push_back(std::move(oldId));
        return self();
    }
    /// That value of the last parameter, or an empty text, stands for this, in a word or two.
    Builder& unsetIs(std::string meaning, float value = 0.0F) {
        m_binding.last().unset = std::move(meaning);
        m_binding.last().unsetAt = value;
        return self();
    }
    /// The last parameter never moves in time.
    Builder& still() {
        m_binding.last().still = true;
        return self();
    }

    [[nodiscard]] const Binding<S>& binding() const { return m_binding; }

protected:
    Builder& self() { return static_cast<Builder&>(*this); }

private:
    static Parameter named(ValueType type, std::string id, std::string label, std::string help) {
        Parameter p;
        p.type = type;
        p.id = std::move(id);
        p.label = std::move(label);
        p.help = std::move(help);
        return p;
    }
    Builder& add(Parameter parameter, std::function<void(S&, const Value&)> setter) {
        m_binding.add(std::move(parameter), std::move(setter));
        return self();
    }
    /// A field that is held as it is.
    template <typename T> Builder& value(T S::*field, Parameter parameter) {
        parameter.initial = S{}.*field;
        return add(std::move(parameter),
                   [field](S& s, const Value& v) { s.*field = std::get<T>(v); });
    }

    Binding<S> m_binding;
};

/// Declares plain settings, as those of a pass.
template <typename S> class SettingsBuilder : public Declares<SettingsBuilder<S>, S> {
public:
    [[nodiscard]] const std::vector<Parameter>& parameters() const {
        return this->binding().parameters();
    }
    [[nodiscard]] S bind(const Settings& settings) const { return this->binding().bind(settings); }
};

}  // namespace noctis
