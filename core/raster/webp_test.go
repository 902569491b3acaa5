package raster

import (
	"bytes"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
)

// What a WebP is judged by is what libwebp's own tool reads from it.
func TestWebPIsJudgedByWhatIsSeen(t *testing.T) {
	data, err := os.ReadFile("../../demo/pictures/P1040860.JPG")
	require.NoError(t, err)
	known, err := facts.Read(bytes.NewReader(data))
	require.NoError(t, err)
	s, err := Decode(bytes.NewReader(data), known, Limits{})
	require.NoError(t, err)
	cut := s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 240))
	for _, quality := range []int{30, 60, 90} {
		made, err := Encode(cut, Options{Format: WebP, Quality: quality})
		require.NoError(t, err)
		at := filepath.Join(t.TempDir(), "a")
		require.NoError(t, os.WriteFile(at+".webp", made.Data, 0o600))
		out, err := exec.Command("dwebp", at+".webp", "-o", at+".png").CombinedOutput()
		require.NoError(t, err, string(out))
		f, err := os.Open(at + ".png")
		require.NoError(t, err)
		seen, err := png.Decode(f)
		require.NoError(t, err)
		require.NoError(t, f.Close())
		assert.InDelta(t, ssim(luma(cut), luma(seen), sparse, 0), made.SSIM, 0.001, "quality %d", quality)
	}
}
