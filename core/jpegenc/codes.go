package jpegenc

import "slices"

// counts is how often each symbol is written.
type counts [256]int

// codes are a Huffman table: for each symbol its code, and how many bits it has.
type codes struct {
	code   [256]uint16
	bits   [256]uint8
	ofBits [17]uint8 // how many codes have as many bits
	order  []uint8   // symbols, from the shortest code to the longest
}

// longest is how many bits a code may have.
const longest = 16

// codesFor makes the codes that write symbols with the fewest bits (T.81, K.2). No code is all
// ones: a symbol that is never written takes that one.
func codesFor(often *counts) *codes {
	length := lengths(often)
	c := &codes{}
	for n := 1; n <= longest; n++ {
		for s, l := range length {
			if int(l) == n {
				c.order = append(c.order, uint8(s))
				c.ofBits[n]++
			}
		}
	}
	code := uint16(0)
	at := 0
	for n := 1; n <= longest; n++ {
		for range c.ofBits[n] {
			s := c.order[at]
			c.code[s], c.bits[s] = code, uint8(n)
			code++
			at++
		}
		code <<= 1
	}
	return c
}

// lengths returns how many bits each symbol's code has; 0 for one that does not occur.
func lengths(often *counts) (length [256]uint8) {
	const nobody = 256 // takes the code that is all ones
	type tree struct {
		weight  int
		symbols []int
	}
	var forest []tree
	for s, n := range often {
		if n > 0 {
			forest = append(forest, tree{n, []int{s}})
		}
	}
	forest = append(forest, tree{1, []int{nobody}}) // last, so that it comes to lie deepest
	var depth [257]int
	for len(forest) > 1 {
		slices.SortStableFunc(forest, func(a, b tree) int { return b.weight - a.weight })
		a, b := forest[len(forest)-1], forest[len(forest)-2]
		for _, s := range a.symbols {
			depth[s]++
		}
		for _, s := range b.symbols {
			depth[s]++
		}
		forest = append(forest[:len(forest)-2], tree{a.weight + b.weight, append(slices.Clone(b.symbols), a.symbols...)})
	}
	// How many codes have each length, with those that are too long brought up (K.3).
	most := slices.Max(depth[:])
	have := make([]int, max(most, longest)+1)
	for _, d := range depth {
		if d > 0 {
			have[d]++
		}
	}
	for n := len(have) - 1; n > longest; n-- {
		for have[n] > 0 {
			shorter := n - 2
			for have[shorter] == 0 {
				shorter--
			}
			have[n] -= 2
			have[n-1]++
			have[shorter+1] += 2
			have[shorter]--
		}
	}
	last := longest
	for last > 0 && have[last] == 0 {
		last--
	}
	have[last]-- // nobody's
	// The most frequent symbols take the shortest codes.
	symbols := make([]int, 0, 256)
	for s, n := range often {
		if n > 0 {
			symbols = append(symbols, s)
		}
	}
	slices.SortStableFunc(symbols, func(a, b int) int { return often[b] - often[a] })
	at := 0
	for n := 1; n <= longest; n++ {
		for range have[n] {
			length[symbols[at]] = uint8(n)
			at++
		}
	}
	return length
}
