package crawl

import (
	"errors"
	"net"
	"net/http"
	"net/netip"
	"syscall"
)

// errInward means that an address is of no site: it is of the network itself, where machines are told what they are,
// passwords among it.
var errInward = errors.New("its name leads to an address that no site has")

// outward connects to sites, and to nothing that a name may lead to instead. The address that is
// connected to is looked at, and not what a name led to before.
func outward() *http.Transport {
	t := http.DefaultTransport.(*http.Transport).Clone()
	t.Proxy = nil
	t.DialContext = (&net.Dialer{Timeout: patience, Control: func(_, address string, _ syscall.RawConn) error {
		at, err := netip.ParseAddrPort(address)
		if err != nil {
			return err
		}
		if !reachable(at.Addr()) {
			return errInward
		}
		return nil
	}}).DialContext
	return t
}

// reachable leaves out addresses that are of one link alone (RFC 3927, RFC 4291), of many, or of none.
func reachable(a netip.Addr) bool {
	a = a.Unmap()
	return !a.IsLinkLocalUnicast() && !a.IsMulticast() && !a.IsUnspecified() && a != netip.AddrFrom4([4]byte{255, 255, 255, 255})
}
