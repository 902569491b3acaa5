package desk

import (
	"bytes"
	"context"
	"io"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/store"
)

// Longest sides, in pixels, of the working copy on the stage and of the
// thumbnail in lists.
const (
	previewSide = 1600
	thumbSide   = 360
)

// source returns the decoded original of a picture, decoding it at most once
// at a time.
func (d *Desk) source(p store.Picture) (*raster.Source, error) {
	return d.decoded(p.OriginalHash, &p.Facts)
}

// preview returns the decoded working copy of a picture.
func (d *Desk) preview(p store.Picture) (*raster.Source, error) {
	p, err := d.withPreviews(p)
	if err != nil {
		return nil, err
	}
	return d.decoded(p.PreviewHash, nil)
}

// decoded returns a kept file as pixels. known are its facts; nil has them read
// where the file must be opened anyway.
func (d *Desk) decoded(hash string, known *facts.Facts) (*raster.Source, error) {
	if s := d.sources.get(hash); s != nil {
		return s, nil
	}
	v, err, _ := d.once.Do("decode "+hash, func() (any, error) {
		if s := d.sources.get(hash); s != nil {
			return s, nil
		}
		f, err := d.store.Blobs.Open(hash)
		if err != nil {
			return nil, err
		}
		defer f.Close()
		if known == nil {
			read, err := facts.Read(f)
			if err != nil {
				return nil, err
			}
			known = &read
		}
		s, err := raster.Decode(f, *known, d.limits())
		if err == nil {
			d.sources.put(hash, s)
		}
		return s, err
	})
	if err != nil {
		return nil, err
	}
	return v.(*raster.Source), nil
}

// withPreviews returns p with its working copy and thumbnail made.
func (d *Desk) withPreviews(p store.Picture) (store.Picture, error) {
	if p.PreviewHash != "" {
		return p, nil
	}
	v, err, _ := d.once.Do("preview "+p.OriginalHash, func() (any, error) {
		s, err := d.source(p)
		if err != nil {
			return nil, err
		}
		preview, thumb, err := d.makePreviews(s)
		return [2]string{preview, thumb}, err
	})
	if err != nil {
		return p, err
	}
	made := v.([2]string)
	p.PreviewHash, p.ThumbHash = made[0], made[1]
	return p, d.store.SetPreviews(p.ID, p.PreviewHash, p.ThumbHash)
}

// Warm makes the previews that are missing, what waits first, so that no screen
// has to wait for them. It stops when ctx ends.
func (d *Desk) Warm(ctx context.Context) error {
	for _, at := range []store.Station{store.Arrivals, store.Bench, store.Shelf} {
		ps, err := d.store.PicturesAt(at)
		if err != nil {
			return err
		}
		for _, p := range ps {
			if ctx.Err() != nil {
				return ctx.Err()
			}
			if _, err := d.withPreviews(p); err != nil {
				return err
			}
		}
	}
	return nil
}

// makePreviews makes the working copy from a source, and the thumbnail from
// the working copy.
func (d *Desk) makePreviews(s *raster.Source) (preview, thumb string, err error) {
	work, preview, err := d.reduced(s, previewSide)
	if err != nil {
		return
	}
	d.sources.put(preview, work)
	_, thumb, err = d.reduced(work, thumbSide)
	return
}

// reduced keeps a copy of the whole source that goes into a square of side.
func (d *Desk) reduced(s *raster.Source, side int) (*raster.Source, string, error) {
	size := s.Upright()
	if max(size.W, size.H) > side {
		size = fit.Inside(size, fit.Size{W: side, H: side})
	}
	small := s.Glance(size)
	data, err := raster.EncodeForScreen(small.Image())
	if err != nil {
		return nil, "", err
	}
	hash, err := d.store.Blobs.Put(bytes.NewReader(data))
	return small, hash, err
}

// Shown is a file for the screen, with its type and a tag that changes with
// its content.
type Shown struct {
	io.ReadSeekCloser
	MediaType string
	Tag       string
}

// Thumb opens the thumbnail of a picture.
func (d *Desk) Thumb(id uint) (Shown, error) {
	return d.show(id, d.mayLookAt, func(p store.Picture) string { return p.ThumbHash })
}

// Preview opens the working copy of a picture.
func (d *Desk) Preview(id uint) (Shown, error) {
	return d.show(id, d.mayWork, func(p store.Picture) string { return p.PreviewHash })
}

// mayLookAt is mayLook for any section.
func (d *Desk) mayLookAt(string) error { return d.mayLook() }

func (d *Desk) show(id uint, may func(section string) error, which func(store.Picture) string) (Shown, error) {
	if err := d.mayLook(); err != nil {
		return Shown{}, err
	}
	p, err := d.store.Picture(id)
	if err != nil {
		return Shown{}, missing(err, "The picture")
	}
	if err := may(p.Section); err != nil {
		return Shown{}, err
	}
	if p, err = d.withPreviews(p); err != nil {
		return Shown{}, err
	}
	return d.open(which(p))
}

func (d *Desk) open(hash string) (Shown, error) {
	f, err := d.store.Blobs.Open(hash)
	if err != nil {
		return Shown{}, err
	}
	kind, err := facts.MediaType(f)
	if err != nil {
		f.Close()
		return Shown{}, err
	}
	return Shown{f, kind, hash}, nil
}
