// Package address says where the files of live pages are found, so that two files never share
// an address.
package address

import (
	"fmt"
	"path"
	"strings"

	"mivlet/core/facts"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// Places gives the files of one page, or of one archive, their paths: two different
// files never have the same, nor have equal files of two pictures, so that each can be
// traced to the picture that it shows.
type Places map[string]Filed // by path

// Filed is a file at its path, and the picture that it shows; 0 for none.
type Filed struct {
	Hash    string
	Picture uint
}

// Put gives a file the path that it is meant for, or, where another file has that, one
// with the mark of its content in its name.
func (p Places) Put(at string, f Filed) string {
	try := at
	for n := 1; ; n++ {
		taken, ok := p[try]
		if !ok || taken == f {
			p[try] = f
			return try
		}
		try = suffixed(at, store.Mark(f.Hash))
		if n > 1 {
			try = suffixed(at, fmt.Sprintf("%s-%d", store.Mark(f.Hash), n))
		}
	}
}

// suffixed puts a mark at the end of a file's name, before its extension.
func suffixed(at, mark string) string {
	ext := path.Ext(at)
	return strings.TrimSuffix(at, ext) + "-" + mark + ext
}

// Addressed gives a file of a page its path and its address. The address changes with
// the content, so that no browser shows an old copy: by a query mark or, where the
// house says so, by a suffix of its name.
func (p Places) Addressed(r rules.Rules, at string, f Filed) (path, address string) {
	if r.Placing.CutMark == "suffix" {
		at = p.Put(suffixed(at, store.Mark(f.Hash)), f)
		return at, at
	}
	at = p.Put(at, f)
	return at, at + "?v=" + store.Mark(f.Hash)
}

// CutPath is where visitors find a cut: the section's folder and the house
// name, with the width that tells its copies apart.
func CutPath(pic store.Picture, c store.Cut) string {
	return path.Join("/", pic.Section, CutFile(pic, c))
}

// CutFile is what a cut is called: the house name, with the width that tells its
// copies apart. Who has no name yet is called as it arrived, made portable.
func CutFile(pic store.Picture, c store.Cut) string {
	return fmt.Sprintf("%s-%d%s", NameOf(pic), c.Width, facts.Extension(c.MediaType))
}

// NameOf is what the files of a picture are called.
func NameOf(pic store.Picture) string {
	if pic.Work.Name == "" {
		return pictures.AttachedName(pic.OriginalName, "")
	}
	return pic.Work.Name
}

// FilePath is where visitors find a file of a page.
func FilePath(p store.Page, a page.Attachment) string { return path.Join(p.Path(), a.Name) }
