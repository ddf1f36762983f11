#pragma once

#include "core/passes/pass.h"
#include "core/recipe/surroundings.h"
#include "core/settings/handle.h"
#include "core/settings/settings_builder.h"

#include <functional>
#include <string>
#include <utility>
#include <vector>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

/// A pass that is read. The subject kEach stands for every available pass of the kind.
struct PassNeed {
    PassName pass;
    std::string what;       ///< what it is needed for, as "distances"
    bool optional = false;  ///< it works without, but less well
};
inline constexpr const char* kEach = "*";

inline PassNeed needed(PassName pass, std::string what) {
    return {std::move(pass), std::move(what), false};
}
inline PassNeed wanted(PassKind kind, std::string what) {
    return {PassName{kind, {}}, std::move(what), true};
}

struct Preset {
    std::string label;
    std::vector<std::pair<std::string, Value>> values;
};

/// What else a card does at a click: it changes settings by what is around, or adds a step beside this one.
struct CardAction {
    std::string label;
    std::string help;
    std::string adds;     ///< type of the step that it adds; empty: none
    bool ofPart = false;  ///< it works on a part of the picture that is drawn first
    /// changed: the own settings, or those of the added step, which suit what is around already. Throws an Error that
    /// says why it can't.
    std::function<void(Settings& changed, const Settings& own, const Surroundings&)> change;
};

/// Converts settings of an older version, as in a file, to this one.
using UpgradeFunction = std::function<void(nlohmann::json& settings, int from)>;

/// Shared by steps, criteria, and sources of heights and operations on them: all that panels, files, instruments and the command line need.
struct Declaration {
    std::string id;
    std::string label;
    std::string help;
    int version = 1;
    UpgradeFunction upgrade;  ///< unset for version 1
    /// Adds what settings of a file imply; may be unset.
    std::function<void(nlohmann::json& settings)> settle;
    /// First values for one that is added by hand; may be unset.
    std::function<void(Settings&, const Surroundings&)> suit;
    std::vector<Parameter> parameters;
    std::vector<Preset> presets;
    std::vector<CardAction> actions;
    std::vector<Handle> handles;
    DepthLane lane;
    /// One line of what it does to a frame under these settings.
    std::function<std::string(const Settings&, const ShownFrame&)> summary;
    /// The passes it reads under these settings.
    std::function<std::vector<PassNeed>(const Settings&)> reads;

    [[nodiscard]] bool hasLane() const { return lane.strength != nullptr; }
};

/// Settings of a declaration with some values replaced.
/// Errors   Error(UnknownName, BadSetting).
Settings settingsWith(const Declaration& declaration,
                      const std::vector<std::pair<std::string, Value>>& values);

/// Declares a Type (made of a Declaration) by a plain settings struct S; see any file of core/steps for how it
/// reads. Functions of S are bound in build(), once all fields are known, so the order of declarations doesn't
/// matter.
template <typename Builder, typename S, typename Type>
class DeclarationBuilder : public Declares<Builder, S> {
public:
    using Bind = std::function<S(const Settings&)>;

