#include "textflag.h"

// func narrowWide(dst, src *float32, cols *taps, n, ch int)
//
// For each of n outputs: a pixel in a register, its even taps summed in X0, its odd ones in
// X1, the least of those near it in X4. Products are rounded before they are added, as the compiler
// does it.
TEXT ·narrowWide(SB), NOSPLIT, $0-40
	MOVQ dst+0(FP), DI
	MOVQ src+8(FP), R8
	MOVQ cols+16(FP), R9
	MOVQ n+24(FP), R10
	MOVQ ch+32(FP), R11
	SHLQ $2, R11 // bytes of a pixel

output:
	MOVQ (R9), SI   // first
	IMULQ R11, SI
	ADDQ R8, SI
	MOVQ 8(R9), BX  // weights
	MOVQ 16(R9), CX // how many
	MOVQ 32(R9), AX // near
	MOVQ 40(R9), DX // far
	ADDQ $48, R9
	SUBQ AX, DX
	IMULQ R11, AX
	ADDQ SI, AX
	VMOVUPS (AX), X4

least:
	VMINPS (AX), X4, X4
	ADDQ R11, AX
	DECQ DX
	JNZ least

	VXORPS X0, X0, X0
	VXORPS X1, X1, X1
	SUBQ $2, CX
	JLT last

two:
	VBROADCASTSS (BX), X2
	VBROADCASTSS 4(BX), X3
	VMULPS (SI), X2, X2
	VMULPS (SI)(R11*1), X3, X3
	VADDPS X2, X0, X0
	VADDPS X3, X1, X1
	LEAQ (SI)(R11*2), SI
	ADDQ $8, BX
	SUBQ $2, CX
	JGE two

last:
	ADDQ $1, CX
	JLT sum // none is left
	VBROADCASTSS (BX), X2
	VMULPS (SI), X2, X2
	VADDPS X2, X0, X0

sum:
	VADDPS X1, X0, X0
	VMAXPS X4, X0, X0
	VMOVLPS X0, (DI)
	CMPQ R11, $12
	JNE four
	VEXTRACTPS $2, X0, 8(DI)
	JMP next

four:
	VMOVHPS X0, 8(DI)

next:
	ADDQ R11, DI
	DECQ R10
	JNZ output
	RET

// Two rows, of which AX and BX are the beginnings, times the weights in Y4 and Y5.
#define TWO_ROWS(at, to) \
	VMULPS at(AX)(R8*1), Y4, Y6 \
	VMULPS at(BX)(R8*1), Y5, Y7 \
	VADDPS Y7, Y6, Y6 \
	VADDPS Y6, to, to

#define ONE_ROW(at, to) \
	VMULPS at(AX)(R8*1), Y4, Y6 \
	VADDPS Y6, to, to

#define KEPT(at, least, to) \
	VMAXPS least, to, to \
	VMOVUPS to, at(DI)(R8*1)

// func stackWide(line *float32, rows *[]float32, weights *float32, count, near, far, n int)
//
// Thirty-two values at a time, while there are as many, then eight: the sums stay in registers.
TEXT ·stackWide(SB), NOSPLIT, $0-56
	MOVQ line+0(FP), DI
	MOVQ near+32(FP), R10
	MOVQ far+40(FP), R11
	SUBQ R10, R11
	LEAQ (R10)(R10*2), R10
	SHLQ $3, R10 // from the first row to the first near one
	ADDQ rows+8(FP), R10
	MOVQ n+48(FP), R9
	XORL R8, R8
	SUBQ $32, R9
	JLT few

many:
	MOVQ rows+8(FP), SI
	MOVQ weights+16(FP), DX
	MOVQ count+24(FP), CX
	VXORPS Y0, Y0, Y0
	VXORPS Y1, Y1, Y1
	VXORPS Y2, Y2, Y2
	VXORPS Y3, Y3, Y3
	SUBQ $2, CX
	JLT manyLast

manyTwo:
	MOVQ (SI), AX
	MOVQ 24(SI), BX
	VBROADCASTSS (DX), Y4
	VBROADCASTSS 4(DX), Y5
	TWO_ROWS(0, Y0)
	TWO_ROWS(32, Y1)
	TWO_ROWS(64, Y2)
	TWO_ROWS(96, Y3)
	ADDQ $48, SI
	ADDQ $8, DX
	SUBQ $2, CX
	JGE manyTwo

manyLast:
	ADDQ $1, CX
	JLT manyNear // none is left
	MOVQ (SI), AX
	VBROADCASTSS (DX), Y4
	ONE_ROW(0, Y0)
	ONE_ROW(32, Y1)
	ONE_ROW(64, Y2)
	ONE_ROW(96, Y3)

