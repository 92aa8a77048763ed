// The step gives the same bits on every machine, since it is made of + - * / and square roots of
// doubles, each rounded once. Compilers can be reported otherwise: here our own sources refuse what
// they can see of that. What other code of a program is compiled with makes no difference.
#pragma once

#include <cfloat>

#if defined(__clang__)
#pragma STDC FP_CONTRACT OFF
#elif defined(_MSC_VER)
#pragma fp_contract(off)
#endif

#if defined(__FAST_MATH__) || defined(__ASSOCIATIVE_MATH__) || defined(__RECIPROCAL_MATH__) || \
    defined(__NO_SIGNED_ZEROS__) || defined(_M_FP_FAST) ||                                     \
    (defined(__FINITE_MATH_ONLY__) && __FINITE_MATH_ONLY__ != 0)
#error "compile Bushbaby without -ffast-math and its parts: they change the bits of a step"
#endif

// 1 widens floats only; 2 is the old floating-point unit of 32-bit x86; below 0 nobody knows.
#if FLT_EVAL_METHOD == 2 || FLT_EVAL_METHOD < 0
#error "compile Bushbaby so that doubles are rounded to doubles: on 32-bit x86, -msse2 -mfpmath=sse"
#endif
