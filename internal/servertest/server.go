package servertest

import (
	"net"
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// FreeAddress returns an address of this machine that nobody listens at.
func FreeAddress(t testing.TB) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	require.NoError(t, l.Close())
	return l.Addr().String()
}

// Answers waits until a server answers at an address, whatever it says. It fails where none does within a
// time.
func Answers(t testing.TB, address string, within time.Duration) {
	t.Helper()
	require.Eventually(t, func() bool {
		res, err := http.Get(address) //nolint:gosec // one of this machine
		if err == nil {
			_ = res.Body.Close()
		}
		return err == nil
	}, within, 20*time.Millisecond)
}
