package desktest

import (
	"archive/zip"
	"bytes"
	"io"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/jobs"
)

// Ended waits until a job has ended, and returns how it did.
func Ended(t *testing.T, job *jobs.Job) jobs.Progress {
	t.Helper()
	require.Eventually(t, func() bool { return job.Progress().Ended }, time.Minute, time.Millisecond)
	return job.Progress()
}

// ReadFormer is what a file of a former site says, as it was or in the mended one.
func ReadFormer(t *testing.T, d *desk.Desk, id uint, mended bool, at string) string {
	t.Helper()
	f, err := d.Former.Open(id, mended, at)
	require.NoError(t, err, at)
	data, err := io.ReadAll(f)
	require.NoError(t, err)
	return string(data)
}

// Packed is an archive of files, by their paths.
func Packed(t *testing.T, files map[string][]byte) []byte {
	t.Helper()
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for at, data := range files {
		w, err := z.Create(at)
		require.NoError(t, err)
		_, err = w.Write(data)
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return out.Bytes()
}
