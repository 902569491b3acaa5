package derive

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"io"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/twin"
	"mivlet/desk/access"
	"mivlet/store"
)

// UnlessGone is for files that were made of a picture and could not be recorded as it
// has gone meanwhile: they are taken away at once.
func (d *Desk) UnlessGone(err error, hashes ...string) error {
	if !errors.Is(err, store.ErrNotFound) {
		return err
	}
	if _, bad := d.Store.RemoveUnnamed(hashes); bad != nil {
		return bad
	}
	return access.NotFound(err, "The picture")
}

// Longest sides, in pixels, of the working copy on the stage, of the thumbnail in
// lists and of the picture on its card.
const (
	previewSide = 1600
	ThumbSide   = 360
	lookSide    = 1200
)

// Source returns the decoded original of a picture, with all of its pixels. It is decoded at
// most once at a time; done says that whoever asked has no more use for it.
func (d *Desk) Source(p store.Picture) (s *raster.Source, done func(), err error) {
	return d.SourceFor(p, fit.Size{})
}

// SourceFor is [Desk.Source] with as many pixels as it takes to bring the picture down to
// wanted; nothing means all.
func (d *Desk) SourceFor(p store.Picture, wanted fit.Size) (s *raster.Source, done func(), err error) {
	s, done, err = d.Decoded(p.OriginalHash, &p.Facts, wanted)
	return cameAs(p, s), done, err
}

// cameAs is the decoded original of a picture, which knows what it was before it was taken in; nil stays
// nil.
func cameAs(p store.Picture, s *raster.Source) *raster.Source {
	if s == nil || p.Converted == "" {
		return s
	}
	return s.CameAs(p.Converted)
}

// WorkingCopy returns the decoded working copy of a picture.
func (d *Desk) WorkingCopy(p store.Picture) (s *raster.Source, done func(), err error) {
	p, err = d.withPreviews(p)
	if err != nil {
		return nil, nil, err
	}
	s, done, err = d.Decoded(p.PreviewHash, nil, fit.Size{})
	if err == nil {
		s = s.CopyOf(p.Facts.Upright(), p.Facts.MediaType, p.Converted)
	}
	return s, done, err
}

// Decoded returns a kept file as pixels, as many as it takes to bring it down to wanted; nothing
// means all. known are its facts; nil has them read from its head. Room for the pixels is held until done, whether they were decoded just now
// or before.
func (d *Desk) Decoded(hash string, known *facts.Facts, wanted fit.Size) (s *raster.Source, done func(), err error) {
	return d.decoded(hash, known, wanted, image.Rectangle{})
}

// decoded is [Desk.Decoded] for work that reads nothing but a part of the picture, as it is to be seen; an empty
// part is all of it. No more is decoded where that spares half of it or more, and the frame is not being moved: when a
// second part is asked for, the whole picture is there for the third.
func (d *Desk) decoded(hash string, known *facts.Facts, wanted fit.Size, part image.Rectangle) (s *raster.Source, done func(), err error) {
	f, err := d.Store.Files.Open(hash)
	if err != nil {
		return nil, nil, err
	}
	defer f.Close()
	if known == nil {
		read, err := facts.Read(f)
		if err != nil {
			return nil, nil, err
		}
		known = &read
	}
	if err := d.Limits().CheckStill(*known); err != nil {
		return nil, nil, d.RefuseFile("The picture", err)
	}
	if done, err = d.budget.take(d.Context, raster.Cost(*known, 1)); err != nil {
		return nil, nil, err
	}
	name := decoded{hash: hash, eighths: raster.Scale(*known, wanted)}
	if parted := (decoded{hash, name.eighths, part, 0}); worthParting(*known, part) && d.sources.get(name) == nil && !d.sources.hasPart(parted) {
		name = parted
	}
	s, err = Once(d, "decode "+name.String(), func() (*raster.Source, error) {
		if s := d.sources.get(name); s != nil {
			return s, nil
		}
		s, err := raster.DecodePart(patient{f, d.Context}, *known, d.Limits(), wanted, name.part)
		if err != nil {
			return nil, d.orGaveUp(err)
		}
		d.sources.put(name, s)
		return s, nil
	})
	if err != nil {
		done()
		return nil, nil, err
	}
	return s, done, nil
}

