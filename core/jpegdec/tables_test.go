package jpegdec_test

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/jpeg"
	"os"
	"path/filepath"
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/jpegdec"
	"mivlet/internal/reference"
)

// The markers that are changed below (T.81, table B.1).
const (
	sof0, sof1, dht, sos, dqt, com = 0xc0, 0xc1, 0xc4, 0xda, 0xdb, 0xfe
)

// changed is a JPEG whose segments were changed one by one; nil takes one away.
func changed(data []byte, change func(marker byte, body []byte) (byte, []byte)) []byte {
	out := bytes.Clone(data[:2])
	for at := 2; at < len(data); {
		n := int(binary.BigEndian.Uint16(data[at+2:]))
		marker, body := change(data[at+1], bytes.Clone(data[at+4:at+2+n]))
		if body != nil {
			out = append(out, 0xff, marker, byte((len(body)+2)>>8), byte(len(body)+2))
			out = append(out, body...)
		}
		at += 2 + n
		if marker == sos {
			return append(out, data[at:]...)
		}
	}
	return out
}

// eachTable goes through the tables of a DQT or DHT segment, of which it is told how long one is.
func eachTable(body []byte, length func(one []byte) int, change func(one []byte) []byte) []byte {
	out := []byte{}
	for len(body) > 0 {
		n := length(body)
		out = append(out, change(bytes.Clone(body[:n]))...)
		body = body[n:]
	}
	return out
}

func steps(one []byte) int { return 1 + 64*(1+int(one[0]>>4)) }

func codes(one []byte) int {
	n := 17
	for _, c := range one[1:17] {
		n += int(c)
	}
	return n
}

// Tables may lie anywhere that the standard allows, and be as deep (T.81, B.2.4.1 and B.2.4.2; four of each
// but for the baseline): the picture is the same.
func TestTablesWhereverTheyLie(t *testing.T) {
	t.Parallel()
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, scene(70, 50), &jpeg.Options{Quality: 85}))
	data := b.Bytes()
	want, err := jpegdec.Decode(bytes.NewReader(data), fit.Size{})
	require.NoError(t, err)
	moved := func(id byte) byte { return 3 - id } // 0 to 3, 1 to 2
	for name, change := range map[string]func(byte, []byte) (byte, []byte){
		"as they are": func(m byte, body []byte) (byte, []byte) { return m, body },
		"steps of 16 bits": func(m byte, body []byte) (byte, []byte) {
			if m != dqt {
				return m, body
			}
			return m, eachTable(body, steps, func(one []byte) []byte {
				deep := []byte{one[0] | 0x10}
				for _, v := range one[1:] {
					deep = append(deep, 0, v)
				}
				return deep
			})
		},
		"other places of steps": func(m byte, body []byte) (byte, []byte) {
			switch m {
			case dqt:
				body = eachTable(body, steps, func(one []byte) []byte { one[0] = moved(one[0]); return one })
			case sof0:
				for i := 6; i < len(body); i += 3 {
					body[i+2] = moved(body[i+2])
				}
			}
			return m, body
		},
		"other places of codes": func(m byte, body []byte) (byte, []byte) {
			switch m {
			case sof0:
				m = sof1
			case dht:
				body = eachTable(body, codes, func(one []byte) []byte { one[0] = one[0]&0xf0 | moved(one[0]&15); return one })
			case sos:
				for i := 1; i <= 2*int(body[0]); i += 2 {
					body[i+1] = moved(body[i+1]>>4)<<4 | moved(body[i+1]&15)
				}
			}
			return m, body
		},
		"each table in a segment of its own, and all twice": func(m byte, body []byte) (byte, []byte) {
			if m == dqt {
				body = append(body, body...)
			}
			return m, body
		},
	} {
		made := changed(data, change)
		if name == "each table in a segment of its own, and all twice" {
			made = append(append(bytes.Clone(made[:2]), 0xff, com, 0, 2), made[2:]...) // a remark of no words
		}
		got, err := jpegdec.Decode(bytes.NewReader(made), fit.Size{})
		if assert.NoError(t, err, name) {
			assert.True(t, reflect.DeepEqual(want.Planes, got.Planes), name)
		}
	}
}

// What no file may say is told as damage, at the limit and beyond.
func TestTablesThatCannotBe(t *testing.T) {
	t.Parallel()
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, scene(70, 50), nil))
	for name, change := range map[string]func(byte, []byte) (byte, []byte){
		"a fifth table of steps": func(m byte, body []byte) (byte, []byte) {
			if m == dqt {
				body[0] = 4
			}
			return m, body
		},
		"steps of 24 bits": func(m byte, body []byte) (byte, []byte) {
			if m == dqt {
				body[0] |= 0x20
			}
			return m, body
		},
		"steps that end too soon": func(m byte, body []byte) (byte, []byte) {
			if m == dqt {
				body = body[:len(body)-1]
			}
			return m, body
		},
		"deep steps that end too soon": func(m byte, body []byte) (byte, []byte) {
			if m == dqt {
				body[0] |= 0x10
				body = body[:128]
			}
			return m, body
		},
		"no part of the width": func(m byte, body []byte) (byte, []byte) {
			if m == sof0 {
				body[7] = 0x02
			}
			return m, body
		},
		"five parts of the height": func(m byte, body []byte) (byte, []byte) {
			if m == sof0 {
				body[7] = 0x25
			}
			return m, body
		},
		"steps of a fifth table": func(m byte, body []byte) (byte, []byte) {
			if m == sof0 {
				body[8] = 4
			}
			return m, body
		},
		"codes of a fifth table": func(m byte, body []byte) (byte, []byte) {
			if m == sos {
				body[2] = 0x04
			}
			return m, body
		},
		"first codes of a fifth table": func(m byte, body []byte) (byte, []byte) {
			if m == sos {
				body[2] = 0x40
			}
			return m, body
		},
		"two heads": func(m byte, body []byte) (byte, []byte) {
			if m == dht {
				return sof0, []byte{8, 0, 50, 0, 70, 1, 1, 0x11, 0}
			}
			return m, body
		},
		"no width": func(m byte, body []byte) (byte, []byte) {
			if m == sof0 {
				body[3], body[4] = 0, 0
			}
			return m, body
		},
	} {
		_, err := jpegdec.Decode(bytes.NewReader(changed(b.Bytes(), change)), fit.Size{})
		var damage jpegdec.DamageError
		assert.ErrorAs(t, err, &damage, name)
	}
}

// How a file keeps its chroma is what the standard library says, in all ways that cjpeg writes.
func TestSamplings(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	ppm := filepath.Join(filepath.Dir(written(t, scene(50, 41), "-quality", "90")), "in.ppm")
	for _, sample := range []string{"1x1", "2x1", "1x2", "2x2", "1x4", "4x2"} {
		to := filepath.Join(dir, sample+".jpg")
		reference.Run(t, "cjpeg", "-sample", sample, "-outfile", to, ppm)
		data, err := os.ReadFile(to)
		require.NoError(t, err)
		got, err := jpegdec.Decode(bytes.NewReader(data), fit.Size{})
		if sample[0] == '4' || sample[2] == '4' {
			assert.ErrorIs(t, err, jpegdec.ErrOther, sample)
			continue
		}
		require.NoError(t, err, sample)
		want, err := jpeg.Decode(bytes.NewReader(data))
		require.NoError(t, err)
		assert.Equal(t, want.(*image.YCbCr).SubsampleRatio, got.Sampling, sample)
	}
}
