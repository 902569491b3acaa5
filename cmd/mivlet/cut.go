package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/rules"
)

// cutting is what the cut command is told.
type cutting struct {
	width   int
	density string
	out     string
	asJSON  bool
	force   bool
	limits  raster.Limits
	stdout  io.Writer
	stderr  io.Writer
}

// cutLine is the JSON object that tells of one cut.
type cutLine struct {
	Source           string  `json:"source"`
	File             string  `json:"file"`
	Width            int     `json:"width"`
	Height           int     `json:"height"`
	Density          float64 `json:"density"`
	EffectiveDensity float64 `json:"effective_density"`
	Format           string  `json:"format"`
	Bytes            int     `json:"bytes"`
}

func cutCommand() *cobra.Command {
	limits := rules.Default().Limits
	o := cutting{limits: raster.Limits{Side: limits.Side, Pixels: limits.Pixels}}
	cmd := &cobra.Command{
		Use: "cut FILE...", Short: "Cut pictures for a place of the given width", Args: usageArgs(cobra.MinimumNArgs(1)),
		RunE: func(cmd *cobra.Command, files []string) error {
			o.stdout, o.stderr = cmd.OutOrStdout(), cmd.ErrOrStderr()
			return o.run(files)
		},
	}
	f := cmd.Flags()
	f.IntVar(&o.width, "width", 0, "width of the place, in CSS pixels")
	f.StringVar(&o.density, "density", "1", "device pixels per CSS pixel, such as 1,2")
	f.StringVarP(&o.out, "output", "o", ".", "folder for the cuts")
	f.BoolVar(&o.asJSON, "json", false, "one JSON object for each cut on standard output")
	f.BoolVar(&o.force, "force", false, "overwrite cuts that are there; a source never")
	return cmd
}

// run cuts each file. One that fails is told and does not keep the others.
func (o *cutting) run(files []string) error {
	if o.width < 1 {
		return usage{errors.New("cut needs --width, the width of the place in CSS pixels")}
	}
	densities, err := parseDensities(o.density)
	if err != nil {
		return usage{err}
	}
	if err := os.MkdirAll(o.out, 0o755); err != nil {
		return err
	}
	bad := false
	for _, name := range files {
		if err := o.one(name, densities); err != nil {
			fmt.Fprintf(o.stderr, "mivlet: %s: %v\n", name, err)
			bad = true
		}
	}
	if bad {
		return errFailed
	}
	return nil
}

func (o *cutting) one(name string, densities []float64) error {
	f, err := os.Open(name)
	if err != nil {
		return plain(err)
	}
	defer f.Close()
	known, err := facts.Read(f)
	if err != nil {
		return err
	}
	if _, err := f.Seek(0, io.SeekStart); err != nil {
		return err
	}
	src, err := raster.Decode(f, known, o.limits)
	if err != nil {
		return err
	}
	if known.Frames > 1 {
		fmt.Fprintf(o.stderr, "mivlet: %s: it moves (%d frames); the cut shows the first one\n", name, known.Frames)
	}
	for _, c := range fit.Plan(src.Upright().Rect(), fit.Centre, fit.Want{Width: o.width}, densities) {
		e, err := raster.Encode(src.Cut(c.Source, c.Size), raster.Options{})
		if err != nil {
			return err
		}
		stem := strings.TrimSuffix(filepath.Base(name), filepath.Ext(name))
		to := filepath.Join(o.out, fmt.Sprintf("%s-%d%s", stem, c.Size.W, e.Extension()))
		if err := o.save(to, name, e.Data); err != nil {
			return err
		}
		o.tell(cutLine{name, to, c.Size.W, c.Size.H, c.Density, c.Effective, strings.TrimPrefix(e.MediaType, "image/"), len(e.Data)})
	}
	return nil
}

// save writes a cut under a temporary name and renames it, and overwrites
// nothing that was not meant.
func (o *cutting) save(to, source string, data []byte) error {
	if there, err := os.Stat(to); err == nil {
		if src, err := os.Stat(source); err == nil && os.SameFile(src, there) {
			return fmt.Errorf("the cut would overwrite its source %s", source)
		}
		if !o.force {
			return fmt.Errorf("%s is there already; --force overwrites it", to)
		}
	}
	tmp, err := os.CreateTemp(o.out, ".mivlet-*")
	if err != nil {
		return plain(err)
	}
	defer os.Remove(tmp.Name())
	_, err = tmp.Write(data)
	if err := errors.Join(err, tmp.Chmod(0o644), tmp.Close()); err != nil {
		return err
	}
	return os.Rename(tmp.Name(), to)
}

func (o *cutting) tell(l cutLine) {
	if o.asJSON {
		_ = json.NewEncoder(o.stdout).Encode(l)
		return
	}
	fmt.Fprintf(o.stdout, "%s  %d × %d  density %.2f  %d bytes\n", l.File, l.Width, l.Height, l.EffectiveDensity, l.Bytes)
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

// plain takes the call and the path off a file error: the line names the file.
func plain(err error) error {
	var p *os.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	return err
}
