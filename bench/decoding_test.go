package bench

import (
	"bytes"
	"fmt"
	"os/exec"
	"runtime"
	"testing"

	"mivlet/core/fit"
	"mivlet/core/jpegdec"
)

// Decoding alone of a photo of 24 megapixels, as it is, with restart markers after each row of units and
// progressive (by jpegtran of libjpeg-turbo), at an eighth, a quarter, a half and all of its size.
func BenchmarkDecodeEighths(b *testing.B) {
	data, _ := photo(b)
	for _, kind := range []struct {
		name string
		args []string
	}{{"plain", nil}, {"restarts", []string{"-restart", "1"}}, {"progressive", []string{"-progressive"}}} {
		file := data
		if kind.args != nil {
			tran := exec.Command("jpegtran", kind.args...)
			tran.Stdin = bytes.NewReader(data)
			var err error
			if file, err = tran.Output(); err != nil {
				b.Skip("jpegtran is not installed")
			}
		}
		for _, n := range []int{1, 2, 4, 8} {
			for _, processors := range []int{1, 2} {
				b.Run(fmt.Sprintf("%s/%d-eighths/%d-cores", kind.name, n, processors), func(b *testing.B) {
					defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(processors))
					for b.Loop() {
						if _, err := jpegdec.Decode(bytes.NewReader(file), fit.Size{W: 6000 * n / 16, H: 1}); err != nil {
							b.Fatal(err)
						}
					}
				})
			}
		}
	}
}
