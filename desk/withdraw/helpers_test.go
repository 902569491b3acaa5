package withdraw_test

import (
	"bytes"
	"io/fs"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

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
