package main

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/pflag"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/core/veil"
)

// cutFlags are the flags of the cut command as they are typed.
type cutFlags struct {
	width, height, buffer int
	inside                bool
	density, crop, focus  string
	turn                  int
	flip                  string
	straighten            float64
	veils                 []string
	found                 []string // kinds of what is hidden wherever it is found
	format, out, name     string
	keep                  []string
	quality, still        int
	maxBytes              int64
	asJSON, force         bool
	explain               bool // how each cut came to be
}

func (c *cutFlags) add(f *pflag.FlagSet) {
	f.IntVar(&c.width, "width", 0, "width of the place, in CSS pixels")
	f.IntVar(&c.height, "height", 0, "height of the place; with --width an exact box")
	f.BoolVar(&c.inside, "inside", false, "the whole picture inside the box, nothing cropped")
	f.StringVar(&c.density, "density", "1", "device pixels per CSS pixel, such as 1,2")
	f.IntVar(&c.buffer, "buffer", 0, "CSS pixels more, for places that stretch")
	f.StringVar(&c.crop, "crop", "", "frame as X,Y,W,H in pixels of the upright source")
	f.StringVar(&c.focus, "focus", "", "spot that survives every crop as X,Y from 0 to 1")
	f.IntVar(&c.turn, "turn", 0, "turn clockwise by 90, 180 or 270 degrees")
	f.StringVar(&c.flip, "flip", "", "mirror left-right (h) or top-bottom (v)")
	f.Float64Var(&c.straighten, "straighten", 0, "turn clockwise by −15 to 15 degrees, with the largest upright frame inside")
	f.StringArrayVar(&c.veils, "veil", nil, "hide SHAPE:X,Y,W,H[:STYLE], rect or ellipse; cover (filled from around it), colour or figure; or found:faces, found:text; repeatable")
	f.StringVar(&c.format, "format", "auto", "auto, jpeg, png, gif, webp or avif")
	f.IntVar(&c.quality, "quality", 0, "fixed quality from 1 to 100; without it the lowest that looks the same")
	f.Int64Var(&c.maxBytes, "max-bytes", 0, "most bytes of a cut")
	f.IntVar(&c.still, "still", 0, "one frame of an animation, counted from 1")
	f.StringSliceVar(&c.keep, "keep", nil, "words that stay inside: credit (with copyright), alt; nothing else ever does")
	f.StringVar(&c.name, "name", "", "name of the cut instead of the source's")
	f.StringVarP(&c.out, "output", "o", ".", "folder for the cuts")
	f.BoolVar(&c.asJSON, "json", false, "one JSON object for each cut on standard output")
	f.BoolVar(&c.explain, "explain", false, "with what was decoded, which formats were tried and why this one, as JSON")
	f.BoolVar(&c.force, "force", false, "overwrite cuts that are there; a source never")
}

func (c *cutFlags) options() raster.Options {
	return raster.Options{Format: raster.Format(c.format), Quality: c.quality, MaxBytes: c.maxBytes}
}

// words are what stays inside of what a file carries.
func (c *cutFlags) words(known facts.Facts) raster.Metadata {
	var w raster.Metadata
	if slices.Contains(c.keep, "credit") {
		w.Credit, w.Copyright = known.Credit, known.Copyright
	}
	if slices.Contains(c.keep, "alt") {
		w.Alt = known.Alt
	}
	return w
}

