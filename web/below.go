package web

import (
	"fmt"
	"html/template"
	"io/fs"
	"path"
	"regexp"

	"mivlet/desk/derive"
	"mivlet/internal/under"
	"mivlet/store"
)

// Where Mivlet shares its host with others, its addresses begin with the path that it has there. Templates
// are written as if it had the host to itself; the path comes before when they are read. An address that a
// template gets from elsewhere is written {{own .To}}.

// ownAddresses finds the addresses in attributes of templates that are written out.
var ownAddresses = regexp.MustCompile(`\b(href|src|action|formaction|hx-get|hx-post|data-image)="/([^/])`)

// parse reads templates into a set.
func parse(set *template.Template, base string, pattern string) *template.Template {
	names, err := fs.Glob(templateFiles, pattern)
	for _, name := range names {
		var text []byte
		if text, err = templateFiles.ReadFile(name); err != nil {
			break
		}
		if base != "" {
			text = ownAddresses.ReplaceAll(text, []byte(`$1="`+base+`/$2`))
		}
		set = template.Must(set.New(path.Base(name)).Parse(string(text)))
	}
	if err != nil {
		panic(err) // they are part of the program
	}
	return set
}

// addresses are the words of templates that give addresses.
func addresses(base string) template.FuncMap {
	return template.FuncMap{
		"own":    func(address string) string { return own(base, address) },
		"static": func(name string) string { return base + staticURL(name) },
		"thumb":  func(p store.Picture) string { return fmt.Sprintf("%s/thumbs/%d?v=%s", base, p.ID, derive.LookKey(p)) },
		"look":   func(p store.Picture) string { return fmt.Sprintf("%s/looks/%d?v=%s", base, p.ID, derive.LookKey(p)) },
	}
}

// own puts the path before an address of Mivlet's own. Others stay as they are.
func own(base, address string) string {
	if under.Own(address) {
		return base + address
	}
	return address
}
