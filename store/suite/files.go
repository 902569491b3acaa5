// Package suite holds every way of keeping records and files to the same: an implementation
// of [store.Records] or [store.Files] is one when its package's tests run these.
package suite

import (
	"bytes"
	"errors"
	"io"
	"math/rand/v2"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/store"
)

// ABC is the SHA-256 of "abc" (FIPS 180-4, example 1).
const ABC = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"

// nowhere is the form of a hash, of a content that nobody keeps.
var nowhere = strings.Repeat("0", 64)

// Files runs what every way of keeping files must do; open gives an empty one.
func Files(t *testing.T, open func(t *testing.T) store.Files) {
	for name, test := range map[string]func(*testing.T, store.Files){
		"named by their content, kept once":        filesAreKeptOnce,
		"their media types stay":                   mediaTypesStay,
		"read from anywhere":                       filesAreRead,
		"a range of them":                          rangesAreRead,
		"what is not there":                        missingFiles,
		"what breaks off leaves nothing":           brokenOffFiles,
		"what is discarded leaves nothing":         discardedFiles,
		"listed":                                   filesAreListed,
		"deleted":                                  filesAreDeleted,
		"deleted where they were not kept lately":  oldFilesAreDeleted,
		"one content kept by many at once":         manyKeepOne,
		"kept and swept at once: nothing is lost":  keptBesideSweeps,
		"the same bytes come back, of any content": anyContent,
	} {
		t.Run(name, func(t *testing.T) { test(t, open(t)) })
	}
}

func put(t *testing.T, f store.Files, text, mediaType string) string {
	t.Helper()
	hash, err := f.Put(strings.NewReader(text), mediaType)
	require.NoError(t, err)
	return hash
}

func read(t *testing.T, f store.Files, hash string) string {
	t.Helper()
	r, err := f.Open(hash)
	require.NoError(t, err)
	defer r.Close()
	data, err := io.ReadAll(r)
	require.NoError(t, err)
	return string(data)
}

// list returns the files by their hashes.
func list(t *testing.T, f store.Files) map[string]store.FileInfo {
	t.Helper()
	all := map[string]store.FileInfo{}
	require.NoError(t, f.List(func(info store.FileInfo) error {
		assert.NotContains(t, all, info.Hash, "listed twice")
		all[info.Hash] = info
		return nil
	}))
	return all
}

func filesAreKeptOnce(t *testing.T, f store.Files) {
	for range 2 {
		assert.Equal(t, ABC, put(t, f, "abc", "text/plain"))
	}
	assert.Len(t, list(t, f), 1)
	assert.True(t, f.Has(ABC))
	assert.Equal(t, "abc", read(t, f, ABC))
	in, err := f.Receive(strings.NewReader("abc"))
	require.NoError(t, err)
	assert.Equal(t, ABC, in.Hash)
	assert.EqualValues(t, 3, in.Bytes)
	data, err := io.ReadAll(in)
	require.NoError(t, err)
	assert.Equal(t, "abc", string(data), "it can be read before it is kept")
	require.NoError(t, in.Keep("text/plain"))
	in.Discard()
	assert.Equal(t, "abc", read(t, f, ABC), "discarding what was kept does nothing")
}

func mediaTypesStay(t *testing.T, f store.Files) {
	png := "\x89PNG\x0d\x0a\x1a\x0a\x00\x00\x00\x0dIHDR" // PNG, 5.2: its signature
	for text, kind := range map[string]string{png: "image/png", "a,b\n1,2\n": "text/csv", "<svg/>": "image/svg+xml", "body{}": "text/css; charset=utf-8",
		"{}": "application/json", "<p>a": "text/html; charset=utf-8", "\x00\x00\x00\x1cftypavif": "image/avif"} {
		hash := put(t, f, text, kind)
		info, err := f.Stat(hash)
		require.NoError(t, err)
		assert.Equal(t, kind, info.MediaType())
		assert.Equal(t, kind, list(t, f)[hash].MediaType())
		r, err := f.Open(hash)
		require.NoError(t, err)
		assert.Equal(t, kind, r.MediaType())
		require.NoError(t, r.Close())
		put(t, f, text, "application/x-other")
		info, err = f.Stat(hash)
		require.NoError(t, err)
		assert.Equal(t, kind, info.MediaType(), "the first stays")
		require.NoError(t, f.Delete(hash))
		put(t, f, text, "application/x-other")
		info, err = f.Stat(hash)
		require.NoError(t, err)
		assert.Equal(t, "application/x-other", info.MediaType(), "what was deleted is forgotten")
	}
}

