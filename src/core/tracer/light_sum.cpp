#include "core/tracer/light_sum.h"

#include "core/tracer/light_places.h"

#include <algorithm>
#include <cstddef>

namespace noctis {

namespace {

constexpr int kRgb = 3;

/// One term of a sum that is beauty: light, times a colour where it was divided by one.
struct Term {
    Pass* light = nullptr;
    const Pass* colour = nullptr;
};

Pass* passOf(PassSet& set, const PassName& name) {
    return set.find(std::string_view(nameOf(name)));
}

/// Empty if one is missing.
std::vector<Term> groupTerms(PassSet& set, const std::vector<std::string>& groups) {
    std::vector<Term> terms;
    for (const std::string& group : groups) {
        terms.push_back({passOf(set, {PassKind::Light, group})});
        if (terms.back().light == nullptr)
            return {};
    }
    return terms;
}

std::vector<Term> partTerms(PassSet& set) {
    std::vector<Term> terms;
    for (const LightPlace& place : kLightPlaces) {
        if (place.part < 0)
            continue;
        Term term{passOf(set, {place.kind, {}})};
        if (place.colour >= 0) {
            const auto* colour = std::find_if(
                kLightPlaces.begin(), kLightPlaces.end(), [&](const LightPlace& other) {
                    return other.part < 0 && other.colour == place.colour;
                });
            term.colour = passOf(set, {colour->kind, {}});
        }
        if (term.light == nullptr || (place.colour >= 0 && term.colour == nullptr))
            return {};
        terms.push_back(term);
    }
    return terms;
}

void scaleTo(const Image& beauty, const std::vector<Term>& terms) {
    for (int c = 0; c < kRgb && !terms.empty(); ++c) {
        const float* whole = beauty.plane(c);
        std::vector<float*> light;
        for (const Term& term : terms)
            light.push_back(term.light->image.editPlane(c));
        for (std::ptrdiff_t i = 0; i < beauty.rowStride() * beauty.height(); ++i) {
            double sum = 0.0;
            for (std::size_t t = 0; t < terms.size(); ++t) {
                const Pass* colour = terms[t].colour;
                sum += static_cast<double>(light[t][i]) *
                       static_cast<double>(colour != nullptr ? colour->image.plane(c)[i] : 1.0F);
            }
            if (!(sum > 0.0))
                continue;
            const auto scale = static_cast<float>(static_cast<double>(whole[i]) / sum);
            for (float* plane : light)
                plane[i] *= scale;
        }
    }
}

}  // namespace

void makeLightAddUp(PassSet& set, const std::vector<std::string>& groups) {
    const Pass* beauty = set.find(PassKind::Beauty);
    if (beauty == nullptr)
        return;
    scaleTo(beauty->image, groupTerms(set, groups));
    scaleTo(beauty->image, partTerms(set));
}

}  // namespace noctis
