#include "textflag.h"

// func mixWide(m *mixing)
//
// Sixteen outputs of four pixels at a time: eight sums in registers, each value of a pixel spread
// over a register and multiplied with sixteen weights.
TEXT ·mixWide(SB), NOSPLIT, $0-8
	MOVQ m+0(FP), AX
	MOVQ 0(AX), DI  // dst
	MOVQ 8(AX), DX  // dstStep
	MOVQ 16(AX), SI // src
	MOVQ 24(AX), CX // srcStep

group:
	MOVQ 64(AX), R9 // bias
	VMOVUPS (R9), Y0
	VMOVUPS 32(R9), Y1
	VMOVAPS Y0, Y2
	VMOVAPS Y1, Y3
	VMOVAPS Y0, Y4
	VMOVAPS Y1, Y5
	VMOVAPS Y0, Y6
	VMOVAPS Y1, Y7
	MOVQ 32(AX), BX // weights
	MOVQ SI, R10
	LEAQ (R10)(CX*1), R11
	LEAQ (R11)(CX*1), R12
	LEAQ (R12)(CX*1), R13
	MOVQ 48(AX), R9 // runs

run:
	MOVQ 40(AX), R8 // its values

tap:
	VMOVUPS (BX), Y8
	VMOVUPS 32(BX), Y9
	VBROADCASTSS (R10), Y10
	VBROADCASTSS (R11), Y11
	VBROADCASTSS (R12), Y12
	VBROADCASTSS (R13), Y13
	VFMADD231PS Y8, Y10, Y0
	VFMADD231PS Y9, Y10, Y1
	VFMADD231PS Y8, Y11, Y2
	VFMADD231PS Y9, Y11, Y3
	VFMADD231PS Y8, Y12, Y4
	VFMADD231PS Y9, Y12, Y5
	VFMADD231PS Y8, Y13, Y6
	VFMADD231PS Y9, Y13, Y7
	ADDQ $64, BX
	ADDQ $4, R10
	ADDQ $4, R11
	ADDQ $4, R12
	ADDQ $4, R13
	DECQ R8
	JNZ tap
	MOVQ 56(AX), R8 // skip
	ADDQ R8, R10
	ADDQ R8, R11
	ADDQ R8, R12
	ADDQ R8, R13
	DECQ R9
	JNZ run

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
	ADDQ DX, DI
	LEAQ (SI)(CX*4), SI
	DECQ 72(AX) // groups
	JNZ group
	VZEROUPPER
	RET

// func mixWider(m *mixing)
//
// The same for eight pixels at a time, whose sixteen outputs are in one register each.
TEXT ·mixWider(SB), NOSPLIT, $0-8
	MOVQ m+0(FP), AX
	MOVQ 0(AX), DI  // dst
	MOVQ 8(AX), DX  // dstStep
	MOVQ 16(AX), SI // src
	MOVQ 24(AX), CX // srcStep

group:
	MOVQ 64(AX), R9 // bias
	VMOVUPS (R9), Z0
	VMOVAPS Z0, Z1
	VMOVAPS Z0, Z2
	VMOVAPS Z0, Z3
	VMOVAPS Z0, Z4
	VMOVAPS Z0, Z5
	VMOVAPS Z0, Z6
	VMOVAPS Z0, Z7
	MOVQ 32(AX), BX // weights
	MOVQ SI, R10 // the first pixel
	LEAQ (R10)(CX*2), R11
	ADDQ CX, R11 // the fourth
	LEAQ (R11)(CX*2), R12
	ADDQ CX, R12 // the seventh
	MOVQ 48(AX), R9 // runs

run:
	MOVQ 40(AX), R8 // its values