func filesAreRead(t *testing.T, f store.Files) {
	r, err := f.Open(put(t, f, "a quiet lake", ""))
	require.NoError(t, err)
	defer r.Close()
	assert.EqualValues(t, 12, r.Size())
	at := make([]byte, 5)
	n, err := r.ReadAt(at, 2)
	require.NoError(t, err)
	assert.Equal(t, "quiet", string(at[:n]))
	n, err = r.ReadAt(at, 10)
	assert.ErrorIs(t, err, io.EOF)
	assert.Equal(t, "ke", string(at[:n]))
	where, err := r.Seek(-4, io.SeekEnd)
	require.NoError(t, err)
	assert.EqualValues(t, 8, where)
	rest, err := io.ReadAll(r)
	require.NoError(t, err)
	assert.Equal(t, "lake", string(rest))
}

func rangesAreRead(t *testing.T, f store.Files) {
	hash := put(t, f, "0123456789", "")
	for _, c := range []struct {
		offset, length int64
		want           string
	}{{0, 10, "0123456789"}, {0, 0, ""}, {3, 4, "3456"}, {9, 1, "9"}, {7, 100, "789"}, {10, 5, ""}} {
		r, err := f.OpenRange(hash, c.offset, c.length)
		require.NoError(t, err)
		data, err := io.ReadAll(r)
		require.NoError(t, err)
		require.NoError(t, r.Close())
		assert.Equal(t, c.want, string(data), "%d from %d on", c.length, c.offset)
	}
	for _, c := range [][2]int64{{-1, 3}, {11, 1}, {3, -1}} {
		_, err := f.OpenRange(hash, c[0], c[1])
		assert.ErrorIs(t, err, store.ErrRange, "%v", c)
	}
	_, err := f.OpenRange(nowhere, 0, 1)
	assert.ErrorIs(t, err, store.ErrNoFile)
}

func missingFiles(t *testing.T, f store.Files) {
	put(t, f, "abc", "")
	for _, hash := range []string{nowhere, "", "ba", "../../etc/passwd", strings.ToUpper(ABC), ABC + "/", "tmp/" + ABC[4:]} {
		_, err := f.Open(hash)
		assert.ErrorIs(t, err, store.ErrNoFile, "%q", hash)
		_, err = f.Stat(hash)
		assert.ErrorIs(t, err, store.ErrNoFile, "%q", hash)
		assert.False(t, f.Has(hash), "%q", hash)
		assert.NoError(t, f.Delete(hash), "%q", hash)
		n, err := f.DeleteKeptBefore(hash, time.Now().Add(time.Hour))
		assert.NoError(t, err, "%q", hash)
		assert.Zero(t, n)
	}
	assert.True(t, f.Has(ABC))
}

type broken struct{ io.Reader }

var errBroken = errors.New("the line broke")

func (b broken) Read(p []byte) (int, error) {
	if n, err := b.Reader.Read(p); err == nil {
		return n, nil
	}
	return 0, errBroken
}

func brokenOffFiles(t *testing.T, f store.Files) {
	_, err := f.Put(broken{strings.NewReader("half a pict")}, "")
	assert.ErrorIs(t, err, errBroken)
	_, err = f.Receive(broken{strings.NewReader("half a pict")})
	assert.ErrorIs(t, err, errBroken)
	assert.Empty(t, list(t, f))
}

func discardedFiles(t *testing.T, f store.Files) {
	in, err := f.Receive(strings.NewReader("abc"))
	require.NoError(t, err)
	assert.False(t, f.Has(ABC), "received is not kept")
	in.Discard()
	assert.Empty(t, list(t, f))
}

