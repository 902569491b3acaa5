package desk

import (
	"bytes"
	"context"
	"encoding/csv"
	"image"
	"os"
	"os/exec"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"

	"mivlet/core/fit"
	"mivlet/core/private"
	"mivlet/core/raster"
	"mivlet/core/recipe"
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
	p, err := d.mine(d.store, id)
	if err != nil {
		return nil, err
	}
	return d.linesOf(p)
}

func (d *Desk) linesOf(p store.Picture) ([]TextLine, error) {
	found, err := shared(d, "text "+p.OriginalHash, func() ([]TextLine, error) {
		if known, ok := d.lines.get(p.OriginalHash); ok {
			return known, nil
		}
		src, done, err := d.preview(p)
		if err != nil {
			return nil, err
		}
		defer done()
		found := FindLines(src.Image(), p.Facts.Upright())
		d.lines.put(p.OriginalHash, found)
		return found, nil
	})
	return Judged(found, d.Rules().Hiding.Watch), err
}

// FindLines finds the lines of text in a copy of a picture of the size whole, and has a
// program read them where one is installed.
func FindLines(m image.Image, whole fit.Size) []TextLine {
	up := fit.ScaleOf(fit.SizeOf(m.Bounds()), whole)
	var all []TextLine
	for _, l := range textline.Find(m) {
		t := TextLine{Bounds: up.Outward(l.Bounds), Kind: "text", Words: "a line of text", Reason: veil.Other, Height: int(float64(l.Height) * up.Y), Score: l.Score}
		if l.Figures {
			t.Kind, t.Words, t.Reason = "number", "a number, by its look", veil.Number
		}
		all = append(all, t)
	}
	for _, r := range read(m) {
		r.Bounds = up.Outward(r.Bounds)
		all = sharpen(all, r)
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

// reader is the program that reads text, where it is installed.
const reader = "tesseract"

func canRead() bool { _, err := exec.LookPath(reader); return err == nil }

// readingTime is how long a program that reads text may take.
const readingTime = 12 * time.Second

// read has a program that is installed read a picture; without one, or where it
// fails, nothing is read.
func read(m image.Image) []TextLine {
	program, err := exec.LookPath(reader)
	if err != nil {
		return nil
	}
	data, err := raster.EncodeForScreen(m)
	if err != nil {
		return nil
	}
	ctx, stop := context.WithTimeout(context.Background(), readingTime)
	defer stop()
	c := exec.CommandContext(ctx, program, "stdin", "stdout", "--psm", "11", "tsv")
	c.Env = append(os.Environ(), "OMP_THREAD_LIMIT=1") // its threads wait for each other on few cores
	c.Stdin = bytes.NewReader(data)
	out, err := c.Output()
	if err != nil {
		return nil
	}
	return readLines(out)
}

// sure is how sure of a word the program that read it must be, of 100.
const sure = 60

// readLines gathers the words of a table of words to lines: twelve columns, of
// which the 2nd to 5th name the line, the 7th to 10th give the word's place, the
// 11th how sure it is and the last the word.
func readLines(table []byte) []TextLine {
	r := csv.NewReader(bytes.NewReader(table))
	r.Comma, r.LazyQuotes, r.FieldsPerRecord = '\t', true, -1
	rows, err := r.ReadAll()
	if err != nil {
		return nil
	}
	var all []TextLine
	last := ""
	for _, row := range rows {
		if len(row) < 12 || strings.TrimSpace(row[11]) == "" {
			continue
		}
		var n [4]int
		for i := range n {
			n[i], _ = strconv.Atoi(row[6+i])
		}
		confident, _ := strconv.ParseFloat(row[10], 64)
		if confident < sure {
			continue
		}
		box := image.Rect(n[0], n[1], n[0]+n[2], n[1]+n[3])
		line := strings.Join(row[1:5], " ")
		if line == last {
			l := &all[len(all)-1]
			l.Bounds, l.Words = l.Bounds.Union(box), l.Words+" "+row[11]
			continue
		}
		last = line
		all = append(all, TextLine{Bounds: box, Words: row[11]})
	}
	for i := range all {
		all[i].Read, all[i].Kind, all[i].Reason = true, "text", veil.Other
	}
	return all
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

// AddVeils draws several veils on a picture, as one step.
func (d *Desk) AddVeils(id uint, veils []veil.Veil) error {
	drawn, err := d.readyVeils(id, namedAll(veils))
	if err != nil {
		return err
	}
	return d.recipe(id, "Hidden: "+count(len(veils), "line"), func(p store.Picture) (recipe.Recipe, error) {
		return p.Work.Recipe.WithVeils(drawn.of(p), p.Facts.Upright())
	})
}