// worthParting reports whether a part is half of a picture or less, and its kind can be decoded in part: see
// [raster.DecodePart].
func worthParting(known facts.Facts, part image.Rectangle) bool {
	whole := known.Upright()
	return known.MediaType == "image/jpeg" && !part.Empty() && 2*part.Dx()*part.Dy() <= whole.W*whole.H
}

// withPreviews returns p with its working copy made.
func (d *Desk) withPreviews(p store.Picture) (store.Picture, error) {
	if p.PreviewHash != "" && d.Store.Files.Has(p.PreviewHash) {
		return p, nil
	}
	made, err := Once(d, "preview "+p.OriginalHash, func() (store.Picture, error) {
		s, done, err := d.SourceFor(p, ForCopies(p.Facts.Upright()))
		if err != nil {
			return p, err
		}
		defer done()
		_, err = d.MakePreview(&p, s)
		return p, err
	})
	if err != nil {
		return p, err
	}
	p.PreviewHash, p.TwinA, p.TwinB, p.TwinC, p.TwinCrops = made.PreviewHash, made.TwinA, made.TwinB, made.TwinC, made.TwinCrops
	there, err := d.Store.SetPreview(p)
	return p, d.recorded(there, err, p.PreviewHash)
}

// recorded is unlessGone for a record that says whether its picture is still there.
func (d *Desk) recorded(there bool, err error, hash string) error {
	if err == nil && !there {
		err = store.ErrNotFound
	}
	return d.UnlessGone(err, hash)
}

// MakePreview makes the working copy of a picture, and its perceptual hash, from
// its decoded original. The copy is returned as it was before it was kept.
func (d *Desk) MakePreview(p *store.Picture, s *raster.Source) (*raster.Source, error) {
	size := CopySize(s.Upright())
	small := s.Glance(size)
	hash, err := d.keepCopy(small.Image(), p.Facts)
	if err != nil {
		return nil, err
	}
	t := tiny(small)
	h := twin.Of(t)
	p.TwinCrops = twin.CropsOf(t).Bytes()
	p.PreviewHash, p.TwinA, p.TwinB, p.TwinC = hash, int64(h[0]), int64(h[1]), int64(h[2])
	return small, nil
}

// tiny is a picture as small as fingerprints need it.
func tiny(s *raster.Source) image.Image {
	return s.Glance(fit.Inside(s.Upright(), fit.Size{W: 160, H: 160})).Image()
}

// CropsOf is what a picture is known by when a tenth of it is cut off, as it is kept.
func CropsOf(copied *raster.Source) []byte { return twin.CropsOf(tiny(copied)).Bytes() }

// CopySize is the size of the working copy of a picture.
func CopySize(whole fit.Size) fit.Size { return within(whole, previewSide) }

// ForCopies is what a picture is decoded for when it arrives: its working copy, and what faces
// are looked for in. Both are for screens and not for visitors, so that five eighths of each side
// of what a cut of their size would want are enough.
func ForCopies(whole fit.Size) fit.Size {
	c := CopySize(whole)
	return fit.Size{W: c.W * 5 / 8, H: c.H * 5 / 8}
}

// within is a size brought down to a longest side, and never up.
func within(size fit.Size, side int) fit.Size {
	if max(size.W, size.H) > side {
		return fit.Inside(size, fit.Size{W: side, H: side})
	}
	return size
}

// keepCopy keeps a working copy in a file of a kind that follows from that of the
// original alone, whatever it shows: what is hidden must not choose it.
func (d *Desk) keepCopy(m image.Image, original facts.Facts) (string, error) {
	data, err := raster.EncodeCopy(m, original)
	return d.keepEncoded(data, err)
}

// keepForScreen keeps pixels as a file that a screen can show.
func (d *Desk) keepForScreen(m image.Image) (string, error) {
	data, err := raster.EncodeForScreen(m)
	return d.keepEncoded(data, err)
}

func (d *Desk) keepEncoded(data []byte, err error) (string, error) {
	if err != nil {
		return "", err
	}
	return d.Store.Files.Put(bytes.NewReader(data), "") // its content tells its type
}

