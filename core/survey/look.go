package survey

import (
	"context"
	"fmt"
	"io"
	"io/fs"

	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/twin"
	"mivlet/core/words"
)

// lookSide is how many pixels of a picture are enough to know it again.
const lookSide = 160

// mostLooked is how many pictures are compared with one another, at most.
const mostLooked = 20_000

// Look decodes all pictures that can be decoded, two at a time and as small as will do, so that one picture is
// found again in other sizes, under other names and in other formats. limits are those of what is decoded.
// Whatever cannot be decoded is left out.
func (s *Survey) Look(ctx context.Context, files fs.FS, limits raster.Limits, progress func(done, all int)) error {
	var all []*File
	for _, f := range s.files() {
		if f.Facts != nil && f.Facts.MediaType != "image/svg+xml" {
			all = append(all, f)
		}
	}
	if len(all) > mostLooked {
		return fmt.Errorf("more than %d pictures are there: look through parts of the site", mostLooked)
	}
	done := newProgress(progress, len(all))
	each(ctx, all, func(f *File) {
		f.look = fingerprint(files, f, limits)
		done()
	})
	return ctx.Err()
}

// fingerprint is what a picture is known again by; nil where it cannot be decoded, or shows nothing.
func fingerprint(files fs.FS, f *File, limits raster.Limits) *twin.Hash {
	own := f.Facts.Upright()
	if min(own.W, own.H) < leastIcons || limits.CheckStill(*f.Facts) != nil {
		return nil
	}
	in, err := files.Open(f.Path)
	if err != nil {
		return nil
	}
	defer in.Close()
	seeking, ok := in.(io.ReadSeeker)
	if !ok {
		if seeking, err = inMemory(in); err != nil {
			return nil
		}
	}
	wanted := fit.Inside(own, fit.Size{W: lookSide, H: lookSide})
	source, err := raster.DecodeFor(seeking, *f.Facts, limits, wanted)
	if err != nil {
		return nil
	}
	h := twin.Of(source.Glance(wanted).Image())
	if h.Flat() {
		return nil
	}
	return &h
}

// alike finds pictures that show the same as another which has more pixels, and are no copies of it.
func (s *Survey) alike() (all []Finding) {
	var seen []*File
	for _, f := range s.files() {
		if f.look != nil {
			seen = append(seen, f)
		}
	}
	for _, f := range seen {
		var best *File
		for _, o := range seen {
			if o == f || f.Hash != "" && f.Hash == o.Hash || f.look.Distance(*o.look) > twin.Near || !larger(o, f) {
				continue
			}
			if best == nil || larger(o, best) {
				best = o
			}
		}
		if best != nil {
			all = append(all, Finding{Code: SameLook, Level: words.Hint, Picture: f.Path, Values: []any{best.Path}, Cost: Cost{Bytes: f.Bytes, Pages: f.used}})
		}
	}
	return all
}

// larger orders pictures: by pixels, then bytes, then names. The first of several is the original.
func larger(a, b *File) bool {
	x, y := a.Facts.Upright(), b.Facts.Upright()
	if x.W*x.H != y.W*y.H {
		return x.W*x.H > y.W*y.H
	}
	if a.Bytes != b.Bytes {
		return a.Bytes > b.Bytes
	}
	return a.Path < b.Path
}
