package desk_test

import (
	"archive/zip"
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"io"
	"io/fs"
	"os"
	"path/filepath"
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

// holding returns the files of a folder in which some bytes stand, in any of them: also
// in the database's pages and in its log.
func holding(t *testing.T, dir string, what []byte) []string {
	t.Helper()
	var found []string
	require.NoError(t, filepath.WalkDir(dir, func(at string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := os.ReadFile(at)
		if err != nil {
			return err
		}
		if bytes.Contains(data, what) || bytes.Contains([]byte(filepath.Base(at)), what) {
			found = append(found, at)
		}
		return nil
	}))
	return found
}

func bytesOf(data []byte) io.Reader { return bytes.NewReader(data) }

func countLines(t *testing.T, file string) int {
	t.Helper()
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	return bytes.Count(text, []byte("\n"))
}
