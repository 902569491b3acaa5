// Package tesseract has the program of that name read the text in pictures, where it is
// installed. Nothing leaves the machine.
package tesseract

import (
	"bytes"
	"cmp"
	"context"
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

// usualPatience is how long somebody at a screen waits for one picture.
const usualPatience = 12 * time.Second

// sure is how sure of a word the program must be, of 100.
const sure = 60

// Reader reads pictures. The zero value is ready; it is safe for concurrent use.
type Reader struct {
	Patience time.Duration // for one picture, after which nothing is read; 12 s where 0
}

// Ready reports whether the program is installed.
func (Reader) Ready() bool { _, err := exec.LookPath(program); return err == nil }

// Read returns the lines that can be read in a picture, in its pixels; none where the
// program is not installed or fails.
func (r Reader) Read(m image.Image) []textline.Recognition {
	path, err := exec.LookPath(program)
	if err != nil {
		return nil
	}
	data, err := raster.EncodeForScreen(m)
	if err != nil {
		return nil
	}
	ctx, stop := context.WithTimeout(context.Background(), cmp.Or(r.Patience, usualPatience))
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
	var all []textline.Recognition
	last := ""
	for text := range strings.Lines(string(table)) {
		row := strings.Split(strings.TrimRight(text, "\r\n"), "\t") // nothing is quoted in it
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
