#pragma once

#include "core/image/run_context.h"
#include "core/recipe/declaration.h"
#include "core/recipe/working_frame.h"

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
    const float* a;  ///< none where the picture is opaque; colour is associated with it
    int x;
    int y;
    int count;
};

/// A point step prepared for a frame.
using PointFunction = std::function<void(const PointRow&)>;

/// A mask made before a step that moves light, on its way through that step.
struct CarriedMask {
    Image share;   ///< 0..1, with the channels of the step's input
    bool ofLight;  ///< the input's light times share is moved, and not share itself
    Image
        where{};  ///< of a step that takes light from where its Where says: that; empty: everywhere
};

/// The picture's light times the mask, or the mask alone, as it says.
Image maskedLight(const Image& picture, const CarriedMask& mask);

/// What a step makes of the masked light of its input, or of the mask alone, moved as it moves its input: the same
/// surfaces, the same weights. The result has the input's channels; with a share of 1 it is the step's own.
using CarryFunction = std::function<Image(const WorkingFrame& input, const Settings&,
                                          const CarriedMask&, const RunContext&)>;

/// Types of steps that one shouldn't come before, and why.
struct OrderRule {
    std::vector<std::string> types;
    std::string why;
};

/// A type of step: everything that the rest of Noctis knows about it.
struct StepType : Declaration {
    Phase phase = Phase::Finish;
    std::string
        focusParameter;  ///< set by a click in the picture, to the distance there; may be empty
    std::vector<PassName> writes;  ///< passes it replaces for the steps after it
    /// One of the two is set. A point step needs its own pixel only, and changes colour alone. An area step
    /// maps the whole frame; it shares what it doesn't change.
    std::function<PointFunction(const Settings&, const WorkingFrame&, const RunContext&)> point;
    std::function<WorkingFrame(const WorkingFrame&, const Settings&, const RunContext&)> area;
    /// Set beside area for a step that takes light from where its Where says and may bring it elsewhere: its result
    /// stands everywhere. share: the Where, with one channel or the picture's.
    std::function<WorkingFrame(const WorkingFrame&, const Settings&, const Image& share,
                               const RunContext&)>
        areaFromWhere;
    /// Whether it works by the frame's time, FrameContext::time; unset: it never does.
    std::function<bool(const Settings&)> readsTime;
    /// What is worth knowing about its input though it runs, whole sentences; unset: nothing. Asked at every evaluation,
    /// so it looks at no more than it needs.
    std::function<std::vector<std::string>(const Settings&, const FrameContext&)> notices;
    CarryFunction carry;  ///< set for steps that move light
    /// Beside carry, for a step after which the picture's places are others: where a pass is then, by the nearest samples.
    std::function<Image(const Image& pass, const Settings&)> movesPasses;
    OrderRule notBefore;
};

/// Declares a step by its plain settings struct; see any file of core/steps for how it reads.
template <typename S> class StepBuilder : public DeclarationBuilder<StepBuilder<S>, S, StepType> {
    using Base = DeclarationBuilder<StepBuilder<S>, S, StepType>;

public:
    StepBuilder(std::string id, std::string label) : Base(std::move(id), std::move(label)) {}

    StepBuilder& phase(Phase phase) {
        this->m_type.phase = phase;
        return *this;
    }
    StepBuilder& focusedBy(std::string parameter) {
        this->m_type.focusParameter = std::move(parameter);
        return *this;
    }
    /// As StepType::readsTime.
    StepBuilder& readsTime(std::function<bool(const S&)> whether) {
        return this->late([whether = std::move(whether)](StepType& type, const auto& bind) {
            type.readsTime = [bind, whether](const Settings& s) { return whether(bind(s)); };
        });
    }
    /// As StepType::notices.
    StepBuilder&
    notices(std::function<std::vector<std::string>(const S&, const FrameContext&)> look) {
        return this->late([look = std::move(look)](StepType& type, const auto& bind) {
            type.notices = [bind, look](const Settings& s, const FrameContext& context) {
                return look(bind(s), context);
            };
        });
    }
    StepBuilder& notBefore(std::vector<std::string> types, std::string why) {
        this->m_type.notBefore = {std::move(types), std::move(why)};
        return *this;
    }
    StepBuilder& writes(std::vector<PassName> passes) {
        this->m_type.writes = std::move(passes);
        return *this;
    }
    StepBuilder& point(std::function<PointFunction(const S&, const WorkingFrame&)> make) {
        return pointPrepared(
            [make = std::move(make)](const S& s, const WorkingFrame& frame, const RunContext&) {
                return make(s, frame);
            });
    }
    /// Where preparing takes time; it stops when run.stop is requested.
    StepBuilder& pointPrepared(
        std::function<PointFunction(const S&, const WorkingFrame&, const RunContext&)> make) {
        return this->late([make = std::move(make)](StepType& type, const auto& bind) {
            type.point = [bind, make](const Settings& s, const WorkingFrame& frame,
                                      const RunContext& run) { return make(bind(s), frame, run); };
        });
    }
    StepBuilder&
    area(std::function<WorkingFrame(const WorkingFrame&, const S&, const RunContext&)> work) {
        return this->late([work = std::move(work)](StepType& type, const auto& bind) {
            type.area = [bind, work](const WorkingFrame& frame, const Settings& s,
                                     const RunContext& run) { return work(frame, bind(s), run); };
        });
    }
    /// As StepType::areaFromWhere.
    StepBuilder& areaFromWhere(
        std::function<WorkingFrame(const WorkingFrame&, const S&, const Image&, const RunContext&)>
            work) {
        area([work](const WorkingFrame& frame, const S& s, const RunContext& run) {
            return work(frame, s, {}, run);
        });
        return this->late([work = std::move(work)](StepType& type, const auto& bind) {
            type.areaFromWhere = [bind, work](const WorkingFrame& frame, const Settings& s,
                                              const Image& share, const RunContext& run) {
                return work(frame, bind(s), share, run);
            };
        });
    }
    /// As StepType::movesPasses.
    StepBuilder& movesPasses(std::function<Image(const Image&, const S&)> work) {
        return this->late([work = std::move(work)](StepType& type, const auto& bind) {
            type.movesPasses = [bind, work](const Image& pass, const Settings& s) {
                return work(pass, bind(s));
            };
        });
    }
    /// For steps that move light; as CarryFunction.
    StepBuilder& carries(
        std::function<Image(const WorkingFrame&, const S&, const CarriedMask&, const RunContext&)>
            work) {
        return this->late([work = std::move(work)](StepType& type, const auto& bind) {
            type.carry = [bind, work](const WorkingFrame& frame, const Settings& s,
                                      const CarriedMask& mask, const RunContext& run) {
                return work(frame, bind(s), mask, run);
            };
        });
    }
};

}  // namespace noctis
