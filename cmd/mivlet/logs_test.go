package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each line of the log is one object for programs (RFC 8259), also where what is told has lines of its own.
func TestTheLogForPrograms(t *testing.T) {
	t.Parallel()
	var b bytes.Buffer
	log, err := logger("json", &b)
	require.NoError(t, err)
	log.Error("an act failed", "request", "ABC", "error", errors.New("two\nlines and \"quotes\""))
	log.Info("another")
	lines := strings.Split(strings.TrimSpace(b.String()), "\n")
	require.Len(t, lines, 2)
	var one map[string]any
	require.NoError(t, json.Unmarshal([]byte(lines[0]), &one))
	assert.Equal(t, "ERROR", one["level"])
	assert.Equal(t, "ABC", one["request"])
	assert.Equal(t, "two\nlines and \"quotes\"", one["error"])
	_, err = logger("xml", &b)
	assert.ErrorContains(t, err, `invalid log "xml"`)
}
