package derive

import (
	"image"
	"slices"
	"unicode"

	"mivlet/core/fit"
	"mivlet/core/private"
	"mivlet/core/textline"
	"mivlet/core/veil"
	"mivlet/store"
)

// TextLine is a line of text that was found in a picture, offered to be hidden.
type TextLine struct {
	Bounds image.Rectangle // pixels of the upright original
	Kind   string          // "number", "private" for addresses, plates and names, or "text"
	Words  string          // what it says, where that is known; else what it looks like
	Read   bool            // what it says is known
	Reason veil.Reason     // what a veil over it would hide
	Height int             // of its letters, in pixels; 0 where nobody knows
	Score  float64         // from 0 to 1: how much it looks like a line
	Column int             // lines below each other have the same number, from 1; 0 for none
	// Level is the line as wide as its column: hidden so, its length tells nothing of what
	// it says. Of a line in no column it is the line itself.
	Level image.Rectangle
}

// TextLines finds the lines of text in a picture, by their structure. Where a
// program that reads text is installed, its words sharpen what is found.
func (d *Desk) TextLines(id uint) ([]TextLine, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return nil, err
	}
	return d.LinesOf(p)
}

// LinesOf is TextLines for those who have asked already whether they may.
func (d *Desk) LinesOf(p store.Picture) ([]TextLine, error) {
	found, err := Once(d, "text "+p.OriginalHash, func() ([]TextLine, error) {
		if known, ok := d.lines.Get(p.OriginalHash); ok {
			return known, nil
		}
		src, done, err := d.WorkingCopy(p)
		if err != nil {
			return nil, err
		}
		defer done()
		found := FindLines(src.Image(), p.Facts.Upright(), d.reader)
		d.lines.Put(p.OriginalHash, found)
		return found, nil
	})
	return Judged(found, d.Rules().Hiding.Watch), err
}

// Reader reads the text in pictures: a program that may or may not be installed.
type Reader interface {
	// Ready reports whether it can read at all.
	Ready() bool
	// Read returns the lines that it can read in a picture, in its pixels.
	Read(m image.Image) []textline.Recognition
}

// CanRead reports whether the text in pictures is read, and not only found.
func (d *Desk) CanRead() bool { return d.reader != nil && d.reader.Ready() }

// FindLines finds the lines of text in a copy of a picture of the size whole, and has them
// read; with nil for the reader they are only found.
func FindLines(m image.Image, whole fit.Size, reader Reader) []TextLine {
	up := fit.ScaleOf(fit.SizeOf(m.Bounds()), whole)
	var all []TextLine
	for _, l := range textline.Find(m) {
		t := TextLine{Bounds: up.Outward(l.Bounds), Kind: "text", Words: "a line of text", Reason: veil.Other, Height: int(float64(l.Height) * up.Y), Score: l.Score}
		if l.Figures {
			t.Kind, t.Words, t.Reason = "number", "a number, by its look", veil.Number
		}
		all = append(all, t)
	}
	if reader != nil {
		for _, r := range reader.Read(m) {
			all = sharpen(all, TextLine{Bounds: up.Outward(r.Bounds), Words: r.Text, Read: true, Kind: "text", Reason: veil.Other})
		}
	}
	return inColumns(all)
}

// Judged are lines with what they give away, watch being the words that the house watches
// for.
func Judged(lines []TextLine, watch []string) []TextLine {
	all := slices.Clone(lines)
	for i, l := range all {
		if !l.Read {
			continue
		}
		kind, reason := kindOf(l.Words, watch)
		if kind != "text" || l.Kind != "number" { // what looks like a number stays one
			all[i].Kind, all[i].Reason = kind, reason
		}
	}
	return all
}

// inColumns numbers the lines that stand below each other. A column in which something is
// private is private as a whole, but for its head: names, one below the other.
func inColumns(all []TextLine) []TextLine {
	shapes := make([]textline.Line, len(all))
	for i, l := range all {
		all[i].Level = l.Bounds
		shapes[i] = textline.Line{Bounds: l.Bounds, Height: max(l.Height, l.Bounds.Dy()/2, 1)}
	}
	for n, column := range textline.Columns(shapes) {
		var box image.Rectangle
		for _, i := range column {
			box = box.Union(all[i].Bounds)
		}
		for _, i := range column {
			b := all[i].Bounds
			all[i].Column, all[i].Level = n+1, image.Rect(box.Min.X, b.Min.Y, box.Max.X, b.Max.Y)
		}
	}
	return all
}

// sharpen puts what a line says to the line that was found, or adds the line.
func sharpen(all []TextLine, read TextLine) []TextLine {
	for i, l := range all {
		both := l.Bounds.Intersect(read.Bounds)
		if both.Dx()*both.Dy()*2 < min(l.Bounds.Dx()*l.Bounds.Dy(), read.Bounds.Dx()*read.Bounds.Dy()) {
			continue
		}
		read.Bounds = l.Bounds.Union(read.Bounds)
		read.Height, read.Score = l.Height, l.Score
		read.Kind, read.Reason = l.Kind, l.Reason
		all[i] = read
		return all
	}
	if signs(read.Words) < leastRead {
		return all // a program that reads sees letters in the grain of photos
	}
	return append(all, read)
}

// leastRead is how many letters and digits a line has, at least, that is read where none was
// found.
const leastRead = 4

func signs(s string) int {
	n := 0
	for _, r := range s {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			n++
		}
	}
	return n
}

// kindOf tells what a line of words gives away.
func kindOf(text string, watch []string) (kind string, reason veil.Reason) {
	for _, t := range private.JudgeLine(text, watch...) {
		switch t.Kind {
		case private.Plate:
			return "private", veil.Plate
		case private.Phone:
			return "number", veil.Number
		case private.Name, private.Watched:
			return "private", veil.Name
		default:
			return "private", veil.Other
		}
	}
	return "text", veil.Other
}
