#include "textflag.h"

// func mixWide(dst *float32, dstStep uintptr, src *float32, srcStep uintptr, weights *float32, taps int, bias *float32)
//
// Sixteen outputs of four pixels: eight sums in registers, each tap of a pixel spread
// over a register and multiplied with sixteen weights.
TEXT ·mixWide(SB), NOSPLIT, $0-56
	MOVQ dst+0(FP), DI
	MOVQ dstStep+8(FP), DX
	MOVQ src+16(FP), SI
	MOVQ srcStep+24(FP), CX
	MOVQ weights+32(FP), BX
	MOVQ taps+40(FP), R8
	MOVQ bias+48(FP), R9
	LEAQ (SI)(CX*1), R10
	LEAQ (R10)(CX*1), R11
	LEAQ (R11)(CX*1), R12
	VMOVUPS (R9), Y0
	VMOVUPS 32(R9), Y1
	VMOVAPS Y0, Y2
	VMOVAPS Y1, Y3
	VMOVAPS Y0, Y4
	VMOVAPS Y1, Y5
	VMOVAPS Y0, Y6
	VMOVAPS Y1, Y7

tap:
	VMOVUPS (BX), Y8
	VMOVUPS 32(BX), Y9
	VBROADCASTSS (SI), Y10
	VBROADCASTSS (R10), Y11
	VBROADCASTSS (R11), Y12
	VBROADCASTSS (R12), Y13
	VFMADD231PS Y8, Y10, Y0
	VFMADD231PS Y9, Y10, Y1
	VFMADD231PS Y8, Y11, Y2
	VFMADD231PS Y9, Y11, Y3
	VFMADD231PS Y8, Y12, Y4
	VFMADD231PS Y9, Y12, Y5
	VFMADD231PS Y8, Y13, Y6
	VFMADD231PS Y9, Y13, Y7
	ADDQ $64, BX
	ADDQ $4, SI
	ADDQ $4, R10
	ADDQ $4, R11
	ADDQ $4, R12
	DECQ R8
	JNZ tap

	VMOVUPS Y0, (DI)
	VMOVUPS Y1, 32(DI)
	ADDQ DX, DI
	VMOVUPS Y2, (DI)
	VMOVUPS Y3, 32(DI)
	ADDQ DX, DI
	VMOVUPS Y4, (DI)
	VMOVUPS Y5, 32(DI)
	ADDQ DX, DI
	VMOVUPS Y6, (DI)
	VMOVUPS Y7, 32(DI)
	VZEROUPPER
	RET

// func spreadWide(dst, src, weights *float32, ch, n int)
//
// dst += src × weights, for n pixels of ch channels, a multiple of eight; every pixel has
// the same weights.
TEXT ·spreadWide(SB), NOSPLIT, $0-40
	MOVQ dst+0(FP), DI
	MOVQ src+8(FP), SI
	MOVQ ch+24(FP), R8
	MOVQ n+32(FP), R9

pixel:
	MOVQ weights+16(FP), BX
	MOVQ R8, CX

eight:
	VMOVUPS (DI), Y0
	VMOVUPS (SI), Y1
	VFMADD231PS (BX), Y1, Y0
	VMOVUPS Y0, (DI)
	ADDQ $32, DI
	ADDQ $32, SI
	ADDQ $32, BX
	SUBQ $8, CX
	JNZ eight
	DECQ R9
	JNZ pixel
	VZEROUPPER
	RET

// func largestWide(dst, src *float32, n int)
//
// dst = max(dst, src), for n values, a multiple of eight.
TEXT ·largestWide(SB), NOSPLIT, $0-24
	MOVQ dst+0(FP), DI
	MOVQ src+8(FP), SI
	MOVQ n+16(FP), CX

more:
	VMOVUPS (DI), Y0
	VMAXPS (SI), Y0, Y0
	VMOVUPS Y0, (DI)
	ADDQ $32, DI
	ADDQ $32, SI
	SUBQ $8, CX
	JNZ more
	VZEROUPPER
	RET

// func pairWide(dst, src *float32, ch, n int)
//
// dst = the larger of two pixels of src beside each other, for n pixels of ch channels, a multiple
// of eight.
TEXT ·pairWide(SB), NOSPLIT, $0-32
	MOVQ dst+0(FP), DI
	MOVQ src+8(FP), SI
	MOVQ ch+16(FP), R8
	MOVQ n+24(FP), R9
	MOVQ R8, R10
	SHLQ $2, R10 // bytes of a pixel

pixel:
	MOVQ R8, CX

eight:
	VMOVUPS (SI), Y0
	VMAXPS (SI)(R10*1), Y0, Y0
	VMOVUPS Y0, (DI)
	ADDQ $32, DI
	ADDQ $32, SI
	SUBQ $8, CX
	JNZ eight
	ADDQ R10, SI
	DECQ R9
	JNZ pixel
	VZEROUPPER
	RET

// func rectifyWide(v *float32, n int, slope float32)
//
// v = max(v, slope × v), for n values, a multiple of eight.
TEXT ·rectifyWide(SB), NOSPLIT, $0-20
	MOVQ v+0(FP), DI
	MOVQ n+8(FP), CX
	VBROADCASTSS slope+16(FP), Y1

more:
	VMOVUPS (DI), Y0
	VMULPS Y0, Y1, Y2
	VMAXPS Y2, Y0, Y0
	VMOVUPS Y0, (DI)
	ADDQ $32, DI
	SUBQ $8, CX
	JNZ more
	VZEROUPPER
	RET
