package icc_test

import (
	"encoding/binary"
	"fmt"
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/icc"
)

const (
	printer = "/usr/share/color/icc/ghostscript/default_cmyk.icc"
	plain   = "/usr/share/color/icc/ghostscript/ps_cmyk.icc"
	greyLab = "/usr/share/color/icc/Gray-CIE_L.icc"
)

func read(t *testing.T, file string) []byte {
	t.Helper()
	data, err := os.ReadFile(file)
	require.NoError(t, err)
	return data
}

// littleCMS is what Little CMS makes of colours of a profile, in a space that it knows by name.
func littleCMS(t *testing.T, profile, to string, colours [][]float64) (all [][3]float64) {
	t.Helper()
	var in strings.Builder
	for _, c := range colours {
		fmt.Fprintln(&in, strings.Trim(fmt.Sprint(c), "[]"))
	}
	cmd := exec.Command("transicc", "-n", "-t0", "-i", profile, "-o", to)
	cmd.Stdin = strings.NewReader(in.String())
	out, err := cmd.Output()
	require.NoError(t, err)
	for line := range strings.Lines(string(out)) {
		var c [3]float64
		if n, _ := fmt.Sscan(line, &c[0], &c[1], &c[2]); n == 3 {
			all = append(all, c)
		}
	}
	require.Len(t, all, len(colours))
	return all
}

// some colours of a device, each channel from 0 to most.
func some(channels int, most float64) (all [][]float64) {
	r := rand.New(rand.NewPCG(5, 8))
	for i := range 300 {
		c := make([]float64, channels)
		for k := range c {
			c[k] = math.Round(r.Float64() * most)
			if i < 1<<channels { // the corners
				c[k] = most * float64(i>>k&1)
			}
		}
		all = append(all, c)
	}
	return all
}

func scaled(c []float64, by float64) []float64 {
	out := make([]float64, len(c))
	for i, v := range c {
		out[i] = v * by
	}
	return out
}

func scaled3(c [3]float64, by float64) [3]float64 { return [3]float64(scaled(c[:], by)) }

// lab is a colour of the connection space as L*, a* and b* (CIE 15).
func lab(xyz [3]float64) [3]float64 {
	f := func(v float64) float64 {
		if v > 216.0/24389 {
			return math.Cbrt(v)
		}
		return (24389.0/27*v + 16) / 116
	}
	x, y, z := f(xyz[0]/0.9642), f(xyz[1]), f(xyz[2]/0.8249)
	return [3]float64{116*y - 16, 500 * (x - y), 200 * (y - z)}
}

func apart(a, b [3]float64) float64 {
	return math.Sqrt((a[0]-b[0])*(a[0]-b[0]) + (a[1]-b[1])*(a[1]-b[1]) + (a[2]-b[2])*(a[2]-b[2]))
}

// Colours of printers' profiles, of tables that lead to Lab and to XYZ, as Little CMS finds them: it
// looks between entries by tetrahedra, which differs by about one where a table is coarse. A difference
// of 2.3 is just seen (common practice).
func TestPrintersAgainstLittleCMS(t *testing.T) {
	table, colours := icc.ReadTable(read(t, printer)), some(4, 100)
	require.NotNil(t, table)
	worst, sum := 0.0, 0.0
	for i, want := range littleCMS(t, printer, "*Lab2", colours) {
		d := apart(want, lab(table.XYZ(scaled(colours[i], 0.01))))
		worst, sum = max(worst, d), sum+d
	}
	assert.Less(t, worst, 2.3)
	assert.Less(t, sum/float64(len(colours)), 0.5)

	// The other one leads to XYZ and has entries at its corners only, so that these alone are certain.
	table, colours = icc.ReadTable(read(t, plain)), colours[:16]
	require.NotNil(t, table)
	for i, want := range littleCMS(t, plain, "*XYZ", colours) {
		assert.Less(t, apart(want, scaled3(table.XYZ(scaled(colours[i], 0.01)), 100)), 0.6, "%v: it is stretched to the black of a newer profile there", colours[i])
	}
}

// A profile that is made of tables of RGB, of each kind, as a scanner has one: colours as Little CMS
// finds them.
func TestScannersAgainstLittleCMS(t *testing.T) {
	for kind, tag := range map[string][]byte{"mft1": lut8(), "mft2": lut16(), "mAB ": elements(true), "mAB  without a table": elements(false)} {
		file := filepath.Join(t.TempDir(), "p.icc")
		data := profile("RGB ", "Lab ", tag)
		require.NoError(t, os.WriteFile(file, data, 0o600))
		table := icc.ReadTable(data)
		require.NotNil(t, table, kind)
		colours := some(3, 255)
		for i, want := range littleCMS(t, file, "*Lab2", colours) {
			assert.Less(t, apart(want, lab(table.XYZ(scaled(colours[i], 1.0/255)))), 1.5, "%s of %v", kind, colours[i])
		}
	}
}

