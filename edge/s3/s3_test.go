package s3_test

import (
	"bytes"
	"context"
	"io/fs"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/destinations"
	"mivlet/edge/placetest"
	"mivlet/edge/s3"
	"mivlet/internal/servertest"
)

// All that a place must do, with object storage over a folder.
func TestABucket(t *testing.T) {
	t.Parallel()
	at, dir := servertest.NewS3(t)
	storage := s3.Storage{Address: at, Bucket: servertest.StoredIn, Prefix: "site/2026", Key: servertest.Login, SecretKey: servertest.Password}
	under := filepath.Join(dir, "site", "2026")
	placetest.Run(t, under, func(ctx context.Context) (destinations.Place, error) { return s3.Open(ctx, storage) })
	entries, err := os.ReadDir(dir)
	require.NoError(t, err)
	var names []string
	for _, e := range entries {
		if !strings.HasPrefix(e.Name(), ".") { // the server's own
			names = append(names, e.Name())
		}
	}
	assert.Equal(t, []string{"site"}, names, "all names begin as they should")

	other := storage
	other.Region = servertest.Region
	_, err = s3.Open(context.Background(), other)
	require.NoError(t, err)
	other.Region = "south-1"
	_, err = s3.Open(context.Background(), other)
	require.ErrorContains(t, err, `invalid region "south-1"`)
	other = storage
	other.SecretKey = "other words"
	_, err = s3.Open(context.Background(), other)
	require.Error(t, err)
	assert.NotContains(t, err.Error(), "words")
	other = storage
	other.Bucket = "nothing"
	_, err = s3.Open(context.Background(), other)
	require.ErrorIs(t, err, fs.ErrNotExist)
}

// What is sent says what it is: nobody else can tell browsers. In one request there is all of it, also
// of what is too large to be held.
func TestObjectsSayWhatTheyAre(t *testing.T) {
	t.Parallel()
	got := map[string]http.Header{}
	var puts atomic.Int32
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch {
		case r.URL.Query().Has("location"):
			_, _ = w.Write([]byte(`<LocationConstraint xmlns="http://s3.amazonaws.com/doc/2006-03-01/"/>`))
		case r.Method == http.MethodPut:
			puts.Add(1)
			got[filepath.Base(r.URL.Path)] = r.Header
			w.Header().Set("ETag", `"0123"`)
		}
	}))
	t.Cleanup(server.Close)
	b, err := s3.Open(context.Background(), s3.Storage{Address: server.URL, Bucket: "paddle", Key: "a", SecretKey: "b"})
	require.NoError(t, err)
	is := map[string]string{ // as IANA's registry of media types has them
		"index.html": "text/html; charset=utf-8", "a.css": "text/css; charset=utf-8", "a.jpg": "image/jpeg", "a.png": "image/png", "a.svg": "image/svg+xml",
		"a.webp": "image/webp", "a.avif": "image/avif", "a.pdf": "application/pdf", "_redirects": "text/plain; charset=utf-8", "a.unheard-of": "application/octet-stream",
	}
	for file, mediaType := range is {
		_, err := b.Put(context.Background(), file, strings.NewReader(file))
		require.NoError(t, err)
		assert.Equal(t, mediaType, got[file].Get("Content-Type"), file)
	}
	assert.Equal(t, "no-cache", got["index.html"].Get("Cache-Control"))
	assert.Empty(t, got["a.jpg"].Get("Cache-Control"))
	before := puts.Load()
	stamp, err := b.Put(context.Background(), "film.mp4", bytes.NewReader(make([]byte, 40<<20)))
	require.NoError(t, err)
	assert.Equal(t, "0123 41943040", stamp)
	assert.Equal(t, before+1, puts.Load(), "in one piece")
}

// Signatures do not go where others can read them.
func TestSignaturesAreSentWithTLSOnly(t *testing.T) {
	t.Parallel()
	for at, says := range map[string]string{"http://s3.example": "use https://", "s3.example": "begins with https://", "https://s3.example/paddle": "the bucket does not belong into it"} {
		_, err := s3.Open(context.Background(), s3.Storage{Address: at, Bucket: "paddle", Key: "a", SecretKey: "b"})
		assert.ErrorContains(t, err, says, at)
	}
}
