package svg

import (
	"context"
	"errors"
	"slices"

	"github.com/tetratelabs/wazero"
	"github.com/tetratelabs/wazero/api"
)

// resvg was compiled for a browser, whose values it holds by number. Those few that it asks for are
// lent to it here.
type (
	bytesOf  []byte // bytes outside its memory
	list     []any
	memory   struct{}            // all of its memory
	view     struct{ at, n int } // bytes in its memory
	iterator struct {
		of   *list
		next int
	}
	step struct {
		value any
		done  bool
	}
)

// held are the values that one start of it holds.
type held struct {
	values []any
	free   []uint32
}

type holding struct{}

// first is the first number of a value that is not fixed: in a browser the lower ones are taken.
const first = 132

func (h *held) add(v any) uint64 {
	if n := len(h.free); n > 0 {
		i := h.free[n-1]
		h.free, h.values[i-first] = h.free[:n-1], v
		return uint64(i)
	}
	h.values = append(h.values, v)
	return uint64(first + len(h.values) - 1)
}

func (h *held) get(i uint32) any {
	if i < first || int(i-first) >= len(h.values) {
		return nil
	}
	return h.values[i-first]
}

func (h *held) take(i uint32) any {
	v := h.get(i)
	if v != nil {
		h.values[i-first], h.free = nil, append(h.free, i)
	}
	return v
}

// read returns the bytes of a value, which nobody changes.
func read(mod api.Module, v any) []byte {
	switch v := v.(type) {
	case bytesOf:
		return v
	case view:
		data, _ := mod.Memory().Read(uint32(v.at), uint32(v.n))
		return slices.Clone(data)
	}
	return nil
}

func length(mod api.Module, v any) uint32 {
	switch v := v.(type) {
	case bytesOf:
		return uint32(len(v))
	case view:
		return uint32(v.n)
	case memory:
		return mod.Memory().Size()
	case *list:
		return uint32(len(*v))
	}
	return 0
}

// lend gives the program what a browser would give it. The names are those that its file asks for.
func lend(ctx context.Context, rt wazero.Runtime) error {
	const i32 = api.ValueTypeI32
	b := rt.NewHostModuleBuilder("wbg")
	one := func(name string, takes int, gives bool, do func(mod api.Module, h *held, with []uint64) uint64) {
		in := slices.Repeat([]api.ValueType{i32}, takes)
		var out []api.ValueType
		if gives {
			out = []api.ValueType{i32}
		}
		b.NewFunctionBuilder().WithGoModuleFunction(api.GoModuleFunc(func(ctx context.Context, mod api.Module, stack []uint64) {
			h, _ := ctx.Value(holding{}).(*held)
			if given := do(mod, h, stack); gives {
				stack[0] = given
			}
		}), in, out).Export(name)
	}
	text := func(mod api.Module, with []uint64) string {
		data, _ := mod.Memory().Read(uint32(with[0]), uint32(with[1]))
		return string(data)
	}
	yes := map[bool]uint64{true: 1}
	one("__wbg_new_28c511d9baebfa89", 2, true, func(mod api.Module, h *held, with []uint64) uint64 { return h.add(errors.New(text(mod, with))) })
	one("__wbindgen_memory", 0, true, func(_ api.Module, h *held, _ []uint64) uint64 { return h.add(memory{}) })
	one("__wbg_buffer_12d079cc21e14bdb", 1, true, func(_ api.Module, h *held, with []uint64) uint64 { return h.add(h.get(uint32(with[0]))) })
	one("__wbg_newwithbyteoffsetandlength_aa4a17c33a06e5cb", 3, true, func(_ api.Module, h *held, with []uint64) uint64 {
		return h.add(view{int(uint32(with[1])), int(uint32(with[2]))})
	})
	one("__wbindgen_object_drop_ref", 1, false, func(_ api.Module, h *held, with []uint64) uint64 { h.take(uint32(with[0])); return 0 })
	one("__wbg_new_63b92bc8671ed464", 1, true, func(mod api.Module, h *held, with []uint64) uint64 {
		v := h.get(uint32(with[0]))
		if _, whole := v.(memory); whole {
			return h.add(memory{}) // as its memory may grow, it is looked at where it is
		}
		return h.add(bytesOf(read(mod, v)))
	})
	one("__wbg_values_839f3396d5aac002", 1, true, func(_ api.Module, h *held, with []uint64) uint64 {
		of, ok := h.get(uint32(with[0])).(*list)
		if !ok {
			of = &list{}
		}
		return h.add(&iterator{of: of})
	})
	one("__wbg_next_196c84450b364254", 1, true, func(_ api.Module, h *held, with []uint64) uint64 {
		it, ok := h.get(uint32(with[0])).(*iterator)
		if !ok || it.next >= len(*it.of) {
			return h.add(step{done: true})
		}
		it.next++
		return h.add(step{value: (*it.of)[it.next-1]})
	})
	one("__wbg_done_298b57d23c0fc80c", 1, true, func(_ api.Module, h *held, with []uint64) uint64 {
		s, ok := h.get(uint32(with[0])).(step)
		return yes[!ok || s.done]
	})
	one("__wbg_value_d93c65011f51a456", 1, true, func(_ api.Module, h *held, with []uint64) uint64 {
		s, _ := h.get(uint32(with[0])).(step)
		return h.add(s.value)
	})
	one("__wbg_instanceof_Uint8Array_2b3bbecd033d19f6", 1, true, func(_ api.Module, h *held, with []uint64) uint64 {
		_, ok := h.get(uint32(with[0])).(bytesOf)
		return yes[ok]
	})
	one("__wbindgen_string_get", 2, false, func(mod api.Module, _ *held, with []uint64) uint64 {
		mod.Memory().WriteUint32Le(uint32(with[0]), 0) // no value is a text: drawings come as bytes
		mod.Memory().WriteUint32Le(uint32(with[0])+4, 0)
		return 0
	})
	one("__wbg_new_16b304a2cfa7ff4a", 0, true, func(_ api.Module, h *held, _ []uint64) uint64 { return h.add(&list{}) })
	one("__wbindgen_string_new", 2, true, func(mod api.Module, h *held, with []uint64) uint64 { return h.add(text(mod, with)) })
	one("__wbg_push_a5b05aedc7234f9f", 2, true, func(mod api.Module, h *held, with []uint64) uint64 {
		to, ok := h.get(uint32(with[0])).(*list)
		if ok {
			*to = append(*to, h.get(uint32(with[1])))
		}
		return uint64(length(mod, to))
	})
	one("__wbg_length_c20a40f15020d68a", 1, true, func(mod api.Module, h *held, with []uint64) uint64 {
		return uint64(length(mod, h.get(uint32(with[0]))))
	})
	one("__wbg_set_a47bac70306a19a7", 3, false, func(mod api.Module, h *held, with []uint64) uint64 {
		from := read(mod, h.get(uint32(with[1])))
		switch to := h.get(uint32(with[0])).(type) {
		case memory:
			mod.Memory().Write(uint32(with[2]), from)
		case view:
			mod.Memory().Write(uint32(to.at)+uint32(with[2]), from)
		}
		return 0
	})
	one("__wbindgen_throw", 2, false, func(mod api.Module, _ *held, with []uint64) uint64 {
		panic(errors.New(text(mod, with))) // wazero hands it to who called
	})
	_, err := b.Instantiate(ctx)
	return err
}
