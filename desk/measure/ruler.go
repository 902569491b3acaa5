package measure

import (
	"bytes"
	"fmt"
	"io"
	"strings"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/ruler"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// AddSheet takes a screenshot in to measure on. scale is how many device px it
// has for each CSS px, as the browser that it was pasted in says.
func (d *Desk) AddSheet(title string, r io.Reader, scale float64) (store.RulerSheet, error) {
	var sheet store.RulerSheet
	if err := d.MayMeasure(); err != nil {
		return sheet, err
	}
	title = pictures.BaseName(title)
	in, err := d.pictures.Receive(title, r)
	if err != nil {
		return sheet, err
	}
	defer in.Discard()
	known, err := facts.Read(in)
	if err != nil {
		return sheet, d.RefuseFile(title, err)
	}
	if _, err := in.Seek(0, io.SeekStart); err != nil {
		return sheet, err
	}
	if err := (raster.Limits{Side: 12_000, Pixels: 40_000_000}).CheckStill(known); err != nil {
		return sheet, d.RefuseFile(title, err)
	}
	src, done, err := d.derive.Decode(in, known, fit.Size{})
	if err != nil {
		return sheet, d.RefuseFile(title, err)
	}
	defer done()
	// What is kept is upright, and carries nothing that travelled in the file.
	size := src.Upright()
	data, err := raster.EncodeForScreen(src.Cut(size.Rect(), size))
	if err != nil {
		return sheet, err
	}
	hash, err := d.Store.Files.Put(bytes.NewReader(data), "") // its content tells its type
	if err != nil {
		return sheet, err
	}
	sheet = store.RulerSheet{Person: d.Person.Name, Title: title, Hash: hash, SourceHash: in.Hash, Width: size.W, Height: size.H, Scale: usualScale(scale), CreatedAt: d.Now()}
	err = d.Store.Tx(func(s store.Records) error {
		if err := s.AddSheet(&sheet); err != nil {
			return err
		}
		return d.Trace(s, "", "Added %s to the ruler", title)
	})
	return sheet, err
}

func usualScale(scale float64) float64 {
	if plausible(scale) {
		return scale
	}
	return 1
}

// plausible reports whether a screenshot can have so many device px for each
// CSS px.
func plausible(scale float64) bool { return scale >= 0.5 && scale <= 8 }

// Sheets returns the screenshots that were measured on, newest first.
func (d *Desk) Sheets() ([]store.RulerSheet, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	return d.Store.Sheets()
}

// Sheet returns a screenshot with its readings.
func (d *Desk) Sheet(id uint) (store.RulerSheet, error) {
	if err := d.MayLook(); err != nil {
		return store.RulerSheet{}, err
	}
	s, err := d.Store.Sheet(id)
	return s, access.NotFound(err, "That screenshot")
}

// SheetImage opens the picture of a screenshot.
func (d *Desk) SheetImage(id uint) (derive.File, error) {
	s, err := d.Sheet(id)
	if err != nil {
		return derive.File{}, err
	}
	return d.derive.Open(s.Hash)
}

// SheetLines is what a screenshot shows to the ruler.
type SheetLines struct {
	Upright []ruler.Edge `json:"upright"`
	Level   []ruler.Edge `json:"level"`
}

// SheetLines returns the lines of a screenshot that edges snap to.
func (d *Desk) SheetLines(id uint) (SheetLines, error) {
	s, err := d.Sheet(id)
	if err != nil {
		return SheetLines{}, err
	}
	read, err := d.readSheet(s)
	if err != nil {
		return SheetLines{}, err
	}
	return SheetLines{read.Upright(), read.Level()}, nil
}

// FindColumns proposes the columns of a screenshot.
func (d *Desk) FindColumns(id uint) ([]ruler.Column, error) {
	s, err := d.Sheet(id)
	if err != nil {
		return nil, err
	}
	read, err := d.readSheet(s)
	if err != nil {
		return nil, err
	}
	return read.Columns(s.Scale), nil
}

// readSheet reads the lines of a screenshot; the last one that was read is kept.
func (d *Desk) readSheet(s store.RulerSheet) (*ruler.Sheet, error) {
	if kept := d.measured.Load(); kept != nil && kept.hash == s.Hash {
		return kept.sheet, nil
	}
	src, done, err := d.derive.Decoded(s.Hash, nil, fit.Size{})
	if err != nil {
		return nil, err
	}
	defer done()
	read := ruler.Read(src.Cut(src.Upright().Rect(), src.Upright()))
	d.measured.Store(&measured{s.Hash, read})
	return read, nil
}

// measured is the screenshot that was read last.
type measured struct {
	hash  string
	sheet *ruler.Sheet
}

// SetScale says how many device px a screenshot has for each CSS px: as given,
// or so that a reading is known CSS px wide.
func (d *Desk) SetScale(id uint, scale float64, reading uint, known float64) error {
	if err := d.MayMeasure(); err != nil {
		return err
	}
	s, err := d.Sheet(id)
	if err != nil {
		return err
	}
	for _, r := range s.Readings {
		if r.ID == reading && known > 0 {
			scale = ruler.ScaleFrom(ruler.Between(r.From, r.To, 1).Device, known)
		}
	}
	if !plausible(scale) {
		return access.Refuse(access.Bad, "The scale must lie between 0.5 and 8.", "Choose 1, 2 or 3, or enter a width that you know.")
	}
	return d.Store.SetScale(id, scale)
}

// AddReading keeps a length that was measured on a screenshot, in device px.
func (d *Desk) AddReading(sheet uint, upright bool, from, to int, title string) error {
	if err := d.MayMeasure(); err != nil {
		return err
	}
	s, err := d.Sheet(sheet)
	if err != nil {
		return err
	}
	from, to = min(from, to), max(from, to)
	most := s.Width
	if upright {
		most = s.Height
	}
	if from < 0 || to > most || to-from < 1 {
		return access.Refuse(access.Bad, "Both edges must be on the screenshot.", "Put one at each side of the column.")
	}
	if title = strings.TrimSpace(title); title == "" {
		title = fmt.Sprintf("Reading %d", len(s.Readings)+1)
	}
	return d.Store.AddReading(&store.Reading{SheetID: sheet, Upright: upright, From: from, To: to, Title: title, Person: d.Person.Name, CreatedAt: d.Now()})
}

// DropReading takes a reading out.
func (d *Desk) DropReading(sheet, reading uint) error {
	if err := d.MayMeasure(); err != nil {
		return err
	}
	return d.Store.DropReading(sheet, reading)
}

// DropSheet takes a screenshot out, with its readings. Only who brought it, or
// a keeper, does that.
func (d *Desk) DropSheet(id uint) error {
	if err := d.MayMeasure(); err != nil {
		return err
	}
	s, err := d.Sheet(id)
	if err != nil {
		return err
	}
	if s.Person != d.Person.Name && !d.Person.Keeper {
		return access.Refuse(access.Forbidden, s.Person+" added this screenshot.", "Only they or a keeper can remove it.")
	}
	return d.Store.Tx(func(st store.Records) error {
		if err := st.DropSheet(id); err != nil {
			return err
		}
		return d.Trace(st, "", "Removed %s from the ruler", s.Title)
	})
}

// ForgetMeasured takes the sheet that was measured last out of memory.
func (d *Desk) ForgetMeasured() { d.measured.Store(nil) }
