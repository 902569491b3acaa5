// Package placetest says what every place must do that files are sent to.
package placetest

import (
	"bytes"
	"context"
	"errors"
	"io"
	"io/fs"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/destinations"
)

// Run tries a place. dir is the folder that its server keeps files in; open opens it.
func Run(t *testing.T, dir string, open func(context.Context) (destinations.Place, error)) {
	t.Helper()
	ctx := context.Background()
	p, err := open(ctx)
	require.NoError(t, err)
	put := func(at, text string) string {
		t.Helper()
		stamp, err := p.Put(ctx, at, strings.NewReader(text))
		require.NoError(t, err, at)
		require.NotEmpty(t, stamp)
		return stamp
	}
	has := func(at string) string {
		t.Helper()
		in, err := p.Open(ctx, at)
		require.NoError(t, err, at)
		defer in.Close()
		data, err := io.ReadAll(in)
		require.NoError(t, err)
		return string(data)
	}

	stamps := map[string]string{}
	for _, at := range []string{"index.html", "a/index.html", "a/b/c/with space & ünï+%25.html", ".htaccess", "_redirects", "a/b/x-0123456789abcdef.jpg"} {
		_, err := p.Stamp(ctx, at)
		require.ErrorIs(t, err, fs.ErrNotExist, at)
		_, err = p.Open(ctx, at)
		require.ErrorIs(t, err, fs.ErrNotExist, at)
		stamps[at] = put(at, "words of "+at)
	}
	for at, stamp := range stamps {
		assert.Equal(t, "words of "+at, has(at))
		data, err := os.ReadFile(filepath.Join(dir, filepath.FromSlash(at)))
		require.NoError(t, err, "a server finds it under its name")
		assert.Equal(t, "words of "+at, string(data))
		now, err := p.Stamp(ctx, at)
		require.NoError(t, err)
		assert.Equal(t, stamp, now, at)
	}
	if list, can := p.(destinations.Lister); can {
		all, err := list.Stamps(ctx)
		require.NoError(t, err)
		assert.Equal(t, stamps, all, "all at once as one by one")
	}
	assert.NotEqual(t, stamps["index.html"], put("index.html", "other and longer words"))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "a", "index.html"), []byte("somebody else was here"), 0o600))
	now, err := p.Stamp(ctx, "a/index.html")
	require.NoError(t, err)
	assert.NotEqual(t, stamps["a/index.html"], now, "what somebody else changes has another stamp")

	// Large, and of all bytes.
	noise := rand.New(rand.NewPCG(1, 2))
	large := make([]byte, 5<<20)
	for i := range large {
		large[i] = byte(noise.Uint32())
	}
	_, err = p.Put(ctx, "large.bin", bytes.NewReader(large))
	require.NoError(t, err)
	assert.True(t, string(large) == has("large.bin"), "all of it comes")
	_, err = p.Put(ctx, "empty", bytes.NewReader(nil))
	require.NoError(t, err)
	assert.Empty(t, has("empty"))

	// Whole or not at all: a reader that fails leaves what was there.
	_, err = p.Put(ctx, "index.html", io.MultiReader(strings.NewReader("half of it"), failing{}))
	require.Error(t, err)
	assert.Equal(t, "other and longer words", has("index.html"))
	_, err = p.Put(ctx, "a/new.html", io.MultiReader(strings.NewReader("half of it"), failing{}))
	require.Error(t, err)
	_, err = p.Stamp(ctx, "a/new.html")
	require.ErrorIs(t, err, fs.ErrNotExist)

	// What is taken away is away, and the rest stays.
	for _, at := range []string{"a/b/c/with space & ünï+%25.html", "a/b/x-0123456789abcdef.jpg", "nothing/of/that/name"} {
		require.NoError(t, p.Remove(ctx, at))
		_, err = p.Stamp(ctx, at)
		require.ErrorIs(t, err, fs.ErrNotExist)
	}
	assert.Equal(t, "somebody else was here", has("a/index.html"))
	require.NoError(t, p.Close())

	// Nobody waits any more.
	ended, end := context.WithCancel(ctx)
	if p, err = open(ended); err == nil {
		end()
		_, err = p.Put(ended, "late.html", strings.NewReader("late"))
		_ = p.Close()
	}
	end()
	require.Error(t, err)
	assert.NoFileExists(t, filepath.Join(dir, "late.html"))
}

// Swept tries a place that writes files beside their places first, in a folder of its own: what was
// being written when sending was broken off is away once it goes on.
func Swept(t *testing.T, dir string, open func(context.Context) (destinations.Place, error)) {
	t.Helper()
	parts := filepath.Join(dir, ".mivlet-parts")
	require.NoError(t, os.MkdirAll(parts, 0o750))
	require.NoError(t, os.Chmod(parts, 0o777)) //nolint:gosec // its server may be another user
	require.NoError(t, os.WriteFile(filepath.Join(parts, "7"), []byte("half"), 0o600))
	p, err := open(context.Background())
	require.NoError(t, err)
	assert.NoDirExists(t, parts)
	_, err = p.Put(context.Background(), "again.html", strings.NewReader("again"))
	require.NoError(t, err)
	require.NoError(t, p.Close())
	assert.NoDirExists(t, parts)
}

type failing struct{}

func (failing) Read([]byte) (int, error) { return 0, errors.New("it cannot be read any further") }
