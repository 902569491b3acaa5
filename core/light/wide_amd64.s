#include "textflag.h"

// 65535 and a half, as Code has them, and 65535 as a whole number.
DATA numbers<>+0x00(SB)/4, $65535.0
DATA numbers<>+0x04(SB)/4, $0.5
DATA numbers<>+0x08(SB)/4, $65535
GLOBL numbers<>(SB), RODATA|NOPTR, $12

// Where the fours of codes lie after they are packed: those of the first four pixels in the lower half. Then
// a place for the fourth byte of each pixel.
DATA orders<>+0x00(SB)/8, $0x0000000400000000
DATA orders<>+0x08(SB)/8, $0x0000000300000001
DATA orders<>+0x10(SB)/8, $0x0000000200000005
DATA orders<>+0x18(SB)/8, $0x0000000300000006
DATA orders<>+0x20(SB)/8, $0xff050403ff020100
DATA orders<>+0x28(SB)/8, $0xff0b0a09ff080706
DATA orders<>+0x30(SB)/8, $0xff050403ff020100
DATA orders<>+0x38(SB)/8, $0xff0b0a09ff080706
GLOBL orders<>(SB), RODATA|NOPTR, $64

// The codes of eight values at, four bytes each.
#define CODES(at, to) \
	VMULPS at(SI), Y15, to \
	VADDPS Y14, to, to \
	VCVTTPS2DQ to, to \
	VPMAXSD Y12, to, to \
	VPMINSD Y13, to, to \
	VPCMPEQD Y4, Y4, Y4 \
	VPGATHERDD Y4, (DX)(to*1), Y5 \
	VPAND Y11, Y5, to

// func pixelsWide(pix *uint8, line *float32, codes *uint8, n int)
TEXT ·pixelsWide(SB), NOSPLIT, $0-32
	MOVQ pix+0(FP), DI
	MOVQ line+8(FP), SI
	MOVQ codes+16(FP), DX
	MOVQ n+24(FP), CX
	VBROADCASTSS numbers<>+0x00(SB), Y15
	VBROADCASTSS numbers<>+0x04(SB), Y14
	VPBROADCASTD numbers<>+0x08(SB), Y13
	VPXOR Y12, Y12, Y12
	VPCMPEQD Y11, Y11, Y11
	VPSLLD $24, Y11, Y10 // opaque
	VPSRLD $24, Y11, Y11
	VMOVDQU orders<>+0x00(SB), Y9
	VMOVDQU orders<>+0x20(SB), Y8

eight:
	CODES(0, Y0)
	CODES(32, Y1)
	CODES(64, Y2)
	VPACKUSDW Y1, Y0, Y0
	VPACKUSDW Y2, Y2, Y2
	VPACKUSWB Y2, Y0, Y0
	VPERMD Y0, Y9, Y0
	VPSHUFB Y8, Y0, Y0
	VPOR Y10, Y0, Y0
	VMOVDQU Y0, (DI)
	ADDQ $96, SI
	ADDQ $32, DI
	SUBQ $8, CX
	JNZ eight
	VZEROUPPER
	RET
