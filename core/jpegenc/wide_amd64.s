#include "textflag.h"

// The sums of red, green and blue, as strip.go has them: luma, blue and red, three each.
DATA sums<>+0x00(SB)/4, $19595
DATA sums<>+0x04(SB)/4, $38470
DATA sums<>+0x08(SB)/4, $7471
DATA sums<>+0x0c(SB)/4, $-11058
DATA sums<>+0x10(SB)/4, $-21710
DATA sums<>+0x14(SB)/4, $32768
DATA sums<>+0x18(SB)/4, $32768
DATA sums<>+0x1c(SB)/4, $-27439
DATA sums<>+0x20(SB)/4, $-5329
GLOBL sums<>(SB), RODATA|NOPTR, $36

// Numbers that are needed everywhere in a register: 2 to the power of −16 and of −18, 128; what
// rounds, as quantise has it, and the most steps; the products of the transform.
DATA numbers<>+0x00(SB)/4, $0x37800000
DATA numbers<>+0x04(SB)/4, $0x36800000
DATA numbers<>+0x08(SB)/4, $128.0
DATA numbers<>+0x0c(SB)/4, $16384.5
DATA numbers<>+0x10(SB)/4, $16384
DATA numbers<>+0x14(SB)/4, $0x03ff03ff
DATA numbers<>+0x18(SB)/4, $0xfc01fc01
DATA numbers<>+0x1c(SB)/4, $0.70710678118654752
DATA numbers<>+0x20(SB)/4, $0.38268343236508977
DATA numbers<>+0x24(SB)/4, $0.54119610014619698
DATA numbers<>+0x28(SB)/4, $1.30656296487637652
DATA numbers<>+0x2c(SB)/4, $1.41421356237309504
DATA numbers<>+0x30(SB)/4, $1.84775906502257351
DATA numbers<>+0x34(SB)/4, $2.61312592975275306
DATA numbers<>+0x38(SB)/4, $1.08239220029239397
DATA numbers<>+0x3c(SB)/4, $-128.0
DATA numbers<>+0x40(SB)/4, $127.0
DATA numbers<>+0x44(SB)/4, $0.5
DATA numbers<>+0x48(SB)/4, $1.0
GLOBL numbers<>(SB), RODATA|NOPTR, $76

// Red, green and blue of eight pixels, which are in the first register.
#define CHANNELS(r, g, b) \
	VPSRLD $8, r, g \
	VPSRLD $16, r, b \
	VPAND Y15, r, r \
	VPAND Y15, g, g \
	VPAND Y15, b, b

// One of the sums, the one that begins at.
#define SUM(at, r, g, b, t, to) \
	VPBROADCASTD sums<>+at(SB), t \
	VPMULLD r, t, to \
	VPBROADCASTD sums<>+at+4(SB), t \
	VPMULLD g, t, t \
	VPADDD t, to, to \
	VPBROADCASTD sums<>+at+8(SB), t \
	VPMULLD b, t, t \
	VPADDD t, to, to

// A sum of luma, as it is written to memory.
#define LUMA(r, g, b, t, to, memory) \
	SUM(0, r, g, b, t, to) \
	VCVTDQ2PS to, to \
	VMULPS Y14, to, to \
	VSUBPS Y13, to, to \
	VMOVUPS to, memory

// func singlesWide(row *byte, luma, blue, red *float32, n int)
TEXT ·singlesWide(SB), NOSPLIT, $0-40
	MOVQ row+0(FP), SI
	MOVQ luma+8(FP), DI
	MOVQ blue+16(FP), R8
	MOVQ red+24(FP), R9
	MOVQ n+32(FP), CX
	VPCMPEQD Y15, Y15, Y15
	VPSRLD $24, Y15, Y15
	VBROADCASTSS numbers<>+0x00(SB), Y14
	VBROADCASTSS numbers<>+0x08(SB), Y13

pixels:
	VMOVDQU (SI), Y0
	CHANNELS(Y0, Y1, Y2)
	LUMA(Y0, Y1, Y2, Y3, Y4, (DI))
	SUM(0x0c, Y0, Y1, Y2, Y3, Y5)
	SUM(0x18, Y0, Y1, Y2, Y3, Y6)
	VCVTDQ2PS Y5, Y5
	VCVTDQ2PS Y6, Y6
	VMULPS Y14, Y5, Y5
	VMULPS Y14, Y6, Y6
	VMOVUPS Y5, (R8)
	VMOVUPS Y6, (R9)
	ADDQ $32, SI
	ADDQ $32, DI
	ADDQ $32, R8
	ADDQ $32, R9
	SUBQ $8, CX
	JNZ pixels
	VZEROUPPER
	RET

