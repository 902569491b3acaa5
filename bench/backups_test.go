package bench

import (
	"context"
	"io"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/edge/folder"
	"mivlet/store"
	"mivlet/store/backups"
	"mivlet/store/datafolder"
)

// originals is how many there are, of 5 MB each; MIVLET_ORIGINALS says otherwise.
const originals = 2000

// BenchmarkBackups measures writing a first backup of a house with 10 GB of originals (noise), one with a
// single new picture, trying it and restoring it.
func BenchmarkBackups(b *testing.B) {
	n := originals
	if asked, err := strconv.Atoi(os.Getenv("MIVLET_ORIGINALS")); err == nil {
		n = asked
	}
	house, err := datafolder.Open(b.TempDir())
	require.NoError(b, err)
	defer house.Close()
	require.NoError(b, house.SaveRules(rules.Default(), "Ines", "to begin with", time.Now()))
	noise := rand.NewChaCha8([32]byte{1})
	picture := func() {
		hash, err := house.Files.Put(&some{noise, 5 << 20}, "image/jpeg")
		require.NoError(b, err)
		require.NoError(b, house.AddPicture(&store.Picture{Section: "juniors", OriginalHash: hash, OriginalName: "a.jpg", Station: store.Bench, CreatedAt: time.Now(), UpdatedAt: time.Now()}))
	}
	for range n {
		picture()
	}
	dir := b.TempDir()
	to, err := folder.OpenPrivate(dir)
	require.NoError(b, err)
	defer to.Close()
	ctx, now := context.Background(), time.Now()
	for b.Loop() {
		measure := func(name string, do func()) {
			begun := time.Now()
			do()
			b.ReportMetric(time.Since(begun).Seconds(), name+"-s")
		}
		var last backups.Backup
		write := func() {
			now = now.Add(time.Hour)
			last, err = backups.Write(ctx, house, to, "", now)
			require.NoError(b, err)
		}
		measure("first", write)
		picture()
		measure("next", write)
		measure("try", func() {
			trial, err := backups.Try(ctx, to, last, house.Files, now)
			require.NoError(b, err)
			require.Empty(b, trial.Faults)
		})
		measure("restore", func() {
			_, err := backups.Restore(ctx, to, last, filepath.Join(b.TempDir(), "back"))
			require.NoError(b, err)
		})
		b.ReportMetric(float64(last.Bytes)/1e9, "GB")
	}
	b.ReportMetric(mostMemory(b), "most-MB")
}

// some is so many bytes of something that goes on.
type some struct {
	of   *rand.ChaCha8
	left int
}

func (s *some) Read(p []byte) (int, error) {
	if s.left == 0 {
		return 0, io.EOF
	}
	n, err := s.of.Read(p[:min(len(p), s.left)])
	s.left -= n
	return n, err
}

// mostMemory is the most memory that this process ever held, in MB (Linux).
func mostMemory(b *testing.B) float64 {
	b.Helper()
	status, err := os.ReadFile("/proc/self/status")
	require.NoError(b, err)
	_, after, _ := strings.Cut(string(status), "VmHWM:")
	kb, err := strconv.Atoi(strings.Fields(after)[0])
	require.NoError(b, err)
	return float64(kb) / 1000
}
