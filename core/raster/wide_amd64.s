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

// func addTwoWide(line, a, b *float32, u, v float32, n int)
//
// line += u·a + v·b, for n values, a multiple of eight.
TEXT ·addTwoWide(SB), NOSPLIT, $0-40
	MOVQ line+0(FP), DI
	MOVQ a+8(FP), SI
	MOVQ b+16(FP), DX
	VBROADCASTSS u+24(FP), Y0
	VBROADCASTSS v+28(FP), Y1
	MOVQ n+32(FP), CX

eight:
	VMULPS (SI), Y0, Y2
	VMULPS (DX), Y1, Y3
	VADDPS Y3, Y2, Y2
	VADDPS (DI), Y2, Y2
	VMOVUPS Y2, (DI)
	ADDQ $32, SI
	ADDQ $32, DX
	ADDQ $32, DI
	SUBQ $8, CX
	JNZ eight
	VZEROUPPER
	RET

// func leastOfWide(least, a, b *float32, n int)
//
// least = min(least, a, b), for n values, a multiple of eight.
TEXT ·leastOfWide(SB), NOSPLIT, $0-32
	MOVQ least+0(FP), DI
	MOVQ a+8(FP), SI
	MOVQ b+16(FP), DX
	MOVQ n+24(FP), CX

eight:
	VMOVUPS (DI), Y0
	VMINPS (SI), Y0, Y0
	VMINPS (DX), Y0, Y0
	VMOVUPS Y0, (DI)
	ADDQ $32, SI
	ADDQ $32, DX
	ADDQ $32, DI
	SUBQ $8, CX
	JNZ eight
	VZEROUPPER
	RET

// func atLeastWide(line, least *float32, n int)
//
// line = max(line, least), for n values, a multiple of eight.
TEXT ·atLeastWide(SB), NOSPLIT, $0-24
	MOVQ line+0(FP), DI
	MOVQ least+8(FP), SI
	MOVQ n+16(FP), CX

eight:
	VMOVUPS (DI), Y0
	VMAXPS (SI), Y0, Y0
	VMOVUPS Y0, (DI)
	ADDQ $32, SI
	ADDQ $32, DI
	SUBQ $8, CX
	JNZ eight
	VZEROUPPER
	RET