// func quadsWide(top, bottom *byte, upper, lower, blue, red *float32, n int)
TEXT ·quadsWide(SB), NOSPLIT, $0-56
	MOVQ top+0(FP), SI
	MOVQ bottom+8(FP), DX
	MOVQ upper+16(FP), DI
	MOVQ lower+24(FP), R10
	MOVQ blue+32(FP), R8
	MOVQ red+40(FP), R9
	MOVQ n+48(FP), CX
	VPCMPEQD Y15, Y15, Y15
	VPSRLD $24, Y15, Y15
	VBROADCASTSS numbers<>+0x00(SB), Y14
	VBROADCASTSS numbers<>+0x08(SB), Y13
	VBROADCASTSS numbers<>+0x04(SB), Y12

pixels:
	VMOVDQU (SI), Y0
	VMOVDQU (DX), Y3
	CHANNELS(Y0, Y1, Y2)
	CHANNELS(Y3, Y4, Y5)
	LUMA(Y0, Y1, Y2, Y6, Y7, (DI))
	LUMA(Y3, Y4, Y5, Y6, Y7, (R10))
	VPADDD Y3, Y0, Y0
	VPADDD Y4, Y1, Y1
	VPADDD Y5, Y2, Y2
	SUM(0x0c, Y0, Y1, Y2, Y6, Y7)
	SUM(0x18, Y0, Y1, Y2, Y6, Y8)
	VPHADDD Y8, Y7, Y7
	VPERMQ $0xD8, Y7, Y7 // four of blue, four of red
	VCVTDQ2PS Y7, Y7
	VMULPS Y12, Y7, Y7
	VMOVUPS X7, (R8)
	VEXTRACTF128 $1, Y7, (R9)
	ADDQ $32, SI
	ADDQ $32, DX
	ADDQ $32, DI
	ADDQ $32, R10
	ADDQ $16, R8
	ADDQ $16, R9
	SUBQ $8, CX
	JNZ pixels
	VZEROUPPER
	RET

// Four columns of eight rows. The first row is at, the fifth at at5; rows lie step and three steps on.
#define COLUMNS(at, at5, step, step3, half, c0, c1, c2, c3) \
	VMOVUPS half(at), X8 \
	VMOVUPS half(at)(step*1), X9 \
	VMOVUPS half(at)(step*2), X10 \
	VMOVUPS half(at)(step3*1), X11 \
	VINSERTF128 $1, half(at5), Y8, Y8 \
	VINSERTF128 $1, half(at5)(step*1), Y9, Y9 \
	VINSERTF128 $1, half(at5)(step*2), Y10, Y10 \
	VINSERTF128 $1, half(at5)(step3*1), Y11, Y11 \
	VUNPCKLPS Y9, Y8, Y12 \
	VUNPCKHPS Y9, Y8, Y13 \
	VUNPCKLPS Y11, Y10, Y14 \
	VUNPCKHPS Y11, Y10, Y15 \
	VSHUFPS $0x44, Y14, Y12, c0 \
	VSHUFPS $0xEE, Y14, Y12, c1 \
	VSHUFPS $0x44, Y15, Y13, c2 \
	VSHUFPS $0xEE, Y15, Y13, c3

// Eight values in Y0 to Y7 are transformed, as eight does it, and written to rows at DI.
#define EIGHT \
	VADDPS Y7, Y0, Y8 \
	VSUBPS Y7, Y0, Y0 \
	VADDPS Y6, Y1, Y9 \
	VSUBPS Y6, Y1, Y1 \
	VADDPS Y5, Y2, Y10 \
	VSUBPS Y5, Y2, Y2 \
	VADDPS Y4, Y3, Y11 \
	VSUBPS Y4, Y3, Y3 \
	VADDPS Y11, Y8, Y4 \
	VSUBPS Y11, Y8, Y8 \
	VADDPS Y10, Y9, Y5 \
	VSUBPS Y10, Y9, Y9 \
	VBROADCASTSS numbers<>+0x1c(SB), Y14 \
	VADDPS Y8, Y9, Y9 \
	VMULPS Y14, Y9, Y9 \
	VADDPS Y5, Y4, Y10 \
	VMOVUPS Y10, (DI) \
	VSUBPS Y5, Y4, Y11 \
	VMOVUPS Y11, 128(DI) \
	VADDPS Y9, Y8, Y12 \
	VMOVUPS Y12, 64(DI) \
	VSUBPS Y9, Y8, Y13 \
	VMOVUPS Y13, 192(DI) \
	VADDPS Y2, Y3, Y3 \
	VADDPS Y1, Y2, Y2 \
	VADDPS Y0, Y1, Y1 \
	VMULPS Y14, Y2, Y2 \
	VBROADCASTSS numbers<>+0x20(SB), Y15 \
	VSUBPS Y1, Y3, Y4 \
	VMULPS Y15, Y4, Y4 \
	VBROADCASTSS numbers<>+0x24(SB), Y15 \
	VMULPS Y15, Y3, Y3 \
	VADDPS Y4, Y3, Y3 \
	VBROADCASTSS numbers<>+0x28(SB), Y15 \
	VMULPS Y15, Y1, Y1 \
	VADDPS Y4, Y1, Y1 \
	VADDPS Y2, Y0, Y5 \
	VSUBPS Y2, Y0, Y6 \
	VADDPS Y3, Y6, Y7 \
	VMOVUPS Y7, 160(DI) \
	VSUBPS Y3, Y6, Y6 \
	VMOVUPS Y6, 96(DI) \
	VADDPS Y1, Y5, Y8 \
	VMOVUPS Y8, 32(DI) \
	VSUBPS Y1, Y5, Y5 \
	VMOVUPS Y5, 224(DI)

