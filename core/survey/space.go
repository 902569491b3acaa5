package survey

import (
	"net/url"
	"path"
	"regexp"
	"strings"
)

// space is where the site's files are: under one name that no other site has (RFC 6761, 6.4), and under
// the hosts that it is reached at.
type space struct{ hosts map[string]bool }

const nowhere = "site.invalid"

func newSpace(hosts []string) space {
	s := space{map[string]bool{nowhere: true}}
	for _, h := range hosts {
		s.hosts[strings.ToLower(strings.TrimSpace(h))] = true
	}
	return s
}

// pageURL is the address of a file of the site.
func (space) pageURL(at string) *url.URL {
	return &url.URL{Scheme: "http", Host: nowhere, Path: "/" + at}
}

// where is what an address leads to.
type where int

const (
	inside    where = iota // a file of the site
	elsewhere              // another host, or something that is no file
	nothing                // the same page, or no address
)

var barePercent = regexp.MustCompile(`%($|[^0-9A-Fa-f]|[0-9A-Fa-f](?:$|[^0-9A-Fa-f]))`)

// locate finds the path in the site that an address leads to, from a base; what follows a question mark is
// left out. Folders end with a slash, but for the first one, which is empty.
func (s space) locate(base *url.URL, address string) (string, where) {
	address = strings.TrimSpace(address)
	if address == "" || strings.HasPrefix(address, "#") {
		return "", nothing
	}
	// Tabs and line ends within an address are taken out, and white space is escaped (URL, 4.4).
	address = strings.NewReplacer("\t", "", "\n", "", "\r", "", " ", "%20", `\`, "/").Replace(address)
	u, err := url.Parse(address)
	if err != nil { // a percent sign that escapes nothing stands for itself
		u, err = url.Parse(barePercent.ReplaceAllString(address, "%25$1"))
	}
	if err != nil {
		return "", elsewhere
	}
	u = base.ResolveReference(u)
	if u.Scheme != "http" && u.Scheme != "https" || !s.hosts[strings.ToLower(u.Host)] {
		return "", elsewhere
	}
	at := strings.TrimPrefix(path.Clean("/"+u.Path), "/")
	if strings.HasSuffix(u.Path, "/") && at != "" {
		at += "/"
	}
	return at, inside
}
