package fit

import (
	"fmt"
	"time"
)

// SlowLine is the line that load times are told for, in bits per second: a
// phone in a valley.
const SlowLine = 1_600_000

// UsualLine is a line as most have it at home, in bits per second (common
// practice).
const UsualLine = 25_000_000

// LoadTime returns how long bytes take on a line of the given bits per second,
// without latency.
func LoadTime(bytes int64, bitsPerSecond int) time.Duration {
	return time.Duration(float64(bytes) * 8 / float64(bitsPerSecond) * float64(time.Second))
}

// Weight tells bytes as an editor reads them: 4.2 MB, 187 kB, 512 bytes. The prefixes
// are decimal (SI).
func Weight(bytes int64) string {
	switch {
	case bytes >= 9_950_000:
		return fmt.Sprintf("%.0f MB", float64(bytes)/1e6)
	case bytes >= 999_500:
		return fmt.Sprintf("%.1f MB", float64(bytes)/1e6)
	case bytes >= 1000:
		return fmt.Sprintf("%d kB", (bytes+500)/1000)
	}
	return fmt.Sprintf("%d bytes", bytes)
}