manyNear:
	MOVQ R10, SI
	MOVQ (SI), AX
	VMOVUPS (AX)(R8*1), Y8
	VMOVUPS 32(AX)(R8*1), Y9
	VMOVUPS 64(AX)(R8*1), Y10
	VMOVUPS 96(AX)(R8*1), Y11
	MOVQ R11, CX
	DECQ CX
	JZ manyKept

manyLeast:
	ADDQ $24, SI
	MOVQ (SI), AX
	VMINPS (AX)(R8*1), Y8, Y8
	VMINPS 32(AX)(R8*1), Y9, Y9
	VMINPS 64(AX)(R8*1), Y10, Y10
	VMINPS 96(AX)(R8*1), Y11, Y11
	DECQ CX
	JNZ manyLeast

manyKept:
	KEPT(0, Y8, Y0)
	KEPT(32, Y9, Y1)
	KEPT(64, Y10, Y2)
	KEPT(96, Y11, Y3)
	ADDQ $128, R8
	SUBQ $32, R9
	JGE many

few:
	ADDQ $32, R9
	JZ done

fewAgain:
	MOVQ rows+8(FP), SI
	MOVQ weights+16(FP), DX
	MOVQ count+24(FP), CX
	VXORPS Y0, Y0, Y0
	SUBQ $2, CX
	JLT fewLast

fewTwo:
	MOVQ (SI), AX
	MOVQ 24(SI), BX
	VBROADCASTSS (DX), Y4
	VBROADCASTSS 4(DX), Y5
	TWO_ROWS(0, Y0)
	ADDQ $48, SI
	ADDQ $8, DX
	SUBQ $2, CX
	JGE fewTwo

fewLast:
	ADDQ $1, CX
	JLT fewNear
	MOVQ (SI), AX
	VBROADCASTSS (DX), Y4
	ONE_ROW(0, Y0)

fewNear:
	MOVQ R10, SI
	MOVQ (SI), AX
	VMOVUPS (AX)(R8*1), Y8
	MOVQ R11, CX
	DECQ CX
	JZ fewKept

fewLeast:
	ADDQ $24, SI
	MOVQ (SI), AX
	VMINPS (AX)(R8*1), Y8, Y8
	DECQ CX
	JNZ fewLeast

fewKept:
	KEPT(0, Y8, Y0)
	ADDQ $32, R8
	SUBQ $8, R9
	JNZ fewAgain

done:
	VZEROUPPER
	RET

// What a chroma adds to the luma, in 11.21 fixed point: 1.402·Cr, 0.344136·Cb + 0.714136·Cr and
// 1.772·Cb (ITU-T T.871), moved up by reach and rounded.
#define RED $2940207
#define GREEN_CB $-721706
#define GREEN_CR $-1497651
#define BLUE $3716153
#define MOVED $537919536
#define POINT $21

// Orders of eight: each chroma for two pixels; and where the reds, greens and blues of eight
// pixels lie in three registers that hold them pixel by pixel, of which each takes every third.
DATA orders<>+0x00(SB)/8, $0x0000000000000000
DATA orders<>+0x08(SB)/8, $0x0000000100000001
DATA orders<>+0x10(SB)/8, $0x0000000200000002
DATA orders<>+0x18(SB)/8, $0x0000000300000003
DATA orders<>+0x20(SB)/8, $0x0000000300000000
DATA orders<>+0x28(SB)/8, $0x0000000100000006
DATA orders<>+0x30(SB)/8, $0x0000000700000004
DATA orders<>+0x38(SB)/8, $0x0000000500000002
DATA orders<>+0x40(SB)/8, $0x0000000000000005
DATA orders<>+0x48(SB)/8, $0x0000000600000003
DATA orders<>+0x50(SB)/8, $0x0000000400000001
DATA orders<>+0x58(SB)/8, $0x0000000200000007
DATA orders<>+0x60(SB)/8, $0x0000000500000002
DATA orders<>+0x68(SB)/8, $0x0000000300000000
DATA orders<>+0x70(SB)/8, $0x0000000100000006
DATA orders<>+0x78(SB)/8, $0x0000000700000004
GLOBL orders<>(SB), RODATA|NOPTR, $0x80

#define EVERYWHERE(value, x, y) \
	MOVL value, AX \
	VMOVD AX, x \
	VPBROADCASTD x, y

// What is the same for all pixels.
#define CONSTANTS \
	EVERYWHERE(RED, X10, Y10) \
	EVERYWHERE(GREEN_CB, X11, Y11) \
	EVERYWHERE(GREEN_CR, X12, Y12) \
	EVERYWHERE(BLUE, X13, Y13) \
	EVERYWHERE(MOVED, X14, Y14) \
	EVERYWHERE($0x36800000, X15, Y15) /* 2 to the power of -18, toFloat */ \
	EVERYWHERE($128, X9, Y9)

