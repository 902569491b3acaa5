package mend

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"slices"
	"sync"

	"mivlet/core/facts"
	"mivlet/core/raster"
	"mivlet/core/strip"
	"mivlet/core/survey"
)

// Sink takes the files of the mended site, one at a time, in the order of their paths.
type Sink interface {
	// Put takes a file that was made.
	Put(at string, data []byte) error
	// Copy takes a file over as it is.
	Copy(at string) error
}

// Outcome is what became of a picture.
type Outcome struct {
	Picture string `json:"picture"`
	Kinds   []Kind `json:"kinds"`
	Was     int64  `json:"was"`             // bytes of the file
	Now     int64  `json:"now"`             // bytes of the largest file that stands in its place on pages
	Files   int    `json:"files"`           // that are new
	Fault   string `json:"fault,omitempty"` // why it stays as it was; empty where it does not
}

// made is what is written in the place of one file.
type made struct {
	files   map[string][]byte
	outcome Outcome
	err     error
}

// largestPicture is how many bytes of a picture are read; a larger one stays as it is.
const largestPicture = 64 << 20

// Write writes the whole mended site: what changes, and everything else as it is. Two pictures are decoded at
// a time, each once. One that cannot be mended stays as it was, as do the tags that show it: so all pictures
// are made before the pages are written. progress, where it is not nil, is told how many files are done.
func (p *Plan) Write(ctx context.Context, files fs.FS, found *survey.Survey, limits raster.Limits, to Sink, progress func(done, all int)) ([]Outcome, error) {
	byPath := map[string]*Picture{}
	for _, one := range p.Pictures {
		byPath[one.Path] = one
	}
	paths := slices.Sorted(maps.Keys(found.Files))
	all := len(paths) + len(found.Pages)
	done := 0
	step := func() {
		if done++; progress != nil {
			progress(done, all)
		}
	}
	var outcomes []Outcome
	failed := map[string]bool{}
	err := inOrder(ctx, paths, func(at string) *made {
		if one := byPath[at]; one != nil {
			return one.make(files, limits)
		}
		return nil
	}, func(at string, m *made) error {
		defer step()
		if m == nil {
			return to.Copy(at)
		}
		outcomes = append(outcomes, m.outcome)
		if m.err != nil && byPath[at].covering != nil {
			return fmt.Errorf("%s cannot be covered: %w", at, m.err) // as it was it must not go out
		}
		if m.err != nil {
			failed[at] = true
			return to.Copy(at)
		}
		if _, changed := m.files[at]; !changed {
			if err := to.Copy(at); err != nil {
				return err
			}
		}
		for _, path := range slices.Sorted(maps.Keys(m.files)) {
			if err := to.Put(path, m.files[path]); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return outcomes, err
	}
	return outcomes, p.writePages(ctx, files, found, failed, to, step)
}

// writePages writes the pages. Tags of pictures that could not be made stay as they were.
func (p *Plan) writePages(ctx context.Context, files fs.FS, found *survey.Survey, failed map[string]bool, to Sink, step func()) error {
	changed := map[string]Page{}
	for _, page := range p.Pages {
		changed[page.Path] = page
	}
	for _, page := range found.PagePaths() {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		one, changes := changed[page]
		if !changes {
			if err := to.Copy(page); err != nil {
				return err
			}
			step()
			continue
		}
		data, err := survey.ReadText(files, page)
		if err == nil {
			data, err = one.Apply(data, failed)
		}
		if err == nil {
			err = to.Put(page, data)
		}
		if err != nil {
			return fmt.Errorf("%s: %w", page, err)
		}
		step()
	}
	return nil
}

// Apply returns the page as it is mended, without the changes that show one of some pictures.
func (p Page) Apply(data []byte, without map[string]bool) ([]byte, error) {
	var edits []edit
	for i, e := range p.edits {
		if !without[p.of[i]] {
			edits = append(edits, e)
		}
	}
	return apply(data, edits)
}

// inOrder makes things two at a time, and hands them on in their order.
func inOrder(ctx context.Context, all []string, work func(string) *made, then func(string, *made) error) error {
	ctx, stop := context.WithCancel(ctx)
	next := make(chan chan *made, 1)
	var running sync.WaitGroup
	defer running.Wait()
	defer stop()
	running.Go(func() {
		defer close(next)
		for _, at := range all {
			one := make(chan *made, 1)
			select {
			case next <- one:
			case <-ctx.Done():
				return
			}
			running.Go(func() { one <- work(at) })
		}
	})
	i := 0
	for one := range next {
		if err := ctx.Err(); err != nil {
			return err
		}
		if err := then(all[i], <-one); err != nil {
			return err
		}
		i++
	}
	return ctx.Err()
}

// make makes all files that come of a picture.
func (p *Picture) make(files fs.FS, limits raster.Limits) *made {
	m := &made{files: map[string][]byte{}, outcome: Outcome{Picture: p.Path, Kinds: p.Kinds}}
	m.err = p.fill(files, limits, m)
	if m.err != nil {
		m.outcome.Fault = m.err.Error()
		m.outcome.Now = m.outcome.Was
	}
	m.outcome.Files = len(m.files)
	if _, own := m.files[p.Path]; own {
		m.outcome.Files--
	}
	return m
}

func (p *Picture) fill(files fs.FS, limits raster.Limits, m *made) error {
	in, err := files.Open(p.Path)
	if err != nil {
		return err
	}
	data, err := io.ReadAll(io.LimitReader(in, largestPicture))
	if err := errors.Join(err, in.Close()); err != nil {
		return err
	}
	if len(data) == largestPicture {
		return errors.New("it has more than 64 MB")
	}
	m.outcome.Was = int64(len(data))
	if p.covering != nil {
		return p.fillCovered(data, m)
	}
	clean := data
	if slices.Contains(cleanable, p.facts.MediaType) && (slices.Contains(p.Kinds, Cleaned) || len(p.Cuts) > 0) {
		if clean, err = strip.Strip(data, p.facts); err != nil {
			return err
		}
	}
	own := clean
	if len(p.Cuts) > 0 {
		encode, err := p.decoded(data, limits)
		if err != nil {
			return err
		}
		if own, err = p.cut(encode, clean, m); err != nil {
			return err
		}
	}
	p.put(own, data, m)
	return nil
}

// put puts what stands at the paths of a picture itself.
func (p *Picture) put(own, data []byte, m *made) {
	m.outcome.Now = cmp.Or(m.outcome.Now, int64(len(own)))
	if !bytes.Equal(own, data) {
		m.files[p.Path] = own
	}
	if p.also != "" {
		m.files[p.also] = own
	}
}

// fillCovered writes a picture anew of which parts are covered. Nothing that is written is made of the file itself.
func (p *Picture) fillCovered(data []byte, m *made) error {
	source, err := p.covering()
	if err != nil {
		return err
	}
	whole := p.facts.Upright()
	if source.Upright() != whole {
		return fmt.Errorf("it was covered as %v, and is %v", source.Upright(), whole)
	}
	// What is covered already can be coded as often as it takes: its own type first.
	covered, err := raster.Encode(source.Cut(whole.Rect(), whole), raster.Options{Format: formats[p.facts.MediaType]})
	if err != nil {
		return err
	}
	own := covered.Data
	if len(p.Cuts) > 0 {
		if own, err = p.cut(cutsOf(source, p.facts, p.format), own, m); err != nil {
			return err
		}
	}
	p.put(own, data, m)
	return nil
}

// encoder writes a cut of a picture.
type encoder func(raster.Transform) ([]byte, error)

// cut makes the cuts of a picture, and returns what stands at its own path.
func (p *Picture) cut(encode encoder, clean []byte, m *made) ([]byte, error) {
	own := clean
	for i, c := range p.Cuts {
		file, err := encode(raster.Transform{From: p.facts.Upright().Rect(), Size: c.Size, Turn: 1})
		if err != nil {
			return nil, err
		}
		if c.Size == p.facts.Upright() && isA(p.facts.MediaType, p.format) && len(clean) <= len(file) {
			file = clean // nothing is gained by coding it again
		}
		if p.facts.KeepsMotion() && len(file) > len(clean) {
			return nil, errors.New("it would not become lighter")
		}
		if i == 0 {
			m.outcome.Now = int64(len(file))
		}
		if p.own != nil && i == 0 {
			own = file
			continue
		}
		m.files[c.Path] = file
	}
	return own, nil
}

// decoded decodes a picture, or all frames of one that moves, and returns what writes cuts of it.
func (p *Picture) decoded(data []byte, limits raster.Limits) (encoder, error) {
	if p.facts.KeepsMotion() {
		moving, err := raster.DecodeAnimation(bytes.NewReader(data), p.facts, limits)
		if err != nil {
			return nil, err
		}
		return func(t raster.Transform) ([]byte, error) {
			cut, err := moving.Encode(t, raster.Options{Format: p.format})
			return cut.Data, err
		}, nil
	}
	source, err := raster.DecodeFor(bytes.NewReader(data), p.facts, limits, p.Cuts[0].Size)
	if err != nil {
		return nil, err
	}
	return cutsOf(source, p.facts, p.format), nil
}

// cutsOf writes cuts of a picture in a format.
func cutsOf(source *raster.Source, k facts.Facts, format raster.Format) encoder {
	scales := raster.NewScales(source, k)
	return func(t raster.Transform) ([]byte, error) {
		cut, err := raster.Encode(scales.Do(t), raster.Options{Format: format})
		return cut.Data, err
	}
}
