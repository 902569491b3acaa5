package sealed_test

import (
	"bytes"
	"encoding/base64"
	"os"
	"path/filepath"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/sealed"
)

func TestSecretsAreOpenedWithTheirKeyOnly(t *testing.T) {
	t.Parallel()
	file := filepath.Join(t.TempDir(), "key")
	k, err := sealed.Load(file)
	require.NoError(t, err)
	info, err := os.Stat(file)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	secret := []byte("four words in a row")
	one, err := k.Seal(secret, "destination 1")
	require.NoError(t, err)
	two, err := k.Seal(secret, "destination 1")
	require.NoError(t, err)
	assert.NotEqual(t, one, two, "that two are the same cannot be seen")
	raw, err := base64.StdEncoding.DecodeString(one)
	require.NoError(t, err)
	assert.False(t, bytes.Contains(raw, secret[:4]))

	again, err := sealed.Load(file)
	require.NoError(t, err)
	got, err := again.Open(one, "destination 1")
	require.NoError(t, err)
	assert.Equal(t, secret, got)

	// Whatever is changed, it is not opened: every bit, what it is for, the key.
	for i := range raw {
		for bit := range 8 {
			spoiled := bytes.Clone(raw)
			spoiled[i] ^= 1 << bit
			_, err := k.Open(base64.StdEncoding.EncodeToString(spoiled), "destination 1")
			require.ErrorIs(t, err, sealed.ErrOpen)
		}
	}
	other, err := sealed.Load(filepath.Join(t.TempDir(), "key"))
	require.NoError(t, err)
	for _, err := range []error{of(k.Open(one, "destination 2")), of(other.Open(one, "destination 1")), of(k.Open("", "")), of(k.Open("no base64!", "")), of(k.Open(one[:20], "destination 1"))} {
		assert.ErrorIs(t, err, sealed.ErrOpen)
	}
	require.NoError(t, os.WriteFile(file, []byte("abc"), 0o600))
	_, err = sealed.Load(file)
	assert.ErrorContains(t, err, "it must be 64 hex digits")
}

func of[T any](_ T, err error) error { return err }

// Two that begin at once use the same key.
func TestOneKeyIsMade(t *testing.T) {
	t.Parallel()
	file := filepath.Join(t.TempDir(), "key")
	var all sync.WaitGroup
	keys := make([]sealed.Key, 16)
	for i := range keys {
		all.Go(func() {
			k, err := sealed.Load(file)
			assert.NoError(t, err)
			keys[i] = k
		})
	}
	all.Wait()
	secret, err := keys[0].Seal([]byte("a"), "")
	require.NoError(t, err)
	for _, k := range keys {
		_, err := k.Open(secret, "")
		assert.NoError(t, err)
	}
	left, err := os.ReadDir(filepath.Dir(file))
	require.NoError(t, err)
	assert.Len(t, left, 1)
}
