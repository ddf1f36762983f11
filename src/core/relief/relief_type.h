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

/// What an operation can read besides the field.
struct OperationContext {
    const ReliefInput& input;
    /// Full size over working size: more than 1 during a drag.
    int factor = 1;
    /// How much of each cell its Where covers, 0..1; empty: everywhere. For what limits itself.
    Image mask{};
};

/// A kind of operation: what is done to heights.
struct OperationType : Declaration {
    bool limitsItself =
        false;  ///< it applies its Where itself; others are blended with their input
    std::function<HeightField(const HeightField&, const Settings&, const OperationContext&,
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
class OperationBuilder : public DeclarationBuilder<OperationBuilder<S>, S, OperationType> {
    using Base = DeclarationBuilder<OperationBuilder<S>, S, OperationType>;

public:
    using Work = std::function<HeightField(const HeightField&, const S&, const OperationContext&,
                                           const RunContext&)>;
    OperationBuilder(std::string id, std::string label) : Base(std::move(id), std::move(label)) {}
    OperationBuilder& limitsItself() {
        this->m_type.limitsItself = true;
        return *this;
    }
    OperationBuilder& apply(Work work) {
        return this->late([work = std::move(work)](OperationType& type, const auto& bind) {
            type.apply = [bind, work](const HeightField& field, const Settings& s,
                                      const OperationContext& context, const RunContext& run) {
                return work(field, bind(s), context, run);
            };
        });
    }
    /// An operation that needs only heights.
    OperationBuilder& apply(std::function<HeightField(const HeightField&, const S&)> work) {
        return apply([work = std::move(work)](const HeightField& field, const S& s,
                                              const OperationContext&,
                                              const RunContext&) { return work(field, s); });
    }
};

}  // namespace noctis
