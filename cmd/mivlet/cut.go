package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"io"
	"os"
	"slices"
	"strings"
	"sync"

	"github.com/spf13/cobra"
	"golang.org/x/term"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/core/rules"
)

// cutting is what the cut command is told.
type cutting struct {
	flags  cutFlags
	want   fit.Want
	dens   []float64
	edits  []recipe.Edit
	limits raster.Limits
	stdout io.Writer
	stderr io.Writer
	mu     sync.Mutex // one line at a time
	done   int
	all    int
}

// cutLine is the JSON object that tells of one cut.
type cutLine struct {
	Source           string   `json:"source"`
	File             string   `json:"file"`
	Width            int      `json:"width"`
	Height           int      `json:"height"`
	Density          float64  `json:"density"`
	CSSWidth         int      `json:"css_width"`
	EffectiveDensity float64  `json:"effective_density"`
	Format           string   `json:"format"`
	MediaType        string   `json:"media_type"`
	Bytes            int      `json:"bytes"`
	Quality          int      `json:"quality"` // 0 where the format has none
	SSIM             float64  `json:"ssim"`
	Frames           int      `json:"frames"`
	Notes            []string `json:"notes"`

	Explained *explained `json:"explained,omitempty"`
}

// explained tells how a cut came to be as it is.
type explained struct {
	DecodedEighths int            `json:"decoded_eighths"` // of the source's sides: 1, 2, 4 or 8
	DecodedWidth   int            `json:"decoded_width"`
	DecodedHeight  int            `json:"decoded_height"`
	Tried          []raster.Tried `json:"tried"` // formats; none where the format was given or the first size has decided
	Why            string         `json:"why"`
}

// explain tells how a cut was made; of an animation, each of its frames is decoded whole.
func (p *opened) explain(e raster.Encoded) *explained {
	size := p.from.Decoded()
	tried := e.Tried
	if tried == nil {
		tried = []raster.Tried{}
	}
	return &explained{DecodedEighths: p.from.Eighths(), DecodedWidth: size.W, DecodedHeight: size.H, Tried: tried, Why: e.Why}
}

func cutCommand() *cobra.Command {
	o := cutting{limits: usualLimits()}
	cmd := &cobra.Command{
		Use: "cut FILE...", Short: "Cut pictures for a place", Args: usageArgs(cobra.MinimumNArgs(1)),
		RunE: func(cmd *cobra.Command, files []string) error {
			o.stdout, o.stderr = cmd.OutOrStdout(), cmd.ErrOrStderr()
			return o.run(files)
		},
	}
	o.flags.add(cmd.Flags())
	return cmd
}

// usualLimits are those of the ready-made rules.
func usualLimits() raster.Limits {
	l := rules.Default().Limits
	return raster.Limits{Side: l.Side, Pixels: l.Pixels, Frames: l.Frames, FramePixels: l.FramePixels}
}

// run cuts each file, two at a time. One that fails is told and does not keep
// the others.
func (o *cutting) run(files []string) error {
	var err error
	if o.want, o.dens, o.edits, err = o.flags.parse(); err != nil {
		return usage{err}
	}
	if o.flags.name != "" && len(files) > 1 {
		return usage{errors.New("--name names one picture, and several are given")}
	}
	if err := os.MkdirAll(o.flags.out, 0o755); err != nil {
		return err
	}
	o.all = len(files)
	bad := false
	var wg sync.WaitGroup
	work := make(chan string)
	for range min(2, len(files)) {
		wg.Go(func() {
			for name := range work {
				err := o.one(name)
				o.mu.Lock()
				if err != nil {
					fmt.Fprintf(o.stderr, "mivlet: %s: %v\n", name, err)
					bad = true
				}
				o.progress()
				o.mu.Unlock()
			}
		})
	}
	for _, name := range files {
		work <- name
	}
	close(work)
	wg.Wait()
	if bad {
		return errFailed
	}
	return nil
}

// progress shows on a terminal how far it has come.
func (o *cutting) progress() {
	o.done++
	if f, ok := o.stderr.(*os.File); ok && o.all > 1 && term.IsTerminal(int(f.Fd())) {
		fmt.Fprintf(f, "\r%d of %d", o.done, o.all)
		if o.done == o.all {
			fmt.Fprintln(f)
		}
	}
}

func (o *cutting) one(name string) error {
	f, err := os.Open(name)
	if err != nil {
		return plain(err)
	}
	defer f.Close()
	known, err := facts.Read(f)
	if err != nil {
		return err
	}
	p, err := o.open(f, known)
	if err != nil {
		return err
	}
	var r recipe.Recipe
	found, err := p.veils(o.flags.found)
	if err != nil {
		return err
	}
	for _, e := range append(slices.Clone(o.edits), found...) {
		if r, err = r.With(e, p.size); err != nil {
			return err
		}
	}
	if p.moves != nil && len(o.flags.found) > 0 {
		p.notes = append(p.notes, "It moves, and only its first frame was searched.")
	}
	view, options := r.View(p.size), o.flags.options()
	plan := view.Plan(o.want, o.dens)
	if err := p.prepare(view, plan); err != nil {
		return err
	}
	for _, c := range plan {
		e, err := p.encode(raster.TransformFor(view, c), options)
		if err != nil {
			return err
		}
		options = options.AsThis(e) // the first one decides on the format of all
		notes := append([]string{e.Why}, p.notes...)
		if with, err := e.With(o.flags.words(known)); err == nil {
			e = with
		} else {
			notes = append(notes, "Nothing is kept inside: "+err.Error()+".")
		}
		to := o.path(name, c, e)
		if err := o.save(to, name, e.Data); err != nil {
			return err
		}
		if c.Effective < c.Density {
			notes = append(notes, fmt.Sprintf("The source has too few pixels for density %v: nothing is enlarged.", c.Density))
		}
		if e.OverBudget != "" {
			notes = append(notes, e.OverBudget)
		}
		var how *explained
		if o.flags.explain {
			how = p.explain(e)
		}
		o.tell(cutLine{Explained: how, Source: name, File: to, Width: c.Size.W, Height: c.Size.H, Density: c.Density, CSSWidth: c.CSSWidth,
			EffectiveDensity: c.Effective, Format: strings.TrimPrefix(e.MediaType, "image/"), MediaType: e.MediaType, Bytes: len(e.Data),
			Quality: e.Quality, SSIM: e.SSIM, Frames: p.frames(), Notes: notes})
	}
	return nil
}

