package crawl

import (
	"net/netip"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Sites of the house's own network are fetched; where clouds tell machines their passwords, nothing is.
func TestNothingInwardIsFetched(t *testing.T) {
	t.Parallel()
	for address, want := range map[string]bool{
		"127.0.0.1": true, "::1": true, "10.1.2.3": true, "192.168.1.9": true, "192.0.2.1": true, "2001:db8::1": true, "fd00::1": true,
		"169.254.169.254": false, "::ffff:169.254.169.254": false, "fe80::1": false, "0.0.0.0": false, "::": false, "224.0.0.1": false, "ff02::1": false, "255.255.255.255": false,
	} {
		assert.Equal(t, want, reachable(netip.MustParseAddr(address)), address)
	}
	for _, address := range []string{"http://169.254.169.254/latest/", "http://[fe80::1]/", "http://0.0.0.0/"} {
		_, _, err := fetched(t, address, Options{})
		assert.ErrorIs(t, err, errInward, address)
	}
}