// LookKey stands for what a picture looks like at the moment: its original and
// its recipe. It changes with either, so that a copy can be cached for good.
func LookKey(p store.Picture) string {
	return Fingerprint(8, lookVersion, p.Secret, p.OriginalHash, p.Work.Recipe)
}

const lookVersion = 2

// StageKey stands for what lies on the stage: the original with its veils. A frame
// or a turn does not change it.
func StageKey(p store.Picture) string {
	return Fingerprint(8, lookVersion, p.Secret, p.OriginalHash, p.Work.Recipe.Veils())
}

// WithLook returns p with a copy that shows its recipe, veils included: the
// thumbnail, or the larger one. They are made from the working copy: the
// original is decoded once, when it arrives.
func (d *Desk) WithLook(p store.Picture, large bool) (store.Picture, error) {
	key := LookKey(p)
	if p.LookKey != key {
		p.LookKey, p.ThumbHash, p.LookHash = key, "", ""
	}
	side, hash := ThumbSide, &p.ThumbHash
	if large {
		side, hash = lookSide, &p.LookHash
	}
	if *hash != "" && d.Store.Files.Has(*hash) {
		return p, nil
	}
	made, err := Once(d, fmt.Sprintf("look %s %d", key, side), func() (string, error) { return d.makeLook(p, side) })
	if err != nil {
		return p, err
	}
	*hash = made
	there, err := d.Store.SetLooks(p)
	return p, d.recorded(there, err, made)
}

// makeLook keeps a copy of a picture as its recipe has it, inside a square.
func (d *Desk) makeLook(p store.Picture, side int) (string, error) {
	src, done, err := d.WorkingCopy(p)
	if err != nil {
		return "", err
	}
	defer done()
	return d.LookOf(p, src, side)
}

// LookOf makes what a picture looks like, at most so large, and returns its hash.
func (d *Desk) LookOf(p store.Picture, src *raster.Source, side int) (string, error) {
	view := p.Work.Recipe.View(p.Facts.Upright()).Scaled(p.Facts.Upright(), src.Upright())
	size := within(fit.SizeOf(view.Seen()), side)
	return d.keepForScreen(src.Do(raster.TransformFor(view, fit.Cut{Source: view.Frame, Size: size})))
}

// File is a file for the screen, with its type and a tag that changes with
// its content.
type File struct {
	io.ReadSeekCloser
	MediaType string
	Tag       string
}

// Thumb opens the thumbnail of a picture: as its recipe has it, veils included,
// whoever asks. key is the LookKey that it has.
func (d *Desk) Thumb(id uint) (f File, key string, err error) {
	return d.look(id, false)
}

// Look opens a larger copy of a picture, as its recipe has it, veils included.
func (d *Desk) Look(id uint) (f File, key string, err error) {
	return d.look(id, true)
}

func (d *Desk) look(id uint, large bool) (File, string, error) {
	if err := d.MayLook(); err != nil {
		return File{}, "", err
	}
	p, err := d.Visible(id)
	if err != nil {
		return File{}, "", err
	}
	if p, err = d.WithLook(p, large); err != nil {
		return File{}, "", err
	}
	hash := p.ThumbHash
	if large {
		hash = p.LookHash
	}
	f, err := d.Open(hash)
	return f, p.LookKey, err
}

// Preview opens the working copy of a picture, as it arrived and without its
// veils: for those who work for its section.
func (d *Desk) Preview(id uint) (File, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return File{}, err
	}
	if p, err = d.withPreviews(p); err != nil {
		return File{}, err
	}
	return d.Open(p.PreviewHash)
}

// anyType is the media type of bytes of which nothing is known (RFC 2046, 4.5.1).
const anyType = "application/octet-stream"

// Open opens a kept file, for those who have asked whether they may.
func (d *Desk) Open(hash string) (File, error) {
	f, err := d.Store.Files.Open(hash)
	if err != nil {
		return File{}, err
	}
	kind := f.MediaType()
	if kind == anyType { // kept by an earlier version, which did not note it
		if kind, err = facts.MediaType(f); err != nil {
			f.Close()
			return File{}, err
		}
	}
	return File{f, kind, hash}, nil
}