// veils are those over what is found in the picture, or in the first frame of it.
func (p *opened) veils(kinds []string) ([]recipe.Edit, error) {
	if len(kinds) == 0 {
		return nil, nil
	}
	if p.moves != nil {
		return foundVeils(kinds, p.moves.Frames[0]), nil
	}
	src, err := p.still(fit.Size{}, image.Rectangle{})
	if err != nil {
		return nil, err
	}
	return foundVeils(kinds, src), nil
}

// opened is a file that is ready to be cut: a still, or an animation that keeps its motion.
type opened struct {
	known facts.Facts
	size  fit.Size
	still func(wanted fit.Size, part image.Rectangle) (*raster.Source, error) // as far as it is wanted; nothing means all
	moves *raster.Animation
	from  *raster.Source // what cuts are made of, as far as they want it
	cuts  *raster.Scales
	notes []string
}

// open makes a file ready. An animation is decoded, and stays one where the format can move;
// otherwise it says that it stands still.
func (o *cutting) open(f io.ReadSeeker, known facts.Facts) (*opened, error) {
	if !known.KeepsMotion() {
		p := &opened{known: known, size: known.Upright(), still: o.decoder(f, known)}
		if known.MediaType == "image/heic" { // its decoder may take more off than its head says
			s, err := p.still(fit.Size{}, image.Rectangle{})
			if err != nil {
				return nil, err
			}
			p.size = s.Upright()
		}
		if known.Frames > 1 {
			p.notes = append(p.notes, fmt.Sprintf("It moves (%d frames), and this cut stands still: the motion of %s is not read.", known.Frames, known.MediaType))
		}
		return p, nil
	}
	a, err := raster.DecodeAnimation(f, known, o.limits)
	if err != nil {
		return nil, err
	}
	p := &opened{known: known, size: a.Frames[0].Upright(), moves: a}
	still := o.flags.still
	if still == 0 && (o.flags.format == "jpeg" || o.flags.format == "png") {
		still = 1
	}
	if still > 0 {
		if still > len(a.Frames) {
			return nil, fmt.Errorf("it has %d frames, and no frame %d", len(a.Frames), still)
		}
		frame := a.Frames[still-1]
		p.still, p.moves = func(fit.Size, image.Rectangle) (*raster.Source, error) { return frame, nil }, nil
		p.notes = append(p.notes, fmt.Sprintf("It moves (%d frames), and this cut stands still: frame %d.", len(a.Frames), still))
	}
	return p, nil
}

func (p *opened) frames() int {
	if p.moves != nil {
		return len(p.moves.Frames)
	}
	return 1
}

// prepare decodes as much as all cuts of a plan want.
func (p *opened) prepare(view recipe.View, plan []fit.Cut) (err error) {
	if p.moves != nil {
		p.from = p.moves.Frames[0]
		return nil
	}
	var all []raster.Transform
	for _, c := range plan {
		all = append(all, raster.TransformFor(view, c))
	}
	p.from, err = p.still(raster.Most(p.size, all), raster.Reads(all))
	p.cuts = raster.NewScales(p.from, p.known)
	return err
}

func (p *opened) encode(w raster.Transform, o raster.Options) (raster.Encoded, error) {
	if p.moves != nil {
		return p.moves.Encode(w, o)
	}
	return raster.Encode(p.cuts.Do(w), o)
}

// decoder decodes a file once for each scale that is wanted of it.
func (o *cutting) decoder(f io.ReadSeeker, known facts.Facts) func(fit.Size, image.Rectangle) (*raster.Source, error) {
	kept := map[int]*raster.Source{} // whole ones
	return func(wanted fit.Size, part image.Rectangle) (*raster.Source, error) {
		n := raster.Scale(known, wanted)
		if kept[n] != nil {
			return kept[n], nil
		}
		src, err := raster.DecodePart(f, known, o.limits, wanted, part)
		if err == nil && src.Whole() {
			kept[n] = src
		}
		return src, err
	}
}

func (o *cutting) tell(l cutLine) {
	o.mu.Lock()
	defer o.mu.Unlock()
	if o.flags.asJSON || o.flags.explain {
		_ = json.NewEncoder(o.stdout).Encode(l)
		return
	}
	fmt.Fprintf(o.stdout, "%s  %d × %d  density %.2f  %d bytes\n", l.File, l.Width, l.Height, l.EffectiveDensity, l.Bytes)
}
