package site

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/url"
	"path"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// Links says how the pages of a destination lead to each other.
type Links struct {
	Base     *url.URL // public address of the destination, such as https://club.example/paddle
	Relative bool     // links within the site are written relative to their page
}

// ParseBase reads the public address of a destination.
func ParseBase(text string) (*url.URL, error) {
	u, err := url.Parse(strings.TrimRight(strings.TrimSpace(text), "/"))
	switch {
	case err != nil:
		return nil, fmt.Errorf("invalid address %q: %w", text, errors.Unwrap(err))
	case u.Scheme != "http" && u.Scheme != "https":
		return nil, fmt.Errorf("invalid address %q: it begins with https:// or http://", text)
	case u.Host == "":
		return nil, fmt.Errorf("invalid address %q: it has no host, such as club.example", text)
	case u.RawQuery != "" || u.Fragment != "" || u.User != nil:
		return nil, fmt.Errorf("invalid address %q: no ?, # or @ belongs into it", text)
	}
	return u, nil
}

// Of returns the absolute address of a file.
func (l Links) Of(file string) string {
	u := *l.Base
	u.Path, u.RawPath = l.path(file), ""
	return u.String()
}

// path is where a file stands on its server, from the root.
func (l Links) path(file string) string {
	if file == index {
		file = ""
	}
	if folder, ok := strings.CutSuffix(file, "/"+index); ok {
		file = folder + "/"
	}
	return l.Base.Path + "/" + file
}

// from returns what stands in a link of one file to another one.
func (l Links) from(here, file string) string {
	if !l.Relative {
		return (&url.URL{Path: l.path(file)}).EscapedPath()
	}
	up, at := strings.Split(path.Dir("/"+here), "/")[1:], strings.Split("/"+file, "/")[1:]
	if up[0] == "" {
		up = nil
	}
	for len(up) > 0 && len(at) > 1 && up[0] == at[0] {
		up, at = up[1:], at[1:]
	}
	to := strings.Repeat("../", len(up)) + strings.Join(at, "/")
	if folder, ok := strings.CutSuffix(to, index); ok && (folder == "" || strings.HasSuffix(folder, "/")) {
		to = folder
	}
	if to == "" {
		return "./"
	}
	return (&url.URL{Path: to}).EscapedPath()
}

// A Ref is an address of the site that something in a page leads to.
type Ref struct {
	Path, Query string
	// Shown is true where a browser fetches it along with the page, and where a reader of shared
	// links does; a page that it leads to is not.
	Shown bool
}

// linked are the attributes that hold addresses (HTML Living Standard, "Attributes"), and whether
// what they lead to is fetched along with the page.
var linked = map[string]map[string]bool{
	"a": {"href": false}, "area": {"href": false}, "link": {"href": true}, "script": {"src": true}, "iframe": {"src": true},
	"img": {"src": true, "srcset": true}, "source": {"src": true, "srcset": true}, "video": {"src": true, "poster": true}, "audio": {"src": true},
}

// told are those properties of a page whose content is an address (The Open Graph protocol).
var told = map[string]bool{"og:url": false, "og:image": true, "og:image:url": true, "og:image:secure_url": true, "twitter:image": true}

// Rewrite returns a page with all that leads to the same site leading to the files of a destination.
// at is where the page stands on the site, and here the file that it will be kept in. file is asked
// for each address, as often as it stands there, and names its file, or a whole address elsewhere;
// false leaves it as it is. What the stand-in of a website says of itself is left out.
func Rewrite(page []byte, at, here string, l Links, file func(Ref) (string, bool)) ([]byte, error) {
	r := rewriter{links: l, here: here, file: file, site: siteOf(page), base: &url.URL{Scheme: "http", Host: "the.site.invalid", Path: at}}
	z := html.NewTokenizer(bytes.NewReader(page))
	var out bytes.Buffer
	out.Grow(len(page) + len(page)/8)
	leftOut, data := false, false
	for {
		kind := z.Next()
		if kind == html.ErrorToken {
			if err := z.Err(); !errors.Is(err, io.EOF) {
				return nil, err
			}
			return out.Bytes(), nil
		}
		raw := bytes.Clone(z.Raw())
		t := z.Token()
		switch {
		case kind == html.StartTagToken && t.DataAtom == atom.Footer && attr(t, "class") == "site":
			leftOut = true
			continue
		case kind == html.EndTagToken && t.DataAtom == atom.Footer && leftOut:
			leftOut = false
			continue
		case leftOut:
			continue
		case kind == html.StartTagToken || kind == html.SelfClosingTagToken:
			data = t.DataAtom == atom.Script && attr(t, "type") == "application/ld+json"
			if r.tag(&t) {
				raw = []byte(t.String())
			}
		case kind == html.TextToken && data:
			raw = r.data(raw)
		case kind == html.EndTagToken:
			data = false
		}
		out.Write(raw)
	}
}

