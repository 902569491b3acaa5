package publish_test

import (
	"archive/zip"
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

func hashOf(data []byte) string {
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:])
}

// picturesIn returns the content of the pictures of an archive, by name.
func picturesIn(t *testing.T, archive []byte) map[string][]byte {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(archive), int64(len(archive)))
	require.NoError(t, err)
	all := map[string][]byte{}
	for _, f := range z.File {
		if !strings.HasPrefix(f.Name, "pictures/") {
			continue
		}
		r, err := f.Open()
		require.NoError(t, err)
		data, err := io.ReadAll(r)
		require.NoError(t, err)
		all[f.Name] = data
	}
	return all
}
