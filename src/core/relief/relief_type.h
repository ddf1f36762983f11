#pragma once

#include "core/recipe/declaration.h"
#include "core/relief/height_field.h"
#include "core/relief/relief_input.h"

#include <functional>

namespace noctis {

/// A kind of source: how heights come from what was measured.
struct ReliefSourceType : Declaration {
    std::function<HeightField(const ReliefInput&, const Settings&, const RunContext&)> make;
    /// Whether the input has what it needs; computes nothing.
    std::function<bool(const ReliefInput&)> suits;
};

/// What a shaping can read besides the field.
struct ShapingContext {
    const ReliefInput& input;
    /// Full size over working size: more than 1 during a drag.
    int factor = 1;
    /// How much of each cell its Where covers, 0..1; empty: everywhere. For what limits itself.
    Image mask{};
};

/// A kind of shaping: what is done to heights.
struct ShapingType : Declaration {
    bool limitsItself =
        false;  ///< it applies its Where itself; others are blended with their input
    std::function<HeightField(const HeightField&, const Settings&, const ShapingContext&,
                              const RunContext&)>
        apply;
};

template <typename S>
class ReliefSourceBuilder : public DeclarationBuilder<ReliefSourceBuilder<S>, S, ReliefSourceType> {
    using Base = DeclarationBuilder<ReliefSourceBuilder<S>, S, ReliefSourceType>;

public:
    ReliefSourceBuilder(std::string id, std::string label)
        : Base(std::move(id), std::move(label)) {}
    ReliefSourceBuilder& suits(std::function<bool(const ReliefInput&)> suits) {
        this->m_type.suits = std::move(suits);
        return *this;
    }
    ReliefSourceBuilder&
    make(std::function<HeightField(const ReliefInput&, const S&, const RunContext&)> work) {
        return this->late([work = std::move(work)](ReliefSourceType& type, const auto& bind) {
            type.make = [bind, work](const ReliefInput& input, const Settings& s,
                                     const RunContext& run) { return work(input, bind(s), run); };
        });
    }
};

template <typename S>
class ShapingBuilder : public DeclarationBuilder<ShapingBuilder<S>, S, ShapingType> {
    using Base = DeclarationBuilder<ShapingBuilder<S>, S, ShapingType>;

public:
    using Work = std::function<HeightField(const HeightField&, const S&, const ShapingContext&,
                                           const RunContext&)>;
    ShapingBuilder(std::string id, std::string label) : Base(std::move(id), std::move(label)) {}
    ShapingBuilder& limitsItself() {
        this->m_type.limitsItself = true;
        return *this;
    }
    ShapingBuilder& apply(Work work) {
        return this->late([work = std::move(work)](ShapingType& type, const auto& bind) {
            type.apply = [bind, work](const HeightField& field, const Settings& s,
                                      const ShapingContext& context, const RunContext& run) {
                return work(field, bind(s), context, run);
            };
        });
    }
    /// A shaping that needs only heights.
    ShapingBuilder& apply(std::function<HeightField(const HeightField&, const S&)> work) {
        return apply([work = std::move(work)](const HeightField& field, const S& s,
                                              const ShapingContext&,
                                              const RunContext&) { return work(field, s); });
    }
};

}  // namespace noctis
