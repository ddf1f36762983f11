#pragma once

#include "core/image/run_context.h"
#include "core/recipe/declaration.h"
#include "core/recipe/working_frame.h"

#include <functional>

namespace noctis {

/// A run of pixels of one row of a mask.
struct MaskRow {
    float* mask;     ///< to fill, 0..1
    const float* r;  ///< the step's input; none where the criterion doesn't read it
    const float* g;
    const float* b;
    int x;
    int y;
    int count;
    int channel = 0;  ///< of the picture that the mask is for: a mask behind the lens differs by it
};

/// A criterion prepared for a frame.
using MaskFunction = std::function<void(const MaskRow&)>;

/// The families of criteria; menus group them.
enum class CriterionFamily { InScene, ByName, ByValue, Drawn };

/// A kind of criterion of a Where.
struct CriterionType : Declaration {
    CriterionFamily family = CriterionFamily::InScene;
    bool readsInput = false;  ///< the colour of the step's input
    /// One of the two is set: per pixel, or a whole mask of the frame's size, one channel.
    std::function<MaskFunction(const Settings&, const WorkingFrame&)> point;
    std::function<Image(const Settings&, const WorkingFrame&, const RunContext&)> area;
};

/// Declares a criterion by its plain settings struct; see any file of core/criteria.
template <typename S>
class CriterionBuilder : public DeclarationBuilder<CriterionBuilder<S>, S, CriterionType> {
    using Base = DeclarationBuilder<CriterionBuilder<S>, S, CriterionType>;

public:
    CriterionBuilder(std::string id, std::string label) : Base(std::move(id), std::move(label)) {}

    CriterionBuilder& point(std::function<MaskFunction(const S&, const WorkingFrame&)> make) {
        return this->late([make = std::move(make)](CriterionType& type, const auto& bind) {
            type.point = [bind, make](const Settings& s, const WorkingFrame& frame) {
                return make(bind(s), frame);
            };
        });
    }
    /// By the colour of the step's input.
    CriterionBuilder& input(std::function<MaskFunction(const S&)> make) {
        this->m_type.readsInput = true;
        return point([make = std::move(make)](const S& s, const WorkingFrame&) { return make(s); });
    }
    CriterionBuilder&
    area(std::function<Image(const S&, const WorkingFrame&, const RunContext&)> work) {
        return this->late([work = std::move(work)](CriterionType& type, const auto& bind) {
            type.area = [bind, work](const Settings& s, const WorkingFrame& frame,
                                     const RunContext& run) { return work(bind(s), frame, run); };
        });
    }
};

}  // namespace noctis