// func forwardWide(b *[64]float32, from *float32, step int)
//
// The rows of the block are transformed, which lays them on their side, then its columns.
TEXT ·forwardWide(SB), NOSPLIT, $0-24
	MOVQ b+0(FP), DI
	MOVQ from+8(FP), SI
	MOVQ step+16(FP), R8
	SHLQ $2, R8
	LEAQ (R8)(R8*2), R9
	LEAQ (SI)(R8*4), DX
	COLUMNS(SI, DX, R8, R9, 0, Y0, Y1, Y2, Y3)
	COLUMNS(SI, DX, R8, R9, 16, Y4, Y5, Y6, Y7)
	EIGHT
	MOVQ $32, R8
	MOVQ $96, R9
	LEAQ 128(DI), DX
	COLUMNS(DI, DX, R8, R9, 0, Y0, Y1, Y2, Y3)
	COLUMNS(DI, DX, R8, R9, 16, Y4, Y5, Y6, Y7)
	EIGHT
	VZEROUPPER
	RET

// Eight coefficients in Y0 to Y7 are taken back, as back does it, and written to rows at DI.
#define BACK \
	VADDPS Y4, Y0, Y8 \
	VSUBPS Y4, Y0, Y9 \
	VADDPS Y6, Y2, Y10 \
	VSUBPS Y6, Y2, Y11 \
	VBROADCASTSS numbers<>+0x2c(SB), Y15 \
	VMULPS Y15, Y11, Y11 \
	VSUBPS Y10, Y11, Y11 \
	VADDPS Y10, Y8, Y0 /* e0 */ \
	VSUBPS Y10, Y8, Y2 /* e3 */ \
	VADDPS Y11, Y9, Y4 /* e1 */ \
	VSUBPS Y11, Y9, Y6 /* e2 */ \
	VADDPS Y3, Y5, Y8 /* s53 */ \
	VSUBPS Y3, Y5, Y9 /* m53 */ \
	VADDPS Y7, Y1, Y10 /* s17 */ \
	VSUBPS Y7, Y1, Y11 /* m17 */ \
	VADDPS Y8, Y10, Y1 /* f7 */ \
	VADDPS Y11, Y9, Y3 \
	VBROADCASTSS numbers<>+0x30(SB), Y14 \
	VMULPS Y14, Y3, Y3 /* z */ \
	VBROADCASTSS numbers<>+0x34(SB), Y14 \
	VMULPS Y14, Y9, Y9 \
	VSUBPS Y9, Y3, Y5 \
	VSUBPS Y1, Y5, Y5 /* f6 */ \
	VSUBPS Y8, Y10, Y7 \
	VMULPS Y15, Y7, Y7 \
	VSUBPS Y5, Y7, Y7 /* f5 */ \
	VBROADCASTSS numbers<>+0x38(SB), Y14 \
	VMULPS Y14, Y11, Y11 \
	VSUBPS Y11, Y3, Y3 \
	VSUBPS Y7, Y3, Y3 /* f4 */ \
	VADDPS Y1, Y0, Y8 \
	VMOVUPS Y8, (DI) \
	VSUBPS Y1, Y0, Y9 \
	VMOVUPS Y9, 224(DI) \
	VADDPS Y5, Y4, Y10 \
	VMOVUPS Y10, 32(DI) \
	VSUBPS Y5, Y4, Y11 \
	VMOVUPS Y11, 192(DI) \
	VADDPS Y7, Y6, Y12 \
	VMOVUPS Y12, 64(DI) \
	VSUBPS Y7, Y6, Y13 \
	VMOVUPS Y13, 160(DI) \
	VADDPS Y3, Y2, Y14 \
	VMOVUPS Y14, 96(DI) \
	VSUBPS Y3, Y2, Y15 \
	VMOVUPS Y15, 128(DI)

