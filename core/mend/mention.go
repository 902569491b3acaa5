package mend

import (
	"context"
	"io/fs"
	"maps"
	"net/url"
	"path"
	"regexp"
	"slices"
	"strings"

	"mivlet/core/survey"
)

// named finds what may be the name of a picture, in whatever text.
var named = regexp.MustCompile(`(?i)[^\s"'()<>=,;:\\/|?#]+\.(?:jpe?g|jpe|jfif|png|gif|webp|avif|bmp|tiff?)`)

// mention notes the names of pictures that a text speaks of. A picture that a link leads to, a style shows or
// a script fetches keeps all its pixels.
func (p *planning) mention(text []byte) {
	for _, one := range named.FindAll(text, -1) {
		name := strings.ToLower(string(one))
		p.mentioned[name] = true
		if plain, err := url.PathUnescape(name); err == nil {
			p.mentioned[plain] = true
		}
	}
}

// speaking are the endings of files in which something may speak of pictures.
var speaking = []string{".css", ".js", ".mjs", ".json", ".xml", ".txt", ".webmanifest", ".svg", ".map", ".htaccess", ".conf", ".csv", ".inc", ".tpl", ".rss", ".atom"}

// readOthers reads the texts of the site that are no pages.
func (p *planning) readOthers(ctx context.Context, files fs.FS) error {
	for _, at := range slices.Sorted(maps.Keys(p.found.Files)) {
		if !slices.Contains(speaking, strings.ToLower(path.Ext(at))) {
			continue
		}
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if text, err := survey.ReadText(files, at); err == nil {
			p.mention(text)
		}
	}
	return nil
}
