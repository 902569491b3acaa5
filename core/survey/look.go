package survey

import (
	"context"
	"fmt"
	"io"
	"io/fs"

	"mivlet/core/blur"
	"mivlet/core/fit"
	"mivlet/core/mosaic"
	"mivlet/core/private"
	"mivlet/core/raster"
	"mivlet/core/twin"
	"mivlet/core/words"
)

// lookSide is how many pixels of a picture are enough to know it again.
const lookSide = 160

// closeSide is how many pixels of a picture are looked at for mosaics and blurs, along its longer side, at most.
const closeSide = 2048

// mostLooked is how many pictures are compared with one another, at most.
const mostLooked = 20_000

// Seen is what can be seen in a picture, by its pixels.
type Seen struct {
	Faces   int            `json:"faces,omitempty"`   // that can be made out
	Tells   []private.Kind `json:"tells,omitempty"`   // what of people can be read in it, each kind once
	Mosaics int            `json:"mosaics,omitempty"` // parts that are covered by one, which can be undone
	Blurs   int            `json:"blurs,omitempty"`   // words that were blurred, which can be undone, too
	Look    *twin.Hash     `json:"look,omitempty"`    // what it is known again by; nil where it shows nothing
}

// Inspect tells how many faces are in a picture, and what can be read in it that tells of people.
type Inspect func(*raster.Source) (faces int, tells []private.Kind)

// Looking says how pictures are looked at.
type Looking struct {
	Limits   raster.Limits // of what is decoded
	Inspect  Inspect       // nil where nobody looks for people
	Progress func(done, all int)
}

// Look decodes all pictures that can be decoded, two at a time, so that one picture is found again in other sizes, under
// other names and in other formats, a still beside the animation that it is of, and what is covered by a mosaic or
// blurred. Where somebody inspects them, faces and what can be read are found, too. Whatever cannot be decoded is left out.
func (s *Survey) Look(ctx context.Context, files fs.FS, o Looking) error {
	var all []*File
	for _, f := range s.files() {
		if f.Facts != nil && f.Facts.MediaType != "image/svg+xml" {
			all = append(all, f)
		}
	}
	if len(all) > mostLooked {
		return fmt.Errorf("more than %d pictures are there: look through parts of the site", mostLooked)
	}
	done := newProgress(o.Progress, len(all))
	each(ctx, all, func(f *File) {
		f.seen = f.see(files, o)
		done()
	})
	return ctx.Err()
}

// Seen is what was seen in the pictures, by their paths; nil where nobody looked.
func (s *Survey) Seen() map[string]Seen {
	all := map[string]Seen{}
	for at, f := range s.Files {
		if f.seen != nil {
			all[at] = *f.seen
		}
	}
	return all
}

// Recall takes what was seen in the pictures before, as [Survey.Seen] told it.
func (s *Survey) Recall(all map[string]Seen) {
	for at, seen := range all {
		if f := s.Files[at]; f != nil {
			f.seen = &seen
		}
	}
}

// see looks at a picture; nil where it cannot be decoded.
func (f *File) see(files fs.FS, o Looking) *Seen {
	own := f.Facts.Upright()
	closely := fit.Inside(own, fit.Size{W: closeSide, H: closeSide})
	wanted := closely
	if o.Inspect != nil {
		wanted = own
	}
	source := f.decode(files, o.Limits, wanted)
	if source == nil {
		return nil
	}
	grey := mosaic.Brightness(source.Glance(closely).Image())
	seen := Seen{Mosaics: len(mosaic.FindIn(grey)), Blurs: len(blur.FindIn(grey))}
	if h := twin.Of(source.Glance(fit.Inside(own, fit.Size{W: lookSide, H: lookSide})).Image()); !h.Flat() {
		seen.Look = &h
	}
	if o.Inspect != nil {
		seen.Faces, seen.Tells = o.Inspect(source)
	}
	return &seen
}

// ofPixels is what is wrong with a picture by what can be seen in it.
func (s *Survey) ofPixels(f *File, add func(Code, words.Level, Cost, ...any)) {
	if f.seen == nil {
		return
	}
	if f.seen.Faces > 0 {
		add(Faces, words.Warn, Cost{Private: true}, f.seen.Faces)
	}
	if len(f.seen.Tells) > 0 {
		var kinds []any
		for _, k := range f.seen.Tells {
			kinds = append(kinds, string(k))
		}
		add(Readable, words.Stop, Cost{Private: true}, kinds...)
	}
	if f.seen.Mosaics > 0 {
		add(WeakVeil, words.Warn, Cost{Private: true}, f.seen.Mosaics)
	}
	if f.seen.Blurs > 0 {
		add(SoftVeil, words.Warn, Cost{Private: true}, f.seen.Blurs)
	}
}

// stills finds pictures that show what an animation shows at first, and stand still.
func (s *Survey) stills() (all []Finding) {
	var moving, still []*File
	for _, f := range s.files() {
		switch {
		case f.look() == nil:
		case f.Facts.Frames > 1:
			moving = append(moving, f)
		case f.used > 0:
			still = append(still, f)
		}
	}
	for _, f := range still {
		for _, m := range moving {
			if f.look().Distance(*m.look()) <= twin.Near {
				all = append(all, Finding{Code: StillCopy, Level: words.Hint, Picture: f.Path, Values: []any{m.Path}, Cost: Cost{Pages: f.used}})
				break
			}
		}
	}
	return all
}

// decode decodes a picture, as small as wanted; nil where it is too small to look at, or cannot be decoded.
func (f *File) decode(files fs.FS, limits raster.Limits, wanted fit.Size) *raster.Source {
	if own := f.Facts.Upright(); min(own.W, own.H) < leastIcons || limits.CheckStill(*f.Facts) != nil {
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
	source, err := raster.DecodeFor(seeking, *f.Facts, limits, wanted)
	if err != nil {
		return nil
	}
	return source
}

// fingerprint is what a picture is known again by; nil where it cannot be decoded, or shows nothing.
func fingerprint(files fs.FS, f *File, limits raster.Limits) *twin.Hash {
	wanted := fit.Inside(f.Facts.Upright(), fit.Size{W: lookSide, H: lookSide})
	source := f.decode(files, limits, wanted)
	if source == nil {
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
		if f.look() != nil {
			seen = append(seen, f)
		}
	}
	for _, f := range seen {
		var best *File
		for _, o := range seen {
			if o == f || f.Hash != "" && f.Hash == o.Hash || f.look().Distance(*o.look()) > twin.Near || !larger(o, f) {
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

// look is what a picture is known again by; nil where nobody looked, or it shows nothing.
func (f *File) look() *twin.Hash {
	if f.seen == nil {
		return nil
	}
	return f.seen.Look
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
