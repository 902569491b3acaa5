// Package under serves a program below a path of a host that it shares with others: whoever asks for
// /mivlet/pages asks the program for /pages. The program itself begins the addresses in what it writes
// with that path; where it leads on by a header, that is done here.
package under

import (
	"fmt"
	"net/http"
	"regexp"
	"strings"
)

// plainPath is how the path is written: parts of letters, digits, hyphens, underscores and dots.
var plainPath = regexp.MustCompile(`^(/[A-Za-z0-9_-][A-Za-z0-9._-]*)+$`)

// Parse reads a path such as /mivlet. One slash at its end is taken off; nothing is none. It returns an
// error where it does not begin with a slash, or has other characters than RFC 3986 leaves unreserved.
func Parse(path string) (string, error) {
	path = strings.TrimSuffix(path, "/")
	if path != "" && !plainPath.MatchString(path) {
		return "", fmt.Errorf("invalid path %q: it is written like /mivlet, with letters, digits, hyphens and dots", path)
	}
	return path, nil
}

// leads are the headers by which an answer leads to another address: of HTTP, and of htmx.
var leads = []string{"Location", "Hx-Location", "Hx-Redirect", "Hx-Push-Url", "Hx-Replace-Url"}

// Path serves next below a path; an empty one changes nothing. The path alone leads to its beginning. What lies
// beside it is told to be nothing of this program.
func Path(base string, next http.Handler) http.Handler {
	if base == "" {
		return next
	}
	below := http.StripPrefix(base, next)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch {
		case r.URL.Path == base || r.URL.Path == "/":
			http.Redirect(w, r, base+"/", http.StatusSeeOther)
		case strings.HasPrefix(r.URL.Path, base+"/"):
			l := &leading{ResponseWriter: w, base: base}
			below.ServeHTTP(l, r)
			l.lead() // of an answer that has a head alone
		default:
			http.Error(w, "Mivlet is at "+base+"/ here.", http.StatusNotFound)
		}
	})
}

// leading puts the path before the addresses that an answer leads to.
type leading struct {
	http.ResponseWriter
	base string
	sent bool
}

// lead puts the path before them, once.
func (l *leading) lead() {
	if l.sent {
		return
	}
	l.sent = true
	h := l.Header()
	for _, name := range leads {
		if to := h.Get(name); Own(to) {
			h.Set(name, l.base+to)
		}
	}
}

// WriteHeader sends the head of the answer.
func (l *leading) WriteHeader(status int) {
	if status >= 200 {
		l.lead()
	}
	l.ResponseWriter.WriteHeader(status)
}

// Write sends the head before the first bytes, unless it is sent already.
func (l *leading) Write(b []byte) (int, error) {
	l.lead()
	return l.ResponseWriter.Write(b)
}

// Unwrap lets what is wrapped do more (see [http.ResponseController]).
func (l *leading) Unwrap() http.ResponseWriter { return l.ResponseWriter }

// Own reports whether an address is one of the program's own: a path that begins with one slash.
func Own(address string) bool {
	return strings.HasPrefix(address, "/") && !strings.HasPrefix(address, "//")
}
