package facts_test

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
)

// A gAMA chunk holds 100,000 times the inverse of the exponent (PNG, third edition, 11.3.2.2); about 45,455 is
// sRGB itself, and 0 says nothing.
func TestGammaOfAPNG(t *testing.T) {
	t.Parallel()
	plain, err := os.ReadFile("testdata/ordinary/1.png")
	require.NoError(t, err)
	for value, want := range map[uint32]string{0: "", 45_455: "", 44_500: "Gamma 2.247", 44_501: "", 46_499: "", 46_500: "Gamma 2.151", 100_000: "Gamma 1.000", 55_556: "Gamma 1.800"} {
		chunk := binary.BigEndian.AppendUint32([]byte("gAMA"), value)
		data := bytes.Clone(plain[:33]) // the signature and IHDR
		data = append(binary.BigEndian.AppendUint32(data, 4), chunk...)
		data = binary.BigEndian.AppendUint32(data, crc32.ChecksumIEEE(chunk))
		known, err := facts.Read(bytes.NewReader(append(data, plain[33:]...)))
		require.NoError(t, err)
		assert.Equal(t, want, known.Profile, value)
	}
}

// A colour profile of more than 64 kB lies in several segments, which say which they are (ICC.1:2022, annex
// B.4): they are joined in their order, whatever order they come in.
func TestAProfileInSeveralSegments(t *testing.T) {
	t.Parallel()
	plain, err := os.ReadFile("testdata/ordinary/0.jpg")
	require.NoError(t, err)
	part := func(n byte, body string) []byte {
		s := append([]byte("ICC_PROFILE\x00"), n, 3)
		s = append(s, body...)
		return append([]byte{0xff, 0xe2, 0, byte(len(s) + 2)}, s...)
	}
	data := bytes.Clone(plain[:2])
	for _, one := range [][]byte{part(2, "second "), part(1, "first "), part(3, "third")} {
		data = append(data, one...)
	}
	icc, _ := facts.Profile(bytes.NewReader(append(data, plain[2:]...)), "image/jpeg")
	assert.Equal(t, "first second third", string(icc))
}
