package survey

import (
	"context"
	"io/fs"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"mivlet/core/raster"
	"mivlet/core/twin"
)

// Pictures of one page that are described alike are either one picture, in several sizes or shown twice, or their
// descriptions do not tell them apart. Pixels tell which: these are the only ones that reading a site looks at.

// glanced are the limits of what is decoded for that.
var glanced = raster.Limits{Side: 1 << 14, Pixels: 100_000_000, Bytes: largestPicture}

// glanceAtNamesakes looks at pictures whose description another one on their page has.
func (s *Survey) glanceAtNamesakes(ctx context.Context, files fs.FS) error {
	asked := map[*File]bool{}
	var all []*File
	ask := func(f *File) {
		if f != nil && f.Facts != nil && !asked[f] && len(all) < mostLooked {
			asked[f] = true
			all = append(all, f)
		}
	}
	for _, p := range s.Pages {
		first := map[string]*File{}
		for _, u := range p.Uses {
			f := s.Files[u.File]
			if u.Kind != Image || u.Alt == "" || f == nil {
				continue
			}
			if other := first[u.Alt]; other == nil {
				first[u.Alt] = f
			} else if other != f {
				ask(other)
				ask(f)
			}
		}
	}
	each(ctx, all, func(f *File) { f.glance = fingerprint(files, f, glanced) })
	return ctx.Err()
}

// sameLook reports whether two files are seen to show the same.
func (s *Survey) sameLook(a, b string) bool {
	x, y := s.Files[a], s.Files[b]
	if x == nil || y == nil || x.Facts == nil || y.Facts == nil {
		return false
	}
	return x == y || x.sizeless() == y.sizeless() || x.glance != nil && y.glance != nil && x.glance.Distance(*y.glance) <= twin.Near
}

// hashed is a part of a name that follows from what is in the file.
var hashed = regexp.MustCompile(`^[0-9a-f]{8,}$`)

// sizeless is the path of a picture without what tells its size, or its content: pier-800-3f2a9c01.jpg, pier-800w.jpg,
// pier@2x.jpg and pier-800x600.jpg are sizes of pier.jpg (common practice). A number that is not the file's own
// size stays.
func (f *File) sizeless() string {
	own := f.Facts.Upright()
	w, h := strconv.Itoa(own.W), strconv.Itoa(own.H)
	stem := strings.TrimSuffix(f.Path, path.Ext(f.Path))
	for {
		at := strings.LastIndexAny(stem, "-_@.")
		if at <= strings.LastIndexByte(stem, '/')+1 {
			return stem
		}
		last := stem[at+1:]
		said := slices.Contains([]string{w, w + "w", h + "h", w + "x" + h}, last) || stem[at] == '@' && len(last) == 2 && last[1] == 'x'
		if !said && !hashed.MatchString(last) {
			return stem
		}
		stem = stem[:at]
	}
}

// wider reports whether a file has more pixels along than another.
func (s *Survey) wider(at string, than *File) bool {
	f := s.Files[at]
	return f != nil && f.Facts != nil && than.Facts != nil && f.Facts.Upright().W > than.Facts.Upright().W
}
