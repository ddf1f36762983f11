#include "core/criteria/criteria.h"
#include "core/criteria/masking.h"
#include "core/passes/matte.h"

#include <bit>
#include <cmath>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

namespace {

struct MatteSettings {
    NameList names;
};

/// The shares of all names together.
MaskFunction sharesOf(const NameList& names, const Image& matte) {
    std::vector<std::uint32_t> ids;
    for (const std::string& name : names)
        ids.push_back(matteId(name));
    return [ids, matte](const MaskRow& row) {
        std::fill_n(row.mask, row.count, 0.0F);
        for (int rank = 0; rank + 1 < matte.channels(); rank += 2) {
            const float* id = matte.row(rank, row.y) + row.x;
            const float* share = matte.row(rank + 1, row.y) + row.x;
            for (int i = 0; i < row.count; ++i)
                for (const std::uint32_t wanted : ids)
                    if (std::bit_cast<std::uint32_t>(id[i]) == wanted && share[i] > 0.0F)
                        row.mask[i] = std::min(1.0F, row.mask[i] + share[i]);
        }
    };
}

CriterionType matteCriterion(const char* id, const char* label, PassKind kind, TextUse use,
                             const char* help) {
    using S = MatteSettings;
    return CriterionBuilder<S>(id, label)
        .help(help)
        .names(&S::names, "names", "Names", use, "The names to include.")
        .reads(kind, "what covers each pixel")
        .summary([](const S& s) {
            if (s.names.size() > 2)
                return fmt::format("{} and {} more", s.names.front(), s.names.size() - 1);
            return s.names.empty() ? std::string("nothing yet")
                                   : fmt::format("{}", fmt::join(s.names, " and "));
        })
        .preset("None", {{"names", NameList{}}})
        .point([kind](const S& s, const WorkingFrame& frame) {
            return sharesOf(s.names, frame.pass(kind));
        })
        .build();
}

struct IdColourSettings {
    std::string pass;
    LinearRgb colour{1.0F, 0.0F, 0.0F};
    float within = 0.05F;
};

}  // namespace

CriterionType objectsCriterion() {
    return matteCriterion("objects", "Objects", PassKind::Objects, TextUse::Objects,
                          "By the objects' names.");
}

CriterionType materialsCriterion() {
    return matteCriterion("materials", "Materials", PassKind::Materials, TextUse::Materials,
                          "By the materials' names.");
}

CriterionType groupsCriterion() {
    return matteCriterion("groups", "Groups", PassKind::Groups, TextUse::Groups,
                          "By the groups' names.");
}

CriterionType idColourCriterion() {
    using S = IdColourSettings;
    return CriterionBuilder<S>("id_colour", "ID colour")
        .help("By a colour in a pass that paints each thing in a flat colour of its own.")
        .text(&S::pass, "pass", "Pass", TextUse::Passes, "The pass with the flat colours.")
        .colour(&S::colour, "colour", "Colour", "The thing's colour.")
        .number(&S::within, "within", "Within", Unit::None, {0.0F, 2.0F, 0.5F},
                "How far a colour may differ from it, in linear values.")
        .reads([](const S& s) {
            return std::vector<PassNeed>{needed(
                passNamed(s.pass).value_or(PassName{PassKind::Colour, s.pass}), "flat colours")};
        })
        .summary([](const S& s) { return s.pass.empty() ? "no pass yet" : s.pass; })
        .preset("Close", {{"within", 0.02F}})
        .point([](const S& s, const WorkingFrame& frame) -> MaskFunction {
            const Image ids =
                frame.pass(passNamed(s.pass).value_or(PassName{PassKind::Colour, s.pass}));
            const int last = ids.channels() - 1;
            return [ids, last, s](const MaskRow& row) {
                for (int i = 0; i < row.count; ++i) {
                    const int x = row.x + i;
                    const V3f away(ids(x, row.y, 0) - s.colour.r,
                                   ids(x, row.y, std::min(1, last)) - s.colour.g,
                                   ids(x, row.y, std::min(2, last)) - s.colour.b);
                    row.mask[i] = away.length() <= s.within ? 1.0F : 0.0F;
                }
            };
        })
        .build();
}

}  // namespace noctis