// Where the light of eight pixels begins in the tables, in Y3, Y4 and Y6, whose Cb and Cr are in Y1
// and Y2.
#define CHROMA \
	VPSUBD Y9, Y1, Y1 \
	VPSUBD Y9, Y2, Y2 \
	VPMULLD Y10, Y2, Y3 \
	VPMULLD Y11, Y1, Y4 \
	VPMULLD Y12, Y2, Y5 \
	VPMULLD Y13, Y1, Y6 \
	VPADDD Y5, Y4, Y4 \
	VPADDD Y14, Y3, Y3 \
	VPADDD Y14, Y4, Y4 \
	VPADDD Y14, Y6, Y6 \
	VPSRLD POINT, Y3, Y3 \
	VPSRLD POINT, Y4, Y4 \
	VPSRLD POINT, Y6, Y6

// Steps of light of eight pixels, in r, g and b, are added to DI; s, t and u are used up.
#define ADD_PIXELS(r, g, b, s, t, u) \
	VCVTDQ2PS r, r \
	VCVTDQ2PS g, g \
	VCVTDQ2PS b, b \
	VMULPS Y15, r, r \
	VMULPS Y15, g, g \
	VMULPS Y15, b, b \
	VMOVDQU orders<>+0x20(SB), s \
	VMOVDQU orders<>+0x40(SB), t \
	VMOVDQU orders<>+0x60(SB), u \
	VPERMPS r, s, r \
	VPERMPS g, t, g \
	VPERMPS b, u, b \
	VBLENDPS $0x92, g, r, s \
	VBLENDPS $0x24, g, r, t \
	VBLENDPS $0x49, g, r, u \
	VBLENDPS $0x24, b, s, s \
	VBLENDPS $0x49, b, t, t \
	VBLENDPS $0x92, b, u, u \
	VADDPS (DI), s, s \
	VADDPS 32(DI), t, t \
	VADDPS 64(DI), u, u \
	VMOVUPS s, (DI) \
	VMOVUPS t, 32(DI) \
	VMOVUPS u, 64(DI)

// The light of eight pixels, of which Y0 has the luma and Y1 and Y2 have the chroma, is added to DI.
#define ADD_LIGHT \
	CHROMA \
	VPADDD Y0, Y3, Y3 \
	VPADDD Y0, Y4, Y4 \
	VPADDD Y0, Y6, Y6 \
	VPCMPEQD Y1, Y1, Y1 \
	VPGATHERDD Y1, (R10)(Y3*4), Y0 \
	VPCMPEQD Y1, Y1, Y1 \
	VPGATHERDD Y1, 4096(R10)(Y4*4), Y2 \
	VPCMPEQD Y1, Y1, Y1 \
	VPGATHERDD Y1, 8192(R10)(Y6*4), Y5 \
	ADD_PIXELS(Y0, Y2, Y5, Y3, Y4, Y6)

// func addLightWide(acc *float32, luma, cb, cr *uint8, tables *[3][mask + 1]uint32, n int, shared bool)
//
// Adds the light of n pixels, a multiple of eight, to acc, three values each. Each two of them have
// one chroma between them where it is shared.
TEXT ·addLightWide(SB), NOSPLIT, $0-49
	MOVQ acc+0(FP), DI
	MOVQ luma+8(FP), SI
	MOVQ cb+16(FP), R8
	MOVQ cr+24(FP), R9
	MOVQ tables+32(FP), R10
	MOVQ n+40(FP), CX
	MOVBLZX shared+48(FP), R11
	CONSTANTS

eight:
	TESTL R11, R11
	JNZ two
	VPMOVZXBD (R8), Y1
	VPMOVZXBD (R9), Y2
	ADDQ $8, R8
	ADDQ $8, R9

light:
	VPMOVZXBD (SI), Y0
	ADDQ $8, SI
	ADD_LIGHT
	ADDQ $96, DI
	SUBQ $8, CX
	JNZ eight
	VZEROUPPER
	RET

two:
	VPMOVZXBD (R8), X1
	VPMOVZXBD (R9), X2
	ADDQ $4, R8
	ADDQ $4, R9
	VMOVDQU orders<>+0x00(SB), Y3
	VPERMD Y1, Y3, Y1
	VPERMD Y2, Y3, Y2
	JMP light

// Bytes of pairs: the first of each, and the second.
#define FIRST(y) \
	VPSLLD $24, y, y \
	VPSRLD $24, y, y

#define SECOND(y) VPSRLD $8, y, y

#define PAIRS \
	VPMOVZXWD (SI), Y0 \
	VPMOVZXWD (R8), Y1 \
	VPMOVZXWD (R9), Y2

