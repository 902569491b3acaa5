package bucket_test

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"os"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
	"mivlet/store"
	"mivlet/store/bucket"
	"mivlet/store/suite"
)

func TestObjectStorageKeepsFiles(t *testing.T) {
	t.Parallel()
	server := servertest.NewStorage(t)
	at := server.At
	var houses atomic.Int64
	suite.Files(t, func(t *testing.T) store.Files { return open(t, at, fmt.Sprint("house-", houses.Add(1))) })
	t.Run("two programs keep and sweep", func(t *testing.T) { keptBesideSweeps(t, at) })
	t.Run("nothing is left on this machine", func(t *testing.T) { scratchIsEmptied(t, at) })
	t.Run("kept while a sweep takes it away", func(t *testing.T) { keptAtTheLastMoment(t, server.At) })
	t.Run("away for a while", func(t *testing.T) { awayForAWhile(t, server) })
}

func open(t *testing.T, at, house string) *bucket.Files {
	t.Helper()
	f, err := bucket.Open(t.Context(), bucket.Storage{Address: at, Bucket: servertest.StoredIn, Prefix: house, Key: servertest.Login, SecretKey: servertest.Password}, t.TempDir())
	require.NoError(t, err)
	return f
}

// Four programs keep a content again and again while two sweep everything that was kept before that moment:
// whenever one has kept it, a sweep of what is older does not take it away.
func keptBesideSweeps(t *testing.T, at string) {
	const contents = 3
	stop := make(chan struct{})
	var sweeping, keeping sync.WaitGroup
	var swept atomic.Int64
	for range 2 {
		f := open(t, at, "shared")
		sweeping.Go(func() {
			for {
				select {
				case <-stop:
					return
				default:
				}
				for i := range contents {
					n, err := f.DeleteKeptBefore(store.HashOf([]byte(fmt.Sprint("content ", i))), time.Now().Add(-1500*time.Millisecond))
					assert.NoError(t, err)
					if n > 0 {
						swept.Add(1)
					}
				}
			}
		})
	}
	for range 4 {
		f := open(t, at, "shared")
		keeping.Go(func() {
			for n := range 40 {
				text := fmt.Sprint("content ", n%contents)
				hash, err := f.Put(strings.NewReader(text), "text/plain")
				if assert.NoError(t, err) {
					assert.True(t, f.Has(hash), "it was kept just now")
				}
				if n == 19 { // let it grow old enough to be swept, beside the others
					for until := time.Now().Add(2600 * time.Millisecond); time.Now().Before(until); {
						f.Has(hash)
					}
				}
			}
		})
	}
	keeping.Wait()
	close(stop)
	sweeping.Wait()
	assert.Positive(t, swept.Load(), "something was swept meanwhile")
}

func scratchIsEmptied(t *testing.T, at string) {
	dir := t.TempDir()
	f, err := bucket.Open(t.Context(), bucket.Storage{Address: at, Bucket: servertest.StoredIn, Prefix: "scratch", Key: servertest.Login, SecretKey: servertest.Password}, dir)
	require.NoError(t, err)
	hash, err := f.Put(strings.NewReader("a quiet lake"), "")
	require.NoError(t, err)
	r, err := f.Open(hash)
	require.NoError(t, err)
	some := make([]byte, 5)
	_, err = r.ReadAt(some, 2)
	require.NoError(t, err)
	assert.Equal(t, "quiet", string(some))
	require.NoError(t, r.Close())
	left, err := os.ReadDir(dir)
	require.NoError(t, err)
	assert.Empty(t, left)
	_, err = bucket.Open(t.Context(), bucket.Storage{Address: at, Bucket: "elsewhere", Key: servertest.Login, SecretKey: servertest.Password}, dir)
	assert.ErrorContains(t, err, `no bucket "elsewhere"`)
}

// While the storage is away that is said, nothing half comes of it, and afterwards all goes on.
func awayForAWhile(t *testing.T, server *servertest.S3) {
	f := open(t, server.At, "away")
	hash, err := f.Put(strings.NewReader("a quiet lake"), "")
	require.NoError(t, err)
	server.Kill()
	_, err = f.Put(strings.NewReader("another lake"), "")
	assert.ErrorIs(t, err, store.ErrAway)
	_, err = f.Open(hash)
	assert.ErrorIs(t, err, store.ErrAway)
	_, err = f.Stat(hash)
	assert.ErrorIs(t, err, store.ErrAway)
	assert.ErrorIs(t, f.Delete(hash), store.ErrAway)
	_, err = f.DeleteKeptBefore(hash, time.Now())
	assert.ErrorIs(t, err, store.ErrAway)
	assert.ErrorIs(t, f.List(func(store.FileInfo) error { return nil }), store.ErrAway)
	server.Start()
	assert.True(t, f.Has(hash))
	assert.False(t, f.Has(store.HashOf([]byte("another lake"))))
	_, err = f.Put(strings.NewReader("another lake"), "")
	assert.NoError(t, err)
}

// A sweep has found a file old and is about to take it away: whoever keeps it at that moment waits for the sweep, and
// writes it again.
func keptAtTheLastMoment(t *testing.T, at string) {
	to, err := url.Parse(at)
	require.NoError(t, err)
	gate := make(chan struct{})
	atGate, waiting := make(chan struct{}), make(chan struct{})
	var looks atomic.Int64
	between := httptest.NewServer(&httputil.ReverseProxy{Rewrite: func(r *httputil.ProxyRequest) {
		r.SetURL(to)
		r.Out.Host = r.In.Host // it is signed
		switch path := r.In.URL.Path; {
		case r.In.Method == http.MethodDelete && strings.Contains(path, "/files/"):
			close(atGate)
			<-gate
		case r.In.Method == http.MethodHead && strings.Contains(path, "/sweeping/") && looks.Add(1) == 2:
			close(waiting)
		}
	}})
	t.Cleanup(between.Close)
	f := open(t, between.URL, "last-moment")
	hash, err := f.Put(strings.NewReader("a quiet lake"), "text/x-first")
	require.NoError(t, err)
	looks.Store(0)
	sweeping, keeping := make(chan struct{}), make(chan struct{})
	go func() {
		defer close(sweeping)
		n, err := f.DeleteKeptBefore(hash, time.Now().Add(time.Hour))
		assert.NoError(t, err)
		assert.EqualValues(t, 12, n)
	}()
	<-atGate
	go func() {
		defer close(keeping)
		again, err := f.Put(strings.NewReader("a quiet lake"), "text/x-second")
		assert.NoError(t, err)
		assert.Equal(t, hash, again)
	}()
	select {
	case <-keeping:
		t.Error("it was kept while a sweep took it away")
	case <-waiting:
	}
	close(gate)
	<-sweeping
	<-keeping
	r, err := f.Open(hash)
	require.NoError(t, err, "it was kept just now")
	assert.Equal(t, "text/x-first", r.MediaType())
	require.NoError(t, r.Close())
}
