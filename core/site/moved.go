package site

import (
	"bytes"
	"fmt"
	"html"
	"iter"
	"maps"
	"net/url"
	"path"
	"regexp"
	"slices"
)

// Form is how a server is told where pages have moved.
type Form string

// The forms.
const (
	NoForm        Form = ""               // it is not told
	ApacheForm    Form = "htaccess"       // .htaccess (Apache HTTP Server, mod_alias)
	NginxForm     Form = "nginx"          // a file to include in a server block (nginx, ngx_http_core_module)
	RedirectsForm Form = "redirects"      // _redirects, as several hosts of static sites read it
	PagesForm     Form = "pages"          // a page at the old address that leads on (HTML Living Standard, "Refresh state")
	nginxFile          = "redirects.conf" // is not secret: it holds addresses that were public
)

// Forms are all of them.
var Forms = []Form{NoForm, ApacheForm, NginxForm, RedirectsForm, PagesForm}

// Changes of addresses on a site, as paths.
type Changes struct {
	Moved map[string]string // where old addresses lead
	Gone  []string          // where pages were taken off
}

// NothingHere is the file that servers answer with where there is nothing (common practice).
const NothingHere = "404.html"

const byMivlet = "# Written by Mivlet, which writes it anew. Changes that are made here are noticed, and not kept.\n"

// Tell writes the files that tell a server what has changed, by their paths. In [PagesForm] a page
// that was taken off has no such file: what stands in its place is for a page to say.
func Tell(form Form, c Changes, l Links) map[string][]byte {
	from := slices.DeleteFunc(tamed(maps.Keys(c.Moved)), func(at string) bool { return !tame.MatchString(c.Moved[at]) })
	gone := tamed(slices.Values(c.Gone))
	var b bytes.Buffer
	old := func(at string) string { return l.Base.Path + path.Clean("/"+at) }
	to := func(at string) string { return l.path(PageFile(at)) }
	switch form {
	case ApacheForm:
		fmt.Fprintf(&b, byMivlet+"ErrorDocument 404 %[1]s\nErrorDocument 410 %[1]s\n", l.escaped(l.path(NothingHere)))
		for _, at := range from {
			fmt.Fprintf(&b, "RedirectMatch 301 \"^%s/?$\" \"%s\"\n", apachePattern(old(at)), to(c.Moved[at]))
		}
		for _, at := range gone {
			fmt.Fprintf(&b, "RedirectMatch 410 \"^%s/?$\"\n", apachePattern(old(at)))
		}
		return map[string][]byte{".htaccess": b.Bytes()}
	case NginxForm:
		fmt.Fprintf(&b, byMivlet+"error_page 404 410 %s;\n", nginxText(l.path(NothingHere)))
		for _, at := range from {
			for _, one := range []string{old(at), old(at) + "/"} {
				fmt.Fprintf(&b, "location = %s { return 301 %s; }\n", nginxText(one), nginxText(to(c.Moved[at])))
			}
		}
		for _, at := range gone {
			for _, one := range []string{old(at), old(at) + "/"} {
				fmt.Fprintf(&b, "location = %s { return 410; }\n", nginxText(one))
			}
		}
		return map[string][]byte{nginxFile: b.Bytes()}
	case RedirectsForm:
		b.WriteString(byMivlet)
		for _, at := range from {
			fmt.Fprintf(&b, "%s %s 301\n", l.escaped(old(at)), l.escaped(to(c.Moved[at])))
		}
		for _, at := range gone {
			fmt.Fprintf(&b, "%s %s 410\n", l.escaped(old(at)), l.escaped(l.path(NothingHere)))
		}
		return map[string][]byte{"_redirects": b.Bytes()}
	case PagesForm:
		all := map[string][]byte{}
		for _, at := range from {
			all[PageFile(at)] = leadsOn(l.Of(PageFile(c.Moved[at])))
		}
		return all
	}
	return nil
}

// leadsOn is a page that leads on to another one, and that search engines do not keep.
func leadsOn(to string) []byte {
	to = html.EscapeString(to)
	return fmt.Appendf(nil, "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n<title>Moved</title>\n<meta http-equiv=\"refresh\" content=\"0; url=%s\">\n<link rel=\"canonical\" href=\"%s\">\n<meta name=\"robots\" content=\"noindex\">\n</head>\n<body>\n<p><a href=\"%s\">%s</a></p>\n</body>\n</html>\n", to, to, to, to)
}

func apachePattern(at string) string { return regexp.QuoteMeta(at) }

func nginxText(at string) string { return `"` + at + `"` }

// escaped writes a path as it stands in addresses.
func (l Links) escaped(at string) string { return (&url.URL{Path: at}).EscapedPath() }

// tame are paths that mean nothing else in the files of any server. Those of pages are; others
// are left out.
var tame = regexp.MustCompile(`^/[\p{L}\p{N}._~/-]*$`)

// tamed returns such paths in order, each once.
func tamed(all iter.Seq[string]) []string {
	return slices.Compact(slices.DeleteFunc(slices.Sorted(all), func(at string) bool { return !tame.MatchString(at) }))
}
