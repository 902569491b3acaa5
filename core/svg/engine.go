package svg

import (
	"context"
	_ "embed"
	"encoding/json"
	"fmt"
	"sync"

	"github.com/tetratelabs/wazero"
	"github.com/tetratelabs/wazero/api"

	"mivlet/core/fit"
	"mivlet/core/wasm"
)

//go:embed resvg.wasm.gz
var packed []byte

// program is resvg, ready to be started.
var program = wasm.Program(packed, wazero.NewRuntimeConfig().WithCloseOnContextDone(true).WithMemoryLimitPages(pages), lend)

// engine is one start of resvg, for one drawing. Its memory goes with it.
type engine struct {
	ctx  context.Context
	mod  api.Module
	held *held
}

func start(ctx context.Context, run wasm.Start) (*engine, error) {
	h := &held{}
	ctx = context.WithValue(ctx, holding{}, h)
	mod, err := run(ctx)
	if err != nil {
		return nil, fmt.Errorf("%w: %v", ErrDrawing, err)
	}
	return &engine{ctx, mod, h}, nil
}

func (e *engine) close() { _ = e.mod.Close(context.WithoutCancel(e.ctx)) }

// options are resvg's, as it reads them: which letters stand for which names of typefaces.
var options = sync.OnceValue(func() []byte {
	data, _ := json.Marshal(map[string]any{"font": map[string]any{
		"loadSystemFonts": false, "defaultFontFamily": "Go", "serifFamily": "Go", "sansSerifFamily": "Go", "cursiveFamily": "Go", "fantasyFamily": "Go", "monospaceFamily": "Go Mono",
	}})
	return data
})

// draw returns the pixels, multiplied by their opacity, and their size.
func (e *engine) draw(file []byte) ([]byte, fit.Size, error) {
	var letters list
	for _, f := range typefaces {
		letters = append(letters, bytesOf(f))
	}
	at, n, err := e.put(options())
	if err != nil {
		return nil, fit.Size{}, err
	}
	drawing, err := e.answer("resvg_new", e.held.add(bytesOf(file)), at, n, e.held.add(&letters))
	if err != nil {
		return nil, fit.Size{}, err
	}
	image, err := e.answer("resvg_render", drawing)
	if err != nil {
		return nil, fit.Size{}, err
	}
	var told [3]uint64
	for i, what := range []string{"renderedimage_width", "renderedimage_height", "renderedimage_pixels"} {
		if told[i], err = e.call(what, image); err != nil {
			return nil, fit.Size{}, err
		}
	}
	pixels, _ := e.held.take(uint32(told[2])).(bytesOf)
	return pixels, fit.Size{W: int(uint32(told[0])), H: int(uint32(told[1]))}, nil
}

// put copies bytes into resvg's memory.
func (e *engine) put(data []byte) (at, n uint64, err error) {
	if at, err = e.call("__wbindgen_malloc", uint64(len(data)), 1); err != nil {
		return 0, 0, err
	}
	if !e.mod.Memory().Write(uint32(at), data) {
		return 0, 0, ErrDrawing
	}
	return at, uint64(len(data)), nil
}

// call calls a function that gives at most one number.
func (e *engine) call(name string, with ...uint64) (uint64, error) {
	out, err := e.mod.ExportedFunction(name).Call(e.ctx, with...)
	if err != nil {
		return 0, fmt.Errorf("%w: %v", ErrDrawing, err)
	}
	if len(out) == 0 {
		return 0, nil
	}
	return out[0], nil
}

// answer calls a function that gives a thing, or says what is wrong.
func (e *engine) answer(name string, with ...uint64) (uint64, error) {
	const room = 16
	at, err := e.call("__wbindgen_add_to_stack_pointer", api.EncodeI32(-room))
	if err != nil {
		return 0, err
	}
	if _, err := e.call(name, append([]uint64{at}, with...)...); err != nil {
		return 0, err
	}
	var told [3]uint32
	for i := range told {
		told[i], _ = e.mod.Memory().ReadUint32Le(uint32(at) + 4*uint32(i))
	}
	if _, err := e.call("__wbindgen_add_to_stack_pointer", room); err != nil {
		return 0, err
	}
	if told[2] != 0 {
		return 0, fmt.Errorf("%w: %v", ErrDrawing, e.held.take(told[1]))
	}
	return uint64(told[0]), nil
}