// A row of pixels: within −128 and 127, rounded, halves up, and written to memory.
#define WHOLE(y, memory) \
	VMAXPS Y12, y, y \
	VMINPS Y13, y, y \
	VROUNDPS $1, y, Y8 \
	VSUBPS Y8, y, Y9 \
	VCMPPS $13, Y14, Y9, Y9 /* not less than a half */ \
	VANDPS Y15, Y9, Y9 \
	VADDPS Y9, Y8, Y8 \
	VMOVUPS Y8, memory

// func valuesWide(b *[64]float32)
//
// The columns of coefficients are taken back, then the rows, which are laid on their side for it.
TEXT ·valuesWide(SB), NOSPLIT, $0-8
	MOVQ b+0(FP), DI
	VMOVUPS 0(DI), Y0
	VMOVUPS 32(DI), Y1
	VMOVUPS 64(DI), Y2
	VMOVUPS 96(DI), Y3
	VMOVUPS 128(DI), Y4
	VMOVUPS 160(DI), Y5
	VMOVUPS 192(DI), Y6
	VMOVUPS 224(DI), Y7
	BACK
	MOVQ $32, R8
	MOVQ $96, R9
	LEAQ 128(DI), DX
	COLUMNS(DI, DX, R8, R9, 0, Y0, Y1, Y2, Y3)
	COLUMNS(DI, DX, R8, R9, 16, Y4, Y5, Y6, Y7)
	BACK
	COLUMNS(DI, DX, R8, R9, 0, Y0, Y1, Y2, Y3)
	COLUMNS(DI, DX, R8, R9, 16, Y4, Y5, Y6, Y7)
	VBROADCASTSS numbers<>+0x3c(SB), Y12
	VBROADCASTSS numbers<>+0x40(SB), Y13
	VBROADCASTSS numbers<>+0x44(SB), Y14
	VBROADCASTSS numbers<>+0x48(SB), Y15
	WHOLE(Y0, (DI))
	WHOLE(Y1, 32(DI))
	WHOLE(Y2, 64(DI))
	WHOLE(Y3, 96(DI))
	WHOLE(Y4, 128(DI))
	WHOLE(Y5, 160(DI))
	WHOLE(Y6, 192(DI))
	WHOLE(Y7, 224(DI))
	VZEROUPPER
	RET

// Eight coefficients of the order at, in steps; their nothings are told in bits.
#define STEPS(at, at4, to, nothings) \
	VPMOVZXBD at(BX), Y1 \
	VPCMPEQD Y2, Y2, Y2 \
	VGATHERDPS Y2, (SI)(Y1*4), to \
	VMULPS at4(DX), to, to \
	VADDPS Y15, to, to \
	VCVTTPS2DQ to, to \
	VPSUBD Y14, to, to \
	VPCMPEQD Y13, to, Y3 \
	VMOVMSKPS Y3, nothings

// Sixteen of them, which are kept between the least and the most.
#define SIXTEEN(at) \
	STEPS(at, 4*at, Y4, AX) \
	STEPS(at+8, 4*at+32, Y5, CX) \
	SHLQ $at, AX \
	SHLQ $(at+8), CX \
	ORQ AX, R8 \
	ORQ CX, R8 \
	VPACKSSDW Y5, Y4, Y4 \
	VPERMQ $0xD8, Y4, Y4 \
	VPMINSW Y12, Y4, Y6 \
	VPMAXSW Y11, Y6, Y6 \
	VMOVDQU Y6, 2*at(DI)

// func quantiseWide(at *[64]int16, from, divisors *[64]float32, zigzag *[64]uint8) uint64
TEXT ·quantiseWide(SB), NOSPLIT, $0-40
	MOVQ at+0(FP), DI
	MOVQ from+8(FP), SI
	MOVQ divisors+16(FP), DX
	MOVQ zigzag+24(FP), BX
	VBROADCASTSS numbers<>+0x0c(SB), Y15
	VPBROADCASTD numbers<>+0x10(SB), Y14
	VPXOR Y13, Y13, Y13
	VPBROADCASTD numbers<>+0x14(SB), Y12
	VPBROADCASTD numbers<>+0x18(SB), Y11
	XORL R8, R8
	SIXTEEN(0)
	VPEXTRW $0, X4, R9 // the first may be more
	MOVW R9, (DI)
	SIXTEEN(16)
	SIXTEEN(32)
	SIXTEEN(48)
	NOTQ R8
	MOVQ R8, ret+32(FP)
	VZEROUPPER
	RET
