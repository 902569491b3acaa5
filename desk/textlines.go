package desk

import (
	"bytes"
	"context"
	"encoding/csv"
	"image"
	"os"
	"os/exec"
	"regexp"
	"strconv"
	"strings"
	"time"

	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/core/textline"
	"mivlet/core/veil"
	"mivlet/core/words"
	"mivlet/store"
)

// TextLine is a line of text that was found in a picture, offered to be hidden.
type TextLine struct {
	Bounds image.Rectangle // pixels of the upright original
	Kind   string          // "number", "private" for addresses, plates and names, or "text"
	Words  string          // what it says, where that is known; else what it looks like
	Reason veil.Reason     // what a veil over it would hide
}

// TextLines finds the lines of text in a picture, by their structure. Where a
// program that reads text is installed, its words sharpen what is found.
func (d *Desk) TextLines(id uint) ([]TextLine, error) {
	p, err := d.mine(d.store, id)
	if err != nil {
		return nil, err
	}
	return shared(d, "text "+p.OriginalHash, func() ([]TextLine, error) {
		if known, ok := d.lines.get(p.OriginalHash); ok {
			return known, nil
		}
		found, err := d.findLines(p)
		if err == nil {
			d.lines.put(p.OriginalHash, found)
		}
		return found, err
	})
}

func (d *Desk) findLines(p store.Picture) ([]TextLine, error) {
	src, done, err := d.preview(p)
	if err != nil {
		return nil, err
	}
	defer done()
	up := fit.ScaleOf(src.Upright(), p.Facts.Upright())
	var all []TextLine
	for _, l := range textline.Find(src.Image()) {
		t := TextLine{up.Outward(l.Bounds), "text", "a line of text", veil.Other}
		if l.Figures {
			t.Kind, t.Words, t.Reason = "number", "a number, by its look", veil.Number
		}
		all = append(all, t)
	}
	for _, r := range read(src.Image()) {
		r.Bounds = up.Outward(r.Bounds)
		all = sharpen(all, r)
	}
	return all, nil
}

// sharpen puts what a line says to the line that was found, or adds the line.
func sharpen(all []TextLine, read TextLine) []TextLine {
	for i, l := range all {
		both := l.Bounds.Intersect(read.Bounds)
		if both.Dx()*both.Dy()*2 < min(l.Bounds.Dx()*l.Bounds.Dy(), read.Bounds.Dx()*read.Bounds.Dy()) {
			continue
		}
		read.Bounds = l.Bounds.Union(read.Bounds)
		if read.Kind == "text" && l.Kind == "number" {
			read.Kind, read.Reason = l.Kind, l.Reason
		}
		all[i] = read
		return all
	}
	return append(all, read)
}

// readingTime is how long a program that reads text may take.
const readingTime = 12 * time.Second

// read has a program that is installed read a picture; without one, or where it
// fails, nothing is read.
func read(m image.Image) []TextLine {
	program, err := exec.LookPath("tesseract")
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
	return linesOf(out)
}

// sure is how sure of a word the program that read it must be, of 100.
const sure = 60

// linesOf gathers the words of a table of words to lines: twelve columns, of
// which the 2nd to 5th name the line, the 7th to 10th give the word's place, the
// 11th how sure it is and the last the word.
func linesOf(table []byte) []TextLine {
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
		all[i].Kind, all[i].Reason = kindOf(all[i].Words)
	}
	return all
}

// personName is two words, each with one capital at its beginning.
var personName = regexp.MustCompile(`^\p{Lu}\p{Ll}+ \p{Lu}\p{Ll}+$`)

// kindOf tells what a line of words gives away.
func kindOf(text string) (kind string, reason veil.Reason) {
	for _, f := range words.Private(text) {
		switch f {
		case "plate":
			return "private", veil.Plate
		case "phone":
			return "number", veil.Number
		default:
			return "private", veil.Other
		}
	}
	if personName.MatchString(text) {
		return "private", veil.Name
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
