#include "textflag.h"

DATA middles<>+0(SB)/4, $128.0
GLOBL middles<>(SB), RODATA|NOPTR, $4

// func inverseWide(at *byte, stride int, b, down, across *[64]float32, nv, rows, cols int)
//
// For each of nv rows of pixels: the columns are transformed into eight values, which are kept
// on the stack, then the row. Products are rounded before they are added.
TEXT ·inverseWide(SB), NOSPLIT, $32-64
	MOVQ at+0(FP), DI
	MOVQ stride+8(FP), R8
	MOVQ b+16(FP), SI
	MOVQ down+24(FP), R9
	MOVQ across+32(FP), R10
	MOVQ nv+40(FP), R11
	MOVQ rows+48(FP), R12
	MOVQ cols+56(FP), R13
	VBROADCASTSS middles<>(SB), Y7

row:
	VXORPS Y0, Y0, Y0
	MOVQ SI, AX
	MOVQ R9, BX
	MOVQ R12, CX

columns:
	VBROADCASTSS (BX), Y1
	VMULPS (AX), Y1, Y1
	VADDPS Y1, Y0, Y0
	ADDQ $4, BX
	ADDQ $32, AX
	DECQ CX
	JNZ columns

	VMOVUPS Y0, 0(SP)
	VMOVAPS Y7, Y0
	MOVQ R10, AX
	MOVQ SP, BX
	MOVQ R13, CX

values:
	VBROADCASTSS (BX), Y1
	VMULPS (AX), Y1, Y1
	VADDPS Y1, Y0, Y0
	ADDQ $4, BX
	ADDQ $32, AX
	DECQ CX
	JNZ values

	VCVTPS2DQ Y0, Y0
	VEXTRACTI128 $1, Y0, X1
	VPACKSSDW X1, X0, X0
	VPACKUSWB X0, X0, X0
	MOVQ X0, (DI)
	ADDQ R8, DI
	ADDQ $32, R9
	DECQ R11
	JNZ row
	VZEROUPPER
	RET