    DeclarationBuilder(std::string id, std::string label) {
        m_type.id = std::move(id);
        m_type.label = std::move(label);
    }
    Builder& help(std::string text) {
        m_type.help = std::move(text);
        return this->self();
    }
    Builder& version(int number, UpgradeFunction upgrade = {}) {
        m_type.version = number;
        m_type.upgrade = std::move(upgrade);
        return this->self();
    }
    Builder& settled(std::function<void(nlohmann::json&)> settle) {
        m_type.settle = std::move(settle);
        return this->self();
    }
    /// As Declaration::suit.
    Builder& suited(std::function<void(Settings&, const Surroundings&)> suit) {
        m_type.suit = std::move(suit);
        return this->self();
    }
    Builder& preset(std::string label, std::vector<std::pair<std::string, Value>> values) {
        m_type.presets.push_back({std::move(label), std::move(values)});
        return this->self();
    }
    /// A button that changes the settings by what is around.
    Builder& action(std::string label, std::string help,
                    std::function<void(Settings&, const Surroundings&)> change) {
        m_type.actions.push_back(
            {std::move(label),
             std::move(help),
             {},
             false,
             [change = std::move(change)](Settings& s, const Settings&,
                                          const Surroundings& around) { change(s, around); }});
        return this->self();
    }
    /// The same with a part of the picture, Surroundings::part, that is drawn first.
    Builder& actionOnPart(std::string label, std::string help,
                          std::function<void(Settings&, const Surroundings&)> change) {
        action(std::move(label), std::move(help), std::move(change));
        m_type.actions.back().ofPart = true;
        return this->self();
    }
    /// A button that adds a step of another type, with settings that follow from these.
    Builder& companion(std::string label, std::string help, std::string type,
                       std::function<void(Settings&, const S&)> fill) {
        return late([=](Type& declared, const Bind& bind) {
            declared.actions.push_back({label, help, type, false,
                                        [bind, fill](Settings& s, const Settings& own,
                                                     const Surroundings&) { fill(s, bind(own)); }});
        });
    }
    Builder& reads(std::function<std::vector<PassNeed>(const S&)> work) {
        return late([work = std::move(work)](Type& type, const Bind& bind) {
            type.reads = [bind, work](const Settings& s) { return work(bind(s)); };
        });
    }
    Builder& reads(PassKind kind, std::string what) {
        return reads([kind, what](const S&) {
            return std::vector<PassNeed>{needed(PassName{kind, {}}, what)};
        });
    }
    Builder& summary(std::function<std::string(const S&)> work) {
        return summaryOn(
            [work = std::move(work)](const S& s, const ShownFrame&) { return work(s); });
    }
    Builder& summaryOn(std::function<std::string(const S&, const ShownFrame&)> work) {
        return late([work = std::move(work)](Type& type, const Bind& bind) {
            type.summary = [bind, work](const Settings& s, const ShownFrame& frame) {
                return work(bind(s), frame);
            };
        });
    }
    /// How it shows on the depth axis: strength(s, metres) from 0 to 1.
    Builder& lane(DepthLane::Shape shape, std::function<float(const S&, float)> strength) {
        return laneOn(shape, DepthLane::Purpose::Other,
                      [strength = std::move(strength)](const S& s, const ShownFrame&) {
                          return [s, strength](float metres) { return strength(s, metres); };
                      });
    }
    /// The same by the frame: strength(s, frame) gives it at a distance in m.
    Builder&
    laneOn(DepthLane::Shape shape, DepthLane::Purpose purpose,
           std::function<std::function<float(float)>(const S&, const ShownFrame&)> strength) {
        return late([=](Type& type, const Bind& bind) {
            type.lane.shape = shape;
            type.lane.purpose = purpose;
            type.lane.strength = [bind, strength](const Settings& settings,
                                                  const ShownFrame& frame) {
                return strength(bind(settings), frame);
            };
        });
    }
    /// A distance shown at place(s); moving it sets one number to value(s, metres).
    Builder& handle(std::string id, std::string label, std::string parameter,
                    std::function<float(const S&)> place,
                    std::function<float(const S&, float)> value) {
        return handleOn(
            std::move(id), std::move(label), std::move(parameter),
            [place = std::move(place)](const S& s, const ShownFrame&) { return place(s); },
            [value = std::move(value)](const S& s, float metres, const ShownFrame&) {
                return value(s, metres);
            });
    }
    /// The same by the frame.
    Builder& handleOn(std::string id, std::string label, std::string parameter,
                      std::function<float(const S&, const ShownFrame&)> place,
                      std::function<float(const S&, float, const ShownFrame&)> value) {
        return late([=](Type& type, const Bind& bind) {
            const Range range = parameterNamed(type.parameters, parameter).range;
            type.handles.push_back(
                {id,
                 label,
                 HandleKind::Distance,
                 [bind, place](const Settings& s, const ShownFrame& frame) {
                     return place(bind(s), frame);
                 },
                 [bind, value, parameter, range](Settings& s, const HandleValue& to,
                                                 const ShownFrame& frame) {
                     const float wanted = value(bind(s), std::get<float>(to), frame);
                     // An invalid wanted value becomes the least.
                     s.set(parameter, wanted > range.min ? (wanted < range.max ? wanted : range.max)
                                                         : range.min);
                 },
                 {},
                 {},
                 {},
                 0.0F});
        });
    }
    /// A setting that is dragged directly: a distance, direction, point or place.
    Builder& handle(HandleKind kind, std::string parameter, std::string label,
                    std::function<bool(const S&)> shown = {}) {
        return late([=](Type& type, const Bind& bind) {
            Handle handle{parameter, label, kind, {}, {}, {}, {}, {}, 0.0F};
            const Range range = parameterNamed(type.parameters, parameter).range;
            handle.at = [parameter](const Settings& s, const ShownFrame&) -> HandleValue {
                const Value& value = s.at(parameter);
                if (const auto* metres = std::get_if<float>(&value))
                    return *metres;
                if (const auto* place = std::get_if<V2f>(&value))
                    return *place;
                return std::get<V3f>(value);
            };
            handle.moveTo = [parameter, range](Settings& s, const HandleValue& to,
                                               const ShownFrame&) {
                if (const auto* metres = std::get_if<float>(&to))
                    s.set(parameter, *metres > range.min
                                         ? (*metres < range.max ? *metres : range.max)
                                         : range.min);
                else if (const auto* place = std::get_if<V2f>(&to))
                    s.set(parameter, *place);
                else
                    s.set(parameter, std::get<V3f>(to));
            };
            if (shown)
                handle.shown = [bind, shown](const Settings& s) { return shown(bind(s)); };
            type.handles.push_back(std::move(handle));
        });
    }