// parse turns the flags into what the core understands, or says what is wrong.
func (c *cutFlags) parse() (want fit.Want, densities []float64, edits []recipe.Edit, err error) {
	want = fit.Want{Width: c.width, Height: c.height, Inside: c.inside, Buffer: c.buffer}
	switch {
	case c.width < 0 || c.height < 0 || c.buffer < 0:
		return want, nil, nil, errors.New("widths and heights are above 0")
	case c.width == 0 && c.height == 0:
		return want, nil, nil, errors.New("cut needs --width or --height, the place in CSS pixels")
	case c.inside && (c.width == 0 || c.height == 0):
		return want, nil, nil, errors.New("--inside needs --width and --height")
	case c.quality < 0 || c.quality > 100:
		return want, nil, nil, fmt.Errorf("a quality is 1 to 100, not %d", c.quality)
	case c.still < 0 || c.maxBytes < 0:
		return want, nil, nil, errors.New("--still and --max-bytes are above 0")
	case !slices.Contains([]string{"auto", "jpeg", "png", "gif", "webp", "avif"}, c.format):
		return want, nil, nil, fmt.Errorf("%q is no format: auto, jpeg, png, gif, webp or avif", c.format)
	}
	for _, word := range c.keep {
		if word != "credit" && word != "alt" {
			return want, nil, nil, fmt.Errorf("credit and alt can be kept, not %q", word)
		}
	}
	if densities, err = parseDensities(c.density); err != nil {
		return
	}
	edits, err = c.parseEdits()
	return
}

func (c *cutFlags) parseEdits() ([]recipe.Edit, error) {
	var edits []recipe.Edit
	if c.crop != "" {
		n, err := numbers(c.crop, 4)
		if err != nil {
			return nil, fmt.Errorf("--crop %s: %w", c.crop, err)
		}
		edits = append(edits, recipe.Edit{Op: recipe.OpFrame, X: int(n[0]), Y: int(n[1]), Width: int(n[2]), Height: int(n[3])})
	}
	if c.focus != "" {
		n, err := numbers(c.focus, 2)
		if err != nil {
			return nil, fmt.Errorf("--focus %s: %w", c.focus, err)
		}
		edits = append(edits, recipe.Edit{Op: recipe.OpFocus, FocusX: n[0], FocusY: n[1]})
	}
	if c.straighten != 0 {
		edits = append(edits, recipe.Edit{Op: recipe.OpStraighten, Degrees: c.straighten})
	}
	if c.turn != 0 {
		edits = append(edits, recipe.Edit{Op: recipe.OpTurn, Degrees: float64(c.turn)})
	}
	if c.flip != "" {
		edits = append(edits, recipe.Edit{Op: recipe.OpFlip, Axis: c.flip})
	}
	c.found = nil
	for _, v := range c.veils {
		if v == foundFaces || v == foundText {
			c.found = append(c.found, v)
			continue
		}
		e, err := parseVeil(v)
		if err != nil {
			return nil, fmt.Errorf("--veil %s: %w", v, err)
		}
		edits = append(edits, e)
	}
	for _, e := range edits {
		if err := e.Check(); err != nil {
			return nil, err
		}
	}
	return edits, nil
}

// parseVeil reads SHAPE:X,Y,W,H[:STYLE]. Without a style it is a cover, which tells
// nothing of what it hides.
func parseVeil(s string) (recipe.Edit, error) {
	v, err := veil.Parse(s)
	if err != nil {
		return recipe.Edit{}, err
	}
	return recipe.Edit{Op: recipe.OpVeil, Veil: &v}, nil
}

// numbers reads exactly want numbers, parted by commas.
func numbers(s string, want int) ([]float64, error) {
	parts := strings.Split(s, ",")
	if len(parts) != want {
		return nil, fmt.Errorf("%d numbers are wanted, not %d", want, len(parts))
	}
	all := make([]float64, want)
	for i, p := range parts {
		v, err := strconv.ParseFloat(strings.TrimSpace(p), 64)
		if err != nil || v != v || v < -1e7 || v > 1e7 {
			return nil, fmt.Errorf("%q is no number", p)
		}
		all[i] = v
	}
	return all, nil
}

// parseDensities reads "1,2" into ascending numbers.
func parseDensities(s string) ([]float64, error) {
	var ds []float64
	for _, part := range strings.Split(s, ",") {
		d, err := strconv.ParseFloat(strings.TrimSpace(part), 64)
		if err != nil || !(d > 0 && d <= 8) {
			return nil, fmt.Errorf("%q is no density: give numbers above 0 up to 8, such as 1,2", part)
		}
		ds = append(ds, d)
	}
	slices.Sort(ds)
	return slices.Compact(ds), nil
}
