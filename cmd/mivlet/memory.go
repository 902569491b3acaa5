package main

import (
	"fmt"
	"runtime/debug"
	"strconv"
	"strings"

	"github.com/KimMachineGun/automemlimit/memlimit"
)

// limitMemory has the program give memory back before it takes more than it should: as
// much as is said, such as 2GB, else three quarters of what the container or the machine
// has. It returns that, in bytes; 0 where nobody knows.
func limitMemory(said string) (int64, error) {
	if said != "" {
		most, err := readBytes(said)
		if err != nil {
			return 0, err
		}
		debug.SetMemoryLimit(most)
		return most, nil
	}
	most, err := memlimit.Set(memlimit.WithRatio(0.75), memlimit.WithProvider(memlimit.ApplyFallback(memlimit.FromCgroup, memlimit.FromSystem)))
	if err != nil {
		return 0, nil // the runtime goes on as it would by itself
	}
	return most, nil
}

// leastMemory is the least that Mivlet can be held to, in bytes.
const leastMemory = 256 << 20

// readBytes reads a number of bytes: 800MB, 2GB or 1500000000.
func readBytes(text string) (int64, error) {
	units := []struct {
		name  string
		bytes int64
	}{{"GB", 1_000_000_000}, {"MB", 1_000_000}, {"", 1}}
	for _, u := range units {
		digits, ok := strings.CutSuffix(strings.ToUpper(strings.TrimSpace(text)), u.name)
		if !ok {
			continue
		}
		n, err := strconv.ParseFloat(strings.TrimSpace(digits), 64)
		if most := n * float64(u.bytes); err == nil && most >= leastMemory && most <= 1<<50 {
			return int64(most), nil
		}
		break
	}
	return 0, fmt.Errorf("%q is no amount of memory: give one such as 800MB or 2GB, 268MB at least", text)
}

// decodingShare is how much of the memory pictures may take while they are decoded: a
// third, and no more than a gibibyte.
func decodingShare(memory int64) int64 {
	if memory <= 0 {
		return 0
	}
	return min(memory/3, 1<<30)
}
