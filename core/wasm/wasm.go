// Package wasm runs programs that were compiled to WebAssembly, in wazero (Apache-2.0): decoders and
// the like, whose makers write them in other languages. Each start of a program has a memory of its
// own, and reaches nothing but what it is lent.
package wasm

import (
	"bytes"
	"compress/gzip"
	"context"
	"io"
	"sync"

	"github.com/tetratelabs/wazero"
	"github.com/tetratelabs/wazero/api"
)

// Start starts a program. Many may run at a time; each is to be closed.
type Start func(context.Context) (api.Module, error)

// Program returns what compiles a program when it is first called, for all later starts. packed is the
// program, compressed by gzip; limits are of its memory and time; lend gives it what it asks for.
func Program(packed []byte, limits wazero.RuntimeConfig, lend func(context.Context, wazero.Runtime) error) func() (Start, error) {
	return sync.OnceValues(func() (Start, error) {
		ctx := context.Background()
		r, err := gzip.NewReader(bytes.NewReader(packed))
		if err != nil {
			return nil, err
		}
		code, err := io.ReadAll(r)
		if err != nil {
			return nil, err
		}
		rt := wazero.NewRuntimeWithConfig(ctx, limits)
		if err := lend(ctx, rt); err != nil {
			return nil, err
		}
		compiled, err := rt.CompileModule(ctx, code)
		if err != nil {
			return nil, err
		}
		return func(ctx context.Context) (api.Module, error) {
			return rt.InstantiateModule(ctx, compiled, wazero.NewModuleConfig().WithName("")) // nameless, so that there may be many
		}, nil
	})
}
