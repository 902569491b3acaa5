package wasm_test

import (
	"bytes"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/tetratelabs/wazero"

	"mivlet/core/wasm"
)

func pack(code []byte) []byte {
	var b bytes.Buffer
	w := gzip.NewWriter(&b)
	_, _ = w.Write(code)
	_ = w.Close()
	return b.Bytes()
}

func nothing(context.Context, wazero.Runtime) error { return nil }

// answer is a program with one function, which gives 42 (WebAssembly Core Specification 2.0, 5.5).
var answer = pack([]byte("\x00asm\x01\x00\x00\x00" + "\x01\x05\x01\x60\x00\x01\x7f" + "\x03\x02\x01\x00" + "\x07\x05\x01\x01a\x00\x00" + "\x0a\x06\x01\x04\x00\x41\x2a\x0b"))

func ExampleProgram() {
	program := wasm.Program(answer, wazero.NewRuntimeConfig(), nothing)
	start, err := program()
	if err != nil {
		fmt.Println(err)
		return
	}
	m, err := start(context.Background())
	if err != nil {
		fmt.Println(err)
		return
	}
	defer m.Close(context.Background())
	fmt.Println(m.ExportedFunction("a").Call(context.Background()))
	// Output:
	// [42] <nil>
}

func TestWhatCannotBeStarted(t *testing.T) {
	t.Parallel()
	for name, packed := range map[string][]byte{"not packed": []byte("no"), "cut off": answer[:len(answer)-9], "no program": pack([]byte("no"))} {
		_, err := wasm.Program(packed, wazero.NewRuntimeConfig(), nothing)()
		assert.Error(t, err, name)
	}
	refused := errors.New("nothing is lent")
	_, err := wasm.Program(answer, wazero.NewRuntimeConfig(), func(context.Context, wazero.Runtime) error { return refused })()
	require.ErrorIs(t, err, refused)
}

// Two starts share nothing, and are there side by side.
func TestManyAtATime(t *testing.T) {
	t.Parallel()
	start, err := wasm.Program(answer, wazero.NewRuntimeConfig(), nothing)()
	require.NoError(t, err)
	one, err := start(t.Context())
	require.NoError(t, err)
	two, err := start(t.Context())
	require.NoError(t, err)
	require.NoError(t, one.Close(t.Context()))
	out, err := two.ExportedFunction("a").Call(t.Context())
	require.NoError(t, err)
	assert.Equal(t, []uint64{42}, out)
}