// A picture in a printer's colours comes out in sRGB about as Little CMS has it, where sRGB holds it:
// black is black, as it has it when it leads from paper to a screen.
func TestConvert(t *testing.T) {
	colours := some(4, 100)
	m := image.NewCMYK(image.Rect(0, 0, len(colours), 1))
	for x, c := range colours {
		m.SetCMYK(x, 0, color.CMYK{uint8(math.Round(c[0] * 2.55)), uint8(math.Round(c[1] * 2.55)), uint8(math.Round(c[2] * 2.55)), uint8(math.Round(c[3] * 2.55))})
	}
	g := icc.Read(read(t, printer))
	require.NotNil(t, g)
	assert.Nil(t, g.Convert(image.NewGray(m.Rect)), "a picture of other channels is none of its")
	out := g.Convert(m).(*image.RGBA)
	worst, sum := 0.0, 0.0
	for x, want := range littleCMS(t, printer, "*sRGB", colours) {
		for i := range want {
			want[i] = min(max(want[i], 0), 255)
		}
		c := out.RGBAAt(x, 0)
		d := apart(want, [3]float64{float64(c.R), float64(c.G), float64(c.B)})
		worst, sum = max(worst, d), sum+d
	}
	assert.Less(t, worst, 9.0)
	assert.Less(t, sum/float64(len(colours)), 3.0)
	assert.Equal(t, color.RGBA{255, 255, 255, 255}, out.RGBAAt(0, 0), "paper is white")
	assert.Less(t, out.RGBAAt(15, 0).R, uint8(4), "all inks are black")
}

// RGB pictures keep their transparency, and other profiles are none of this package's grids.
func TestGridsOfOthers(t *testing.T) {
	g := icc.Read(profile("RGB ", "Lab ", lut8()))
	require.NotNil(t, g)
	m := image.NewNRGBA(image.Rect(0, 0, 2, 1))
	m.SetNRGBA(0, 0, color.NRGBA{200, 100, 50, 90})
	m.SetNRGBA(1, 0, color.NRGBA{200, 100, 50, 255})
	out := g.Convert(m).(*image.NRGBA)
	assert.Equal(t, uint8(90), out.NRGBAAt(0, 0).A)
	a, b := out.NRGBAAt(0, 0), out.NRGBAAt(1, 0)
	assert.Equal(t, [3]uint8{b.R, b.G, b.B}, [3]uint8{a.R, a.G, a.B})
	grey := g.Convert(image.NewGray(image.Rect(0, 0, 3, 3)))
	assert.True(t, grey.(*image.RGBA).Opaque())

	for _, none := range [][]byte{nil, []byte("no profile"), read(t, greyLab), read(t, "/usr/share/color/icc/sRGB.icc"), read(t, "/usr/share/color/icc/ITULab.icc")} {
		assert.Nil(t, icc.Read(none))
	}
}

// The light of lightness, as Little CMS has it for a grey profile that tells lightness.
func TestLuminance(t *testing.T) {
	p := read(t, greyLab)
	assert.Equal(t, "GRAY", icc.Device(p))
	assert.Equal(t, "Lab ", icc.Connection(p))
	curve, _ := icc.ReadCurve(icc.Tag(p, "kTRC"))
	require.NotNil(t, curve)
	var colours [][]float64
	for v := 0.0; v <= 255; v += 15 {
		colours = append(colours, []float64{v})
	}
	for i, want := range littleCMS(t, greyLab, "*XYZ", colours) {
		assert.InDelta(t, want[1]/100, icc.Luminance(curve(colours[i][0]/255)), 0.002)
	}
}

// Profiles that are cut off or spoiled give no table or one that gives colours, and nothing panics.
func TestSpoiledProfiles(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 9))
	for _, tag := range [][]byte{lut8(), lut16(), elements(true)} {
		whole := profile("RGB ", "Lab ", tag)
		for range 400 {
			data := append([]byte(nil), whole...)
			for range 1 + r.IntN(4) {
				data[r.IntN(min(len(data), 400))] = byte(r.Uint32())
			}
			if r.IntN(2) == 0 {
				data = data[:r.IntN(len(data))]
			}
			if table := icc.ReadTable(data); table != nil && icc.Device(data) == "RGB " {
				table.XYZ([]float64{0.2, 1, 0.7})
			}
		}
	}
}

// A curve that gives what is no number (there is no root of less than nothing), before a table or at the
// end, gives colours all the same.
func TestCurvesOfNoNumbers(t *testing.T) {
	root := append([]byte("para\x00\x00\x00\x00\x00\x01\x00\x00"), fixed(0.5, -1, -1)...)
	last := append([]byte("mAB \x00\x00\x00\x00"), 3, 3, 0, 0)
	last = append(last, make([]byte, 20)...)
	binary.BigEndian.PutUint32(last[12:], uint32(len(last)))
	for range 3 {
		last = append(last, root...)
	}
	for name, tag := range map[string][]byte{"before a table": elementsAfter(root), "at the end": last} {
		data := profile("RGB ", "Lab ", tag)
		require.NotNil(t, icc.ReadTable(data), name)
		m := icc.Read(data).Convert(image.NewGray(image.Rect(0, 0, 4, 4)))
		assert.Equal(t, image.Rect(0, 0, 4, 4), m.Bounds())
	}
}