    /// A number from -1 to 1 as a lobe that stands in a direction of the world.
    Builder& lobe(std::string parameter, std::string label,
                  std::function<V3f(const S&, const ShownFrame&)> along) {
        handle(HandleKind::Lobe, std::move(parameter), std::move(label));
        return late([along = std::move(along)](Type& type, const Bind& bind) {
            type.handles.back().along = [bind, along](const Settings& s, const ShownFrame& frame) {
                return along(bind(s), frame);
            };
        });
    }

    /// The last handle, a direction, is the middle of a cone whose half angle is that parameter.
    Builder& cone(std::string parameter) {
        return late([parameter = std::move(parameter)](Type& type, const Bind&) {
            type.handles.back().halfAngle = [parameter](const Settings& s) {
                return s.number(parameter);
            };
        });
    }

    /// The last handle, a point, keeps off a clicked surface: a lamp on it would light nothing.
    Builder& offSurface() {
        return late([](Type& type, const Bind&) { type.handles.back().offSurface = 0.06F; });
    }

    /// The last handle, a direction towards a light or its place, can be set by where its highlight falls.
    Builder& highlights() {
        return late([](Type& type, const Bind&) { type.handles.back().highlights = true; });
    }

    /// The last handle, a point, and that of this id are opposite corners of a box along the world's axes.
    Builder& boxFrom(std::string opposite) {
        return late([opposite = std::move(opposite)](Type& type, const Bind&) {
            type.handles.back().opposite = opposite;
        });
    }

    [[nodiscard]] Type build() {
        m_type.parameters = this->binding().parameters();
        const Bind bind = [binding = std::make_shared<const Binding<S>>(this->binding())](
                              const Settings& s) { return binding->bind(s); };
        for (const auto& work : m_late)
            work(m_type, bind);
        return m_type;
    }

protected:
    Builder& late(std::function<void(Type&, const Bind&)> work) {
        m_late.push_back(std::move(work));
        return this->self();
    }
    Type m_type;

private:
    std::vector<std::function<void(Type&, const Bind&)>> m_late;
};

}  // namespace noctis
