package e2e

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// claims is a PNG that says it measures 60,000 × 60,000 pixels.
func claims() []byte {
	header := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32([]byte("IHDR"), 60_000), 60_000)
	header = append(header, 8, 2, 0, 0, 0)
	data := append([]byte("\x89PNG\r\n\x1a\n\x00\x00\x00\x0d"), header...)
	return binary.BigEndian.AppendUint32(data, crc32.ChecksumIEEE(header))
}

// What is no picture, too large or cut off is refused with its reason, and the
// good one among them goes on.
func TestBadFilesAreRefusedWithTheirReasons(t *testing.T) {
	h := start(t, "serve")
	p := open(t, browser(t), h.app+"/arrivals", 1280, 800, 1)
	photo, err := os.ReadFile(demoPicture(t, "IMG_2101.JPG"))
	require.NoError(t, err)

	dir := t.TempDir()
	write := func(name string, data []byte) string {
		path := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(path, data, 0o600))
		return path
	}
	huge := filepath.Join(dir, "panorama.jpg")
	f, err := os.Create(huge)
	require.NoError(t, err)
	require.NoError(t, f.Truncate(300_000_000))
	require.NoError(t, f.Close())

	drop(t, p, "#strip",
		write("letter.jpg", []byte("Dear club, please find the photo attached.\n")),
		write("nothing.jpg", nil),
		write("half.jpg", photo[:len(photo)/2]),
		write("claims.png", claims()),
		huge,
		write("good.jpg", photo),
	)
	row := waitText(t, p, "#waiting .row", "good.jpg")
	assert.Contains(t, row.MustText(), "1600 × 2000")
	assert.Contains(t, row.MustText(), "On its side")
	for name, reason := range map[string]string{
		"letter.jpg":   "is not a picture: its content is text",
		"nothing.jpg":  "is empty",
		"half.jpg":     "ends in the middle of the picture",
		"claims.png":   "60000 × 60000",
		"panorama.jpg": "larger than 60 MB",
	} {
		waitText(t, p, "#coming .refused", name+".*"+reason)
	}
	assert.Len(t, p.MustElements("#waiting .row"), 1)
	assert.Equal(t, 3, kept(t, h), "the original, its working copy and its thumbnail; nothing of what was refused")
}

// kept counts the files in the data folder's store.
func kept(t *testing.T, h house) int {
	t.Helper()
	n := 0
	require.NoError(t, filepath.WalkDir(filepath.Join(h.data, "files"), func(_ string, d os.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			n++
		}
		return err
	}))
	return n
}

// The server itself refuses 300 MB as soon as it hears of them, and also when
// it is not told how much will come.
func TestTooMuchIsRefusedByTheServer(t *testing.T) {
	h := start(t, "serve")
	for name, body := range map[string]io.Reader{
		"announced": io.LimitReader(zeros{}, 300_000_000),
		"streamed":  io.MultiReader(bytes.NewReader([]byte("\xff\xd8\xff\xe0")), io.LimitReader(zeros{}, 300_000_000)),
	} {
		req, err := http.NewRequest(http.MethodPost, h.app+"/arrivals", body)
		require.NoError(t, err)
		if name == "announced" {
			req.ContentLength = 300_000_000
		}
		req.Header.Set("X-File-Name", "huge.jpg")
		res, err := h.client.Do(req)
		if err != nil {
			// The server may hang up while the client still sends: that is a refusal, too.
			assert.NotContains(t, err.Error(), "timeout", name)
			continue
		}
		data, _ := io.ReadAll(res.Body)
		res.Body.Close()
		assert.Equal(t, http.StatusRequestEntityTooLarge, res.StatusCode, name)
		assert.Contains(t, string(data), "60 MB", name)
	}
	assert.Zero(t, kept(t, h))
}

type zeros struct{}

func (zeros) Read(p []byte) (int, error) { clear(p); return len(p), nil }
