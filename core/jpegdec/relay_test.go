package jpegdec_test

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"image/jpeg"
	"os"
	"runtime"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/jpegdec"
)

// A file of many rows and scans, and one of many stretches between restart markers, give the same on
// any number of processors, and what the standard library gives.
func TestWhatIsReadSideBySideIsWhatIsReadInTurn(t *testing.T) {
	for _, args := range [][]string{
		{"-quality", "97"},
		{"-quality", "97", "-sample", "2x1"},
		{"-quality", "97", "-sample", "1x1", "-optimize"},
		{"-quality", "95", "-progressive"},
		{"-quality", "95", "-progressive", "-sample", "1x1"},
		{"-quality", "97", "-restart", "1"},  // after each row of units
		{"-quality", "97", "-restart", "2"},  // after each two
		{"-quality", "97", "-restart", "5B"}, // so that 20 of them are a row
		{"-quality", "97", "-restart", "7B"}, // which never ends with one
		{"-quality", "97", "-restart", "1B"},
		{"-quality", "97", "-restart", "1", "-grayscale"},
	} {
		name := written(t, scene(1600, 1200), args...)
		data, err := os.ReadFile(name)
		require.NoError(t, err)
		want, err := jpeg.Decode(bytes.NewReader(data))
		require.NoError(t, err)
		for _, wanted := range []fit.Size{{}, {W: 400, H: 300}, {W: 200, H: 150}, {W: 100, H: 75}} {
			got := read(t, name, wanted)
			if wanted.W == 0 {
				assertNear(t, luma(want), luma(got.Planes), 1)
			}
			for _, processors := range []int{1, 2, 7} {
				before := runtime.GOMAXPROCS(processors)
				again := read(t, name, wanted)
				runtime.GOMAXPROCS(before)
				require.Equal(t, got, again, "%v for %v on %d", args, wanted, processors)
			}
		}
	}
}

// markersOf are the places of a kind of marker in a file.
func markersOf(data []byte, from, to byte) (places []int) {
	for i := range data[:len(data)-1] {
		if m := data[i+1]; data[i] == 0xFF && m >= from && m <= to {
			places = append(places, i)
		}
	}
	return places
}

func TestRestartMarkersOutOfOrder(t *testing.T) {
	data, err := os.ReadFile(written(t, scene(1600, 1200), "-quality", "97", "-restart", "1"))
	require.NoError(t, err)
	all := markersOf(data, 0xD0, 0xD7)
	require.Len(t, all, 74)
	for _, i := range []int{0, 1, 5, 36, 72, 73} {
		broken := bytes.Clone(data)
		broken[all[i]+1] ^= 4
		_, err := jpegdec.Decode(bytes.NewReader(broken), fit.Size{})
		assert.EqualError(t, err, "damaged JPEG: a restart marker that is out of order", "the marker %d", i)

		left := append(bytes.Clone(data[:all[i]]), data[all[i]+2:]...) // left out
		_, err = jpegdec.Decode(bytes.NewReader(left), fit.Size{})
		var damage jpegdec.DamageError
		assert.ErrorAs(t, err, &damage, "without the marker %d", i)
	}
	one := append(bytes.Clone(data[:len(data)-2]), 0xFF, 0xD2, 0xFF, 0xD9) // one too many, after all of it
	_, err = jpegdec.Decode(bytes.NewReader(one), fit.Size{})
	assert.NoError(t, err)
}

// What is told is what is wrong with the first scan in which something is, whichever is read first.
func TestTheFirstDamageIsTold(t *testing.T) {
	data, err := os.ReadFile(written(t, scene(640, 480), "-quality", "90", "-progressive"))
	require.NoError(t, err)
	heads := markersOf(data, 0xDA, 0xDA)
	require.Len(t, heads, 10)
	// A scan without its bytes ends too soon.
	broken := bytes.Clone(data)
	for _, i := range []int{7, 3} {
		start := heads[i] + 2 + int(binary.BigEndian.Uint16(broken[heads[i]+2:]))
		end := start
		for broken[end] != 0xFF || broken[end+1] == 0 {
			end++
		}
		broken = append(broken[:start], broken[end:]...)
	}
	// And one of the last ones is about what cannot be.
	last := markersOf(broken, 0xDA, 0xDA)[9]
	broken[last+4] = 9 // components
	for range 50 {
		_, err := jpegdec.Decode(bytes.NewReader(broken), fit.Size{})
		require.EqualError(t, err, "damaged JPEG: a scan that ends too soon")
	}
}

// A file of very many scans is refused before it has cost much.
func TestScansWithoutEnd(t *testing.T) {
	data, err := os.ReadFile(written(t, smooth(64, 64), "-quality", "50", "-progressive", "-grayscale"))
	require.NoError(t, err)
	heads := markersOf(data, 0xDA, 0xDA)
	again := data[heads[1]:]
	end := bytes.Index(again, []byte{0xFF, 0xC4})
	require.Positive(t, end)
	for _, c := range []struct {
		times int
		want  error
	}{{400, nil}, {600, errors.New("damaged JPEG: more scans than make sense")}} {
		long := append(bytes.Clone(data[:heads[1]]), bytes.Repeat(again[:end], c.times)...)
		_, err := jpegdec.Decode(bytes.NewReader(append(long, again...)), fit.Size{})
		assert.Equal(t, fmt.Sprint(c.want), fmt.Sprint(err), "%d scans", c.times)
	}
}