tap:
	VMOVUPS (BX), Z8
	VFMADD231PS.BCST (R10), Z8, Z0
	VFMADD231PS.BCST (R10)(CX*1), Z8, Z1
	VFMADD231PS.BCST (R10)(CX*2), Z8, Z2
	VFMADD231PS.BCST (R11), Z8, Z3
	VFMADD231PS.BCST (R11)(CX*1), Z8, Z4
	VFMADD231PS.BCST (R11)(CX*2), Z8, Z5
	VFMADD231PS.BCST (R12), Z8, Z6
	VFMADD231PS.BCST (R12)(CX*1), Z8, Z7
	ADDQ $64, BX
	ADDQ $4, R10
	ADDQ $4, R11
	ADDQ $4, R12
	DECQ R8
	JNZ tap
	MOVQ 56(AX), R8 // skip
	ADDQ R8, R10
	ADDQ R8, R11
	ADDQ R8, R12
	DECQ R9
	JNZ run

	VMOVUPS Z0, (DI)
	VMOVUPS Z1, (DI)(DX*1)
	LEAQ (DI)(DX*2), DI
	VMOVUPS Z2, (DI)
	VMOVUPS Z3, (DI)(DX*1)
	LEAQ (DI)(DX*2), DI
	VMOVUPS Z4, (DI)
	VMOVUPS Z5, (DI)(DX*1)
	LEAQ (DI)(DX*2), DI
	VMOVUPS Z6, (DI)
	VMOVUPS Z7, (DI)(DX*1)
	LEAQ (DI)(DX*2), DI
	LEAQ (SI)(CX*8), SI
	DECQ 72(AX) // groups
	JNZ group
	VZEROUPPER
	RET

// func channelsWide(c *channeling)
//
// Eight channels at a time, whose nine weights stay in registers along the row.
TEXT ·channelsWide(SB), NOSPLIT, $0-8
	MOVQ c+0(FP), AX
	MOVQ 40(AX), DX
	SHLQ $2, DX // bytes of a pixel
	XORQ CX, CX // bytes of the channels before

eight:
	MOVQ 32(AX), BX // weights
	ADDQ CX, BX
	VMOVUPS (BX), Y1
	VMOVUPS (BX)(DX*1), Y2
	VMOVUPS (BX)(DX*2), Y3
	LEAQ (BX)(DX*2), BX
	ADDQ DX, BX
	VMOVUPS (BX), Y4
	VMOVUPS (BX)(DX*1), Y5
	VMOVUPS (BX)(DX*2), Y6
	LEAQ (BX)(DX*2), BX
	ADDQ DX, BX
	VMOVUPS (BX), Y7
	VMOVUPS (BX)(DX*1), Y8
	VMOVUPS (BX)(DX*2), Y9
	MOVQ 0(AX), DI // into
	ADDQ CX, DI
	MOVQ 8(AX), R10 // top
	ADDQ CX, R10
	MOVQ 16(AX), R11 // mid
	ADDQ CX, R11
	MOVQ 24(AX), R12 // low
	ADDQ CX, R12
	MOVQ 48(AX), R8 // pixels

pixel:
	VMULPS (R10), Y1, Y0
	VFMADD231PS (R10)(DX*1), Y2, Y0
	VFMADD231PS (R10)(DX*2), Y3, Y0
	VFMADD231PS (R11), Y4, Y0
	VFMADD231PS (R11)(DX*1), Y5, Y0
	VFMADD231PS (R11)(DX*2), Y6, Y0
	VFMADD231PS (R12), Y7, Y0
	VFMADD231PS (R12)(DX*1), Y8, Y0
	VFMADD231PS (R12)(DX*2), Y9, Y0
	VMOVUPS Y0, (DI)
	ADDQ DX, DI
	ADDQ DX, R10
	ADDQ DX, R11
	ADDQ DX, R12
	DECQ R8
	JNZ pixel
	ADDQ $32, CX
	CMPQ CX, DX
	JLT eight
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

// func pairMoreWide(dst, src *float32, ch, n int)
//
// The same, where what is larger in dst stays.
TEXT ·pairMoreWide(SB), NOSPLIT, $0-32
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
	VMAXPS (DI), Y0, Y0
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
