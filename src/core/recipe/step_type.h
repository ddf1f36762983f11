#pragma once

#include "core/image/run_context.h"
#include "core/recipe/frame_context.h"
#include "core/settings/depth_lane.h"
#include "core/settings/settings_builder.h"

#include <functional>
#include <string>
#include <vector>

namespace noctis {

/// Steps run phase by phase, so that air is always in front of the lens.
enum class Phase { Light, Air, Lens, Finish };

std::string_view phaseName(Phase phase);   ///< "light"
std::string_view phaseLabel(Phase phase);  ///< "Light"

/// A run of pixels of one row: the colour, changed in place.
struct PointRow {
    float* r;
    float* g;
    float* b;
    int x;
    int y;
    int count;
};

/// A point step made ready for a frame.
using PointFunction = std::function<void(const PointRow&)>;

struct Preset {
    std::string label;
    std::vector<std::pair<std::string, Value>> values;
};

/// A kind of step: everything the rest of Noctis knows of it.
struct StepType {
    std::string id;
    std::string label;
    Phase phase = Phase::Finish;
    int version = 1;
    std::string help;
    std::vector<Parameter> parameters;
    std::vector<Preset> presets;
    DepthLane lane;  ///< no handles: it has none
    std::string
        focusParameter;  ///< set by a click in the picture, to the distance there; may be empty
    std::function<std::string(const Settings&)> summary;
    /// The passes it reads under these settings.
    std::function<std::vector<PassKind>(const Settings&)> reads;
    /// One of the two is set: a point step needs its own pixel only, an area step its surroundings.
    std::function<PointFunction(const Settings&, const FrameContext&)> point;
    std::function<Image(const Image&, const Settings&, const FrameContext&, const RunContext&)>
        area;
};

/// Settings of a type with some values replaced.
Settings settingsWith(const StepType& type,
                      const std::vector<std::pair<std::string, Value>>& values);

/// Declares a step by its plain settings struct; see any file of core/steps for how it reads.
template <typename S> class StepBuilder {
public:
    StepBuilder(std::string id, std::string label) {
        m_type.id = std::move(id);
        m_type.label = std::move(label);
    }
    StepBuilder& version(int number) {
        m_type.version = number;
        return *this;
    }
    StepBuilder& phase(Phase phase) {
        m_type.phase = phase;
        return *this;
    }
    StepBuilder& help(std::string text) {
        m_type.help = std::move(text);
        return *this;
    }
    StepBuilder& number(float S::*f, std::string id, std::string label, Unit unit, Range range,
                        std::string text) {
        m_settings.number(f, std::move(id), std::move(label), unit, range, std::move(text));
        return *this;
    }
    StepBuilder& whole(int S::*f, std::string id, std::string label, Range range,
                       std::string text) {
        m_settings.whole(f, std::move(id), std::move(label), range, std::move(text));
        return *this;
    }
    StepBuilder& toggle(bool S::*f, std::string id, std::string label, std::string text) {
        m_settings.toggle(f, std::move(id), std::move(label), std::move(text));
        return *this;
    }
    StepBuilder& colour(LinearRgb S::*f, std::string id, std::string label, std::string text) {
        m_settings.colour(f, std::move(id), std::move(label), std::move(text));
        return *this;
    }
    template <typename E>
    StepBuilder& choice(E S::*f, std::string id, std::string label, std::vector<Choice> choices,
                        std::string text) {
        m_settings.choice(f, std::move(id), std::move(label), std::move(choices), std::move(text));
        return *this;
    }
    StepBuilder& onlyWhen(std::string condition) {
        m_settings.onlyWhen(std::move(condition));
        return *this;
    }
    StepBuilder& preset(std::string label, std::vector<std::pair<std::string, Value>> values) {
        m_type.presets.push_back({std::move(label), std::move(values)});
        return *this;
    }
    StepBuilder& reads(std::function<std::vector<PassKind>(const S&)> work) {
        m_type.reads = [bind = m_settings, work](const Settings& s) { return work(bind.bind(s)); };
        return *this;
    }
    StepBuilder& summary(std::function<std::string(const S&)> work) {
        m_type.summary = [bind = m_settings, work](const Settings& s) {
            return work(bind.bind(s));
        };
        return *this;
    }
    StepBuilder& lane(DepthLane::Shape shape, std::function<float(const S&, float)> strength) {
        m_type.lane.shape = shape;
        m_type.lane.strength = [bind = m_settings, strength](const Settings& s, float metres) {
            return strength(bind.bind(s), metres);
        };
        return *this;
    }
    /// A handle that stands at place(s) and, when moved, sets one parameter to value(s, metres).
    StepBuilder& handle(std::string label, std::string parameter,
                        std::function<float(const S&)> place,
                        std::function<float(const S&, float)> value) {
        const std::size_t index = parameterIndex(m_settings.parameters(), parameter);
        const Range range = m_settings.parameters()[index].range;
        m_type.lane.handles.push_back(
            {std::move(label),
             [bind = m_settings, place](const Settings& s) { return place(bind.bind(s)); },
             [bind = m_settings, value, index, range](Settings& s, float metres) {
                 const float wanted = value(bind.bind(s), metres);
                 s[index] =
                     wanted < range.min ? range.min : (wanted > range.max ? range.max : wanted);
             }});
        return *this;
    }
    StepBuilder& focusedBy(std::string parameter) {
        m_type.focusParameter = std::move(parameter);
        return *this;
    }
    StepBuilder& point(std::function<PointFunction(const S&, const FrameContext&)> make) {
        m_type.point = [bind = m_settings, make](const Settings& s, const FrameContext& frame) {
            return make(bind.bind(s), frame);
        };
        return *this;
    }
    StepBuilder& area(
        std::function<Image(const Image&, const S&, const FrameContext&, const RunContext&)> work) {
        m_type.area = [bind = m_settings, work](const Image& image, const Settings& s,
                                                const FrameContext& frame, const RunContext& run) {
            return work(image, bind.bind(s), frame, run);
        };
        return *this;
    }
    [[nodiscard]] StepType build() {
        m_type.parameters = m_settings.parameters();
        return m_type;
    }

private:
    StepType m_type;
    SettingsBuilder<S> m_settings;
};

}  // namespace noctis
