package desk_test

import (
	"bytes"
	"os"
	"testing"

	"github.com/stretchr/testify/require"
)

func countLines(t *testing.T, file string) int {
	t.Helper()
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	return bytes.Count(text, []byte("\n"))
}