// func addTwosWide(acc *float32, luma, cb, cr *uint8, tables *[3][mask + 1]uint32, n int)
//
// Adds the light of two pixels each, which have a chroma of their own, to n pixels of acc, a multiple of
// eight.
TEXT ·addTwosWide(SB), NOSPLIT, $0-48
	MOVQ acc+0(FP), DI
	MOVQ luma+8(FP), SI
	MOVQ cb+16(FP), R8
	MOVQ cr+24(FP), R9
	MOVQ tables+32(FP), R10
	MOVQ n+40(FP), CX
	CONSTANTS

eight:
	PAIRS
	FIRST(Y0)
	FIRST(Y1)
	FIRST(Y2)
	ADD_LIGHT
	PAIRS
	SECOND(Y0)
	SECOND(Y1)
	SECOND(Y2)
	ADD_LIGHT
	ADDQ $96, DI
	ADDQ $16, SI
	ADDQ $16, R8
	ADDQ $16, R9
	SUBQ $8, CX
	JNZ eight
	VZEROUPPER
	RET

// Adds the light of eight lumas, which are in Y1, to Y7.
#define OF_LUMA(at, from) \
	VPADDD from, Y1, Y1 \
	VPCMPEQD Y2, Y2, Y2 \
	VPGATHERDD Y2, at(R10)(Y1*4), Y5 \
	VPADDD Y5, Y7, Y7

// The light of two by two lumas each, of pairs in Y0 and Y8, whose place in the tables is replaced by it.
#define OF_FOUR(at, from) \
	VPXOR Y7, Y7, Y7 \
	VPSRLD $8, Y0, Y1 \
	OF_LUMA(at, from) \
	VPSRLD $8, Y8, Y1 \
	OF_LUMA(at, from) \
	VPSLLD $24, Y0, Y1 \
	VPSRLD $24, Y1, Y1 \
	OF_LUMA(at, from) \
	VPSLLD $24, Y8, Y1 \
	VPSRLD $24, Y1, Y1 \
	OF_LUMA(at, from) \
	VMOVDQA Y7, from

// func addFoursWide(acc *float32, top, low, cb, cr *uint8, tables *[3][mask + 1]uint32, n int)
//
// Adds the light of two by two pixels, each four of which have one chroma between them, to n pixels of acc,
// a multiple of eight.
TEXT ·addFoursWide(SB), NOSPLIT, $0-56
	MOVQ acc+0(FP), DI
	MOVQ top+8(FP), SI
	MOVQ low+16(FP), DX
	MOVQ cb+24(FP), R8
	MOVQ cr+32(FP), R9
	MOVQ tables+40(FP), R10
	MOVQ n+48(FP), CX
	CONSTANTS

eight:
	VPMOVZXBD (R8), Y1
	VPMOVZXBD (R9), Y2
	CHROMA
	VPMOVZXWD (SI), Y0
	VPMOVZXWD (DX), Y8
	OF_FOUR(0, Y3)
	OF_FOUR(4096, Y4)
	OF_FOUR(8192, Y6)
	ADD_PIXELS(Y3, Y4, Y6, Y0, Y1, Y2)
	ADDQ $96, DI
	ADDQ $16, SI
	ADDQ $16, DX
	ADDQ $8, R8
	ADDQ $8, R9
	SUBQ $8, CX
	JNZ eight
	VZEROUPPER
	RET

// func unlikeWide(marks, upper, lower *uint8, n, most int)
//
// For each of n bytes of marks: which of four two by two pixels have a red, green or blue that
// is more than most above another one's.
TEXT ·unlikeWide(SB), NOSPLIT, $0-40
	MOVQ marks+0(FP), DI
	MOVQ upper+8(FP), SI
	MOVQ lower+16(FP), DX
	MOVQ n+24(FP), CX
	MOVQ most+32(FP), AX
	VMOVD AX, X6
	VPBROADCASTB X6, Y6
	VPCMPEQB Y7, Y7, Y7
	VPSRLQ $40, Y7, Y7 // red, green and blue of a pixel
	VPXOR Y8, Y8, Y8

four:
	VMOVDQU (SI), Y0
	VMOVDQU (DX), Y1
	VPMAXUB Y1, Y0, Y2
	VPMINUB Y1, Y0, Y3
	VPSRLQ $32, Y2, Y4
	VPSRLQ $32, Y3, Y5
	VPMAXUB Y4, Y2, Y2
	VPMINUB Y5, Y3, Y3
	VPSUBB Y3, Y2, Y2
	VPSUBUSB Y6, Y2, Y2
	VPAND Y7, Y2, Y2
	VPCMPEQQ Y8, Y2, Y2
	VMOVMSKPD Y2, AX
	XORL $15, AX
	MOVB AX, (DI)
	ADDQ $32, SI
	ADDQ $32, DX
	INCQ DI
	DECQ CX
	JNZ four
	VZEROUPPER
	RET
