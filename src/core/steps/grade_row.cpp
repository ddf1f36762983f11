#include "core/steps/grade_row.h"

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/grade_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include "core/steps/row_vectors-inl.h"

#include <hwy/contrib/math/math-inl.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

/// |x|^power with the sign of x; 0 stays 0.
HWY_INLINE V signedPower(D d, V x, float power) {
    const V size = hn::Max(hn::Abs(x), hn::Set(d, 1e-30F));
    const V raised = hn::Exp(d, hn::Mul(hn::Log(d, size), hn::Set(d, power)));
    return hn::IfThenElse(hn::Eq(x, hn::Zero(d)), hn::Zero(d), hn::CopySign(raised, x));
}

struct Colour {
    V c[3];
};

HWY_INLINE void gradeVector(D d, const GradeRow& grade, Colour& v) {
    if (grade.gain != 1.0F)
        for (V& c : v.c)
            c = hn::Mul(c, hn::Set(d, grade.gain));
    if (grade.balances) {
        Colour out;
        for (int i = 0; i < 3; ++i)
            out.c[i] = hn::MulAdd(v.c[0], hn::Set(d, grade.balance[i][0]),
                                  hn::MulAdd(v.c[1], hn::Set(d, grade.balance[i][1]),
                                             hn::Mul(v.c[2], hn::Set(d, grade.balance[i][2]))));
        v = out;
    }
    for (V& c : v.c) {
        if (grade.ranges)
            c = hn::Mul(hn::Sub(c, hn::Set(d, grade.black)), hn::Set(d, grade.perRange));
        if (grade.power != 1.0F)
            c = signedPower(d, c, grade.power);
        if (grade.contrast != 1.0F)
            c = hn::Mul(signedPower(d, hn::Mul(c, hn::Set(d, 1.0F / grade.pivot)), grade.contrast),
                        hn::Set(d, grade.pivot));
    }
    if (grade.saturation != 1.0F) {
        const V light = hn::MulAdd(
            v.c[0], hn::Set(d, 0.2126F),
            hn::MulAdd(v.c[1], hn::Set(d, 0.7152F), hn::Mul(v.c[2], hn::Set(d, 0.0722F))));
        for (V& c : v.c)
            c = hn::MulAdd(hn::Sub(c, light), hn::Set(d, grade.saturation), light);
    }
}

void gradeRowSimd(const GradeRow& grade, const float* alpha, float* r, float* g, float* b,
                  int count) {
    const auto work = [&](int, const float*, const float* covered, float* red, float* green,
                          float* blue) {
        const D d;
        Colour v{{hn::LoadU(d, red), hn::LoadU(d, green), hn::LoadU(d, blue)}};
        const V one = hn::Set(d, 1.0F);
        V a = one;
        if (covered != nullptr) {
            // Tones are those of the straight colour.
            a = hn::LoadU(d, covered);
            const V by = hn::IfThenElse(hn::Gt(a, hn::Zero(d)), hn::Div(one, a), one);
            for (V& c : v.c)
                c = hn::Mul(c, by);
        }
        gradeVector(d, grade, v);
        if (covered != nullptr)
            for (V& c : v.c)
                c = hn::Mul(c, a);
        hn::StoreU(v.c[0], d, red);
        hn::StoreU(v.c[1], d, green);
        hn::StoreU(v.c[2], d, blue);
    };
    // No pass is read; the red plane stands in for one.
    overRow(r, alpha, r, g, b, count, work);
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

HWY_EXPORT(gradeRowSimd);

void gradeRow(const GradeRow& grade, const float* alpha, float* r, float* g, float* b,
              int count) noexcept {
    const bool neutral = grade.gain == 1.0F && !grade.balances && !grade.ranges &&
                         grade.power == 1.0F && grade.contrast == 1.0F && grade.saturation == 1.0F;
    if (!neutral)
        HWY_DYNAMIC_DISPATCH(gradeRowSimd)(grade, alpha, r, g, b, count);
}

}  // namespace noctis
#endif