// siteOf is the origin that a page says it stands on, by its canonical address; "" where it says none.
func siteOf(page []byte) string {
	z := html.NewTokenizer(bytes.NewReader(page))
	for kind := z.Next(); kind != html.ErrorToken; kind = z.Next() {
		if t := z.Token(); t.DataAtom == atom.Link && attr(t, "rel") == "canonical" {
			if u, err := url.Parse(attr(t, "href")); err == nil && u.Host != "" {
				return u.Scheme + "://" + u.Host
			}
		} else if t.DataAtom == atom.Body {
			break
		}
	}
	return ""
}

func attr(t html.Token, name string) string {
	for _, a := range t.Attr {
		if a.Key == name {
			return a.Val
		}
	}
	return ""
}

type rewriter struct {
	links Links
	here  string
	file  func(Ref) (string, bool)
	site  string
	base  *url.URL
}

// tag changes the addresses of a tag, and reports whether it did.
func (r rewriter) tag(t *html.Token) bool {
	holds := linked[t.Data]
	if t.DataAtom == atom.Meta {
		shown, ok := told[attr(*t, "property")]
		if !ok {
			shown, ok = told[attr(*t, "name")]
		}
		if !ok {
			return false
		}
		holds = map[string]bool{"content": shown}
	}
	if rel := attr(*t, "rel"); t.DataAtom == atom.Link && rel != "stylesheet" && rel != "icon" && rel != "preload" {
		holds = map[string]bool{"href": false}
	}
	changed := false
	for i, a := range t.Attr {
		shown, ok := holds[a.Key]
		if !ok {
			continue
		}
		to := ""
		if a.Key == "srcset" {
			to = r.set(a.Val)
		} else {
			to = r.address(a.Val, shown)
		}
		if to != a.Val {
			t.Attr[i].Val, changed = to, true
		}
	}
	return changed
}

// set changes the addresses of a srcset.
func (r rewriter) set(text string) string {
	all := strings.Split(text, ",")
	for i, one := range all {
		at, rest, _ := strings.Cut(strings.TrimSpace(one), " ")
		all[i] = strings.TrimSpace(r.address(at, true) + " " + rest)
	}
	return strings.Join(all, ", ")
}

// address changes one address, where it leads to the same site.
func (r rewriter) address(text string, shown bool) string {
	if text == "" || strings.HasPrefix(text, "#") {
		return text
	}
	within, whole := text, false
	if r.site != "" && (text == r.site || strings.HasPrefix(text, r.site+"/")) {
		within, whole = "/"+strings.TrimPrefix(strings.TrimPrefix(text, r.site), "/"), true
	}
	u, err := r.base.Parse(within)
	if err != nil || u.Host != r.base.Host || u.Scheme != r.base.Scheme {
		return text
	}
	file, ok := r.file(Ref{Path: path.Clean("/" + u.Path), Query: u.RawQuery, Shown: shown})
	if !ok {
		return text
	}
	if strings.Contains(file, "://") {
		return file
	}
	to := r.links.from(r.here, file)
	if whole {
		to = r.links.Of(file)
	}
	if u.Fragment != "" {
		to += "#" + u.EscapedFragment()
	}
	return to
}

// data changes the addresses in what a page says of itself to search engines, which is JSON.
func (r rewriter) data(text []byte) []byte {
	var v any
	if json.Unmarshal(text, &v) != nil {
		return text
	}
	out, err := json.Marshal(r.values(v)) // escapes what could end the script
	if err != nil {
		return text
	}
	return out
}

func (r rewriter) values(v any) any {
	switch v := v.(type) {
	case string:
		if r.site != "" && strings.HasPrefix(v, r.site) {
			return r.address(v, false)
		}
	case []any:
		for i := range v {
			v[i] = r.values(v[i])
		}
	case map[string]any:
		for k := range v {
			v[k] = r.values(v[k])
		}
	}
	return v
}