// fixed are numbers with sixteen bits behind the point.
func fixed(all ...float64) (b []byte) {
	for _, v := range all {
		b = binary.BigEndian.AppendUint32(b, uint32(int32(math.Round(v*65536))))
	}
	return b
}

// profile is one with a single table.
func profile(device, connection string, tag []byte) []byte {
	b := make([]byte, 132+12)
	copy(b[8:], []byte{2, 0x40, 0, 0})
	if string(tag[:4]) == "mAB " {
		b[8] = 4
	}
	copy(b[12:], "scnr"+device+connection)
	copy(b[36:], "acsp")
	copy(b[68:], fixed(0.9642, 1, 0.8249))
	binary.BigEndian.PutUint32(b[128:], 1)
	copy(b[132:], "A2B0")
	binary.BigEndian.PutUint32(b[136:], uint32(len(b)))
	binary.BigEndian.PutUint32(b[140:], uint32(len(tag)))
	b = append(b, tag...)
	binary.BigEndian.PutUint32(b, uint32(len(b)))
	return b
}

const points = 5

// invented is what the entries of the invented tables say: smooth, and unlike in each channel.
func invented(i, j, k int) [3]float64 {
	r, g, b := float64(i)/(points-1), float64(j)/(points-1), float64(k)/(points-1)
	return [3]float64{0.05 + 0.9*(0.3*r+0.6*g+0.1*b), 0.5 + 0.2*(r-g), 0.5 + 0.15*(g-b)}
}

func entries(put func(v float64)) {
	for i := range points {
		for j := range points {
			for k := range points {
				for _, v := range invented(i, j, k) {
					put(v)
				}
			}
		}
	}
}

func lut8() []byte {
	b := append([]byte("mft1\x00\x00\x00\x00"), 3, 3, points, 0)
	b = append(b, unit()...)
	for range 3 {
		for i := range 256 {
			b = append(b, byte(math.Round(255*math.Pow(float64(i)/255, 0.8))))
		}
	}
	entries(func(v float64) { b = append(b, byte(math.Round(255*v))) })
	for range 3 {
		for i := range 256 {
			b = append(b, byte(i))
		}
	}
	return b
}

func lut16() []byte {
	b := append([]byte("mft2\x00\x00\x00\x00"), 3, 3, points, 0)
	b = append(b, unit()...)
	put := func(v float64) { b = binary.BigEndian.AppendUint16(b, uint16(math.Round(65535*v))) }
	b = binary.BigEndian.AppendUint16(b, 9)
	b = binary.BigEndian.AppendUint16(b, 2)
	for range 3 {
		for i := range 9 {
			put(math.Pow(float64(i)/8, 1.4))
		}
	}
	entries(put)
	for range 3 {
		put(0.02)
		put(0.97)
	}
	return b
}

// unit is the matrix that changes nothing.
func unit() (b []byte) {
	for i := range 9 {
		v := uint32(0)
		if i%4 == 0 {
			v = 65536
		}
		b = binary.BigEndian.AppendUint32(b, v)
	}
	return b
}

// elements is a table of the newer kind: with all its parts, or with a matrix and curves alone.
func elements(all bool) []byte {
	if !all {
		return elementsAfter(nil)
	}
	return elementsAfter(gamma(1.3))
}

// gamma is a curve of one exponent.
func gamma(v float64) []byte {
	return append([]byte("para\x00\x00\x00\x00\x00\x00\x00\x00"), fixed(v)...)
}

// elementsAfter is a table after three times a curve; without one, there is no table either.
func elementsAfter(first []byte) []byte {
	b := append([]byte("mAB \x00\x00\x00\x00"), 3, 3, 0, 0)
	b = append(b, make([]byte, 20)...)
	here := func(at int) { binary.BigEndian.PutUint32(b[at:], uint32(len(b))) }
	curves := func(at int, curve []byte) {
		here(at)
		for range 3 {
			b = append(b, curve...)
		}
	}
	if first != nil {
		curves(28, first)
		here(24)
		b = append(b, points, points, points)
		b = append(b, make([]byte, 13)...)
		b = append(b, 1, 0, 0, 0)
		entries(func(v float64) { b = append(b, byte(math.Round(255*v))) })
		for len(b)%4 > 0 {
			b = append(b, 0)
		}
	}
	curves(20, gamma(0.9))
	here(16)
	b = append(b, fixed(0.9, 0.05, 0, 0.02, 0.8, 0.1, 0, 0.1, 0.85, 0.01, 0.03, 0)...)
	curves(12, gamma(1))
	return b
}
