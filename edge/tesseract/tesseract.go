// Package tesseract has the program of that name read the text in pictures, where it is
// installed. Nothing leaves the machine.
package tesseract

import (
	"bytes"
	"context"
	"encoding/csv"
	"image"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"time"

	"mivlet/core/raster"
	"mivlet/core/textline"
)

// program is what it is called on the machine.
const program = "tesseract"

const (
	patience = 12 * time.Second // for one picture
	sure     = 60               // how sure of a word it must be, of 100
)

// Reader reads pictures. It is safe for concurrent use.
type Reader struct{}

// Ready reports whether the program is installed.
func (Reader) Ready() bool { _, err := exec.LookPath(program); return err == nil }

// Read returns the lines that can be read in a picture, in its pixels; none where the
// program is not installed or fails.
func (Reader) Read(m image.Image) []textline.Recognition {
	path, err := exec.LookPath(program)
	if err != nil {
		return nil
	}
	data, err := raster.EncodeForScreen(m)
	if err != nil {
		return nil
	}
	ctx, stop := context.WithTimeout(context.Background(), patience)
	defer stop()
	c := exec.CommandContext(ctx, path, "stdin", "stdout", "--psm", "11", "tsv")
	c.Env = append(os.Environ(), "OMP_THREAD_LIMIT=1") // its threads wait for each other on few cores
	c.Stdin = bytes.NewReader(data)
	out, err := c.Output()
	if err != nil {
		return nil
	}
	return lines(out)
}

// lines gathers the words of a table of words to lines: twelve columns, of which the 2nd
// to 5th name the line, the 7th to 10th give the word's place, the 11th how sure it is and
// the last the word.
func lines(table []byte) []textline.Recognition {
	r := csv.NewReader(bytes.NewReader(table))
	r.Comma, r.LazyQuotes, r.FieldsPerRecord = '\t', true, -1
	rows, err := r.ReadAll()
	if err != nil {
		return nil
	}
	var all []textline.Recognition
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
			l.Bounds, l.Text = l.Bounds.Union(box), l.Text+" "+row[11]
			continue
		}
		last = line
		all = append(all, textline.Recognition{Bounds: box, Text: row[11]})
	}
	return all
}