func filesAreListed(t *testing.T, f store.Files) {
	before := time.Now().Add(-2 * time.Second) // a file system may keep whole seconds
	want := map[string]int64{put(t, f, "", ""): 0, put(t, f, "a", ""): 1, put(t, f, "four", ""): 4}
	all := list(t, f)
	assert.Len(t, all, len(want))
	for hash, size := range want {
		assert.Equal(t, size, all[hash].Size)
		assert.True(t, all[hash].KeptAt.After(before) && all[hash].KeptAt.Before(time.Now().Add(2*time.Second)), "%v", all[hash].KeptAt)
		assert.Equal(t, size, store.SizeOf(f, hash))
	}
	n := 0
	assert.ErrorIs(t, f.List(func(store.FileInfo) error { n++; return errBroken }), errBroken)
	assert.Equal(t, 1, n, "an error ends it")
}

func filesAreDeleted(t *testing.T, f store.Files) {
	other := put(t, f, "other", "")
	put(t, f, "abc", "text/csv")
	require.NoError(t, f.Delete(ABC))
	assert.False(t, f.Has(ABC))
	_, err := f.Open(ABC)
	assert.ErrorIs(t, err, store.ErrNoFile)
	require.NoError(t, f.Delete(ABC))
	assert.Len(t, list(t, f), 1)
	assert.Equal(t, "other", read(t, f, other))
	put(t, f, "abc", "text/csv")
	assert.Equal(t, "abc", read(t, f, ABC), "it can be kept again")
}

func oldFilesAreDeleted(t *testing.T, f store.Files) {
	put(t, f, "abc", "text/csv")
	n, err := f.DeleteKeptBefore(ABC, time.Now().Add(-time.Minute))
	require.NoError(t, err)
	assert.Zero(t, n, "it was kept since")
	assert.True(t, f.Has(ABC))
	kept := list(t, f)[ABC].KeptAt
	for !time.Now().After(kept.Add(10 * time.Millisecond)) { // so that there is a moment between
	}
	between := time.Now()
	put(t, f, "abc", "text/csv")
	n, err = f.DeleteKeptBefore(ABC, between)
	require.NoError(t, err)
	assert.Zero(t, n, "it was kept again")
	n, err = f.DeleteKeptBefore(ABC, time.Now().Add(time.Minute))
	require.NoError(t, err)
	assert.EqualValues(t, 3, n)
	assert.False(t, f.Has(ABC))
}

func manyKeepOne(t *testing.T, f store.Files) {
	text := strings.Repeat("a quiet lake ", 5000)
	var all sync.WaitGroup
	for range 8 {
		all.Go(func() {
			hash, err := f.Put(strings.NewReader(text), "text/plain")
			if assert.NoError(t, err) {
				r, err := f.Open(hash)
				if assert.NoError(t, err) {
					data, err := io.ReadAll(r)
					assert.NoError(t, err)
					assert.Equal(t, len(text), len(data), "whole or not at all")
					assert.NoError(t, r.Close())
				}
			}
		})
	}
	all.Wait()
	assert.Len(t, list(t, f), 1)
}

// keptBesideSweeps keeps a file again and again while another sweeps what is old: after
// each keeping it is there, since it was kept just now.
func keptBesideSweeps(t *testing.T, f store.Files) {
	stop := make(chan struct{})
	var sweeping sync.WaitGroup
	sweeping.Go(func() {
		for {
			select {
			case <-stop:
				return
			default:
				_, err := f.DeleteKeptBefore(ABC, time.Now().Add(-time.Hour))
				assert.NoError(t, err)
			}
		}
	})
	for range 50 {
		put(t, f, "abc", "")
		assert.True(t, f.Has(ABC))
	}
	close(stop)
	sweeping.Wait()
}

func anyContent(t *testing.T, f store.Files) {
	random := rand.New(rand.NewPCG(1, 2))
	for _, size := range []int{0, 1, 511, 512, 513, 4096, 1 << 20} {
		data := make([]byte, size)
		for i := range data {
			data[i] = byte(random.Uint32())
		}
		hash, err := f.Put(bytes.NewReader(data), "application/octet-stream")
		require.NoError(t, err)
		assert.Equal(t, string(data), read(t, f, hash))
	}
}
