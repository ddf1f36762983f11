#pragma once

#include "core/settings/parameter.h"

#include <cassert>
#include <functional>
#include <utility>

namespace noctis {

/// Binds the fields of a plain settings struct S to declared parameters, each said once.
/// A field's default is the struct's own.
template <typename S> class SettingsBuilder {
public:
    void number(float S::*field, std::string id, std::string label, Unit unit, Range range,
                std::string help) {
        add({std::move(id),
             std::move(label),
             unit,
             range,
             Value(S{}.*field),
             {},
             std::move(help),
             {},
             {}},
            [field](S& s, const Value& v) { s.*field = std::get<float>(v); });
    }
    void whole(int S::*field, std::string id, std::string label, Range range, std::string help) {
        add({std::move(id),
             std::move(label),
             Unit::Count,
             range,
             Value(static_cast<float>(S{}.*field)),
             {},
             std::move(help),
             {},
             {}},
            [field](S& s, const Value& v) { s.*field = static_cast<int>(std::get<float>(v)); });
    }
    void toggle(bool S::*field, std::string id, std::string label, std::string help) {
        add({std::move(id),
             std::move(label),
             Unit::None,
             {},
             Value(S{}.*field),
             {},
             std::move(help),
             {},
             {}},
            [field](S& s, const Value& v) { s.*field = std::get<bool>(v); });
    }
    void colour(LinearRgb S::*field, std::string id, std::string label, std::string help) {
        add({std::move(id),
             std::move(label),
             Unit::None,
             {},
             Value(S{}.*field),
             {},
             std::move(help),
             {},
             {}},
            [field](S& s, const Value& v) { s.*field = std::get<LinearRgb>(v); });
    }
    void text(std::string S::*field, std::string id, std::string label, TextUse use,
              std::string help) {
        add({std::move(id),
             std::move(label),
             Unit::None,
             {},
             Value(S{}.*field),
             {},
             std::move(help),
             {},
             use},
            [field](S& s, const Value& v) { s.*field = std::get<std::string>(v); });
    }
    /// An enum; choices are in the order of its values, and saved by their id.
    template <typename E>
    void choice(E S::*field, std::string id, std::string label, std::vector<Choice> choices,
                std::string help) {
        const auto initial = static_cast<std::size_t>(S{}.*field);
        Parameter parameter{
            std::move(id), std::move(label), Unit::None, {}, Value(choices[initial].id),
            choices,       std::move(help),  {},         {}};
        add(std::move(parameter), [field, choices](S& s, const Value& v) {
            for (std::size_t i = 0; i < choices.size(); ++i)
                if (choices[i].id == std::get<std::string>(v))
                    s.*field = static_cast<E>(i);
        });
    }
    /// The last parameter is shown only while another has one of some values: "id=value|value".
    void onlyWhen(std::string condition) { m_parameters.back().onlyWhen = std::move(condition); }

    [[nodiscard]] const std::vector<Parameter>& parameters() const { return m_parameters; }

    [[nodiscard]] S bind(const Settings& settings) const {
        assert(settings.size() == m_setters.size());
        S s;
        for (std::size_t i = 0; i < m_setters.size(); ++i)
            m_setters[i](s, settings[i]);
        return s;
    }

private:
    void add(Parameter parameter, std::function<void(S&, const Value&)> setter) {
        m_parameters.push_back(std::move(parameter));
        m_setters.push_back(std::move(setter));
    }

    std::vector<Parameter> m_parameters;
    std::vector<std::function<void(S&, const Value&)>> m_setters;
};

}  // namespace noctis
