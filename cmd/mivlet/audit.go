package main

import (
	"archive/zip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"io/fs"
	"os"
	"slices"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"mivlet/core/fit"
	"mivlet/core/private"
	"mivlet/core/raster"
	"mivlet/core/survey"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/edge/browser"
	"mivlet/edge/tesseract"
)

// auditing is how a site is looked through that was made elsewhere.
type auditing struct {
	asJSON, asCSV, asHTML, all bool
	measure                    bool // in a browser
	look                       bool // at pixels
	people                     bool // and for people in them
	hosts                      []string
	failOn                     string
}

// levels are those that the command can fail on, the least first.
var levels = []string{string(words.Hint), string(words.Warn), string(words.Stop)}

func auditCommand() *cobra.Command {
	var o auditing
	cmd := &cobra.Command{
		Use: "audit PATH", Short: "Look through a site that was made elsewhere, and say what is wrong", Args: usageArgs(cobra.ExactArgs(1)),
		Long: "Look through a site that was made elsewhere: a folder or a ZIP archive of pages and pictures.\n" +
			"Nothing is changed, and nothing is fetched. How wide pictures are shown follows from HTML and CSS, as an estimate, or is measured.\n" +
			"It ends with status 1 where something is found that --fail-on names, or worse.",
		RunE: func(cmd *cobra.Command, args []string) error { return o.run(cmd, args[0]) },
	}
	f := cmd.Flags()
	f.BoolVar(&o.asJSON, "json", false, "the whole report as JSON")
	f.BoolVar(&o.asCSV, "csv", false, "one line for each finding, for a spreadsheet")
	f.BoolVar(&o.asHTML, "html", false, "the report as a page that needs nothing else")
	f.BoolVar(&o.all, "all", false, "tell each finding, and not only the first of a kind")
	f.BoolVar(&o.look, "look", false, "decode the pictures, to find the same one in other sizes and under other names, still copies of what moves, mosaics, and blurred words")
	f.BoolVar(&o.people, "people", false, "look for faces in the pictures, too, and for private details that can be read, where the program tesseract is installed")
	f.BoolVar(&o.measure, "measure", false, "have Chromium, where it is installed, measure how wide pictures are shown")
	f.StringSliceVar(&o.hosts, "host", nil, "names that the site is reached at, such as www.club.example: addresses of those lead into it")
	f.StringVar(&o.failOn, "fail-on", string(words.Stop), "stop, warn, hint or never")
	return cmd
}

func (o *auditing) run(cmd *cobra.Command, path string) error {
	if o.failOn != "never" && !slices.Contains(levels, o.failOn) {
		return usage{fmt.Errorf("invalid fail-on %q: it is stop, warn, hint or never", o.failOn)}
	}
	var found *survey.Survey
	err := withSite(path, func(files fs.FS) (err error) {
		found, err = o.read(cmd.Context(), files, survey.Options{Hosts: o.hosts})
		return err
	})
	if err != nil {
		return err
	}
	report := found.Report()
	out := cmd.OutOrStdout()
	switch {
	case o.asJSON:
		e := json.NewEncoder(out)
		e.SetIndent("", " ")
		err = e.Encode(report)
	case o.asCSV:
		err = auditCSV(out, report)
	case o.asHTML:
		err = auditHTML(out, report)
	default:
		auditText(out, report, o.all)
	}
	if err != nil {
		return err
	}
	if o.failOn != "never" && slices.ContainsFunc(report.Findings, func(f survey.Finding) bool {
		return slices.Index(levels, string(f.Level)) >= slices.Index(levels, o.failOn)
	}) {
		return errFailed
	}
	return nil
}

// withSite opens a folder or an archive.
func withSite(path string, do func(fs.FS) error) error {
	info, err := os.Stat(path)
	if err != nil {
		return plain(err)
	}
	if info.IsDir() {
		root, err := os.OpenRoot(path) // links do not lead out of it
		if err != nil {
			return plain(err)
		}
		defer root.Close()
		return do(root.FS())
	}
	archive, err := zip.OpenReader(path)
	if err != nil {
		return fmt.Errorf("%s is neither a folder nor a ZIP archive: %w", path, plain(err))
	}
	defer archive.Close()
	files, err := survey.Top(archive)
	if err != nil {
		return err
	}
	return do(files)
}

// read reads the site, and has what is asked for measured.
func (o *auditing) read(ctx context.Context, files fs.FS, options survey.Options) (*survey.Survey, error) {
	found, err := survey.Read(ctx, files, options)
	if err == nil && (o.look || o.people) {
		looking := survey.Looking{Limits: usualLimits()}
		if o.people {
			looking.Inspect = func(src *raster.Source) (int, []private.Kind) {
				return derive.Inspect(src, tesseract.Reader{Patience: time.Minute}, nil)
			}
		}
		err = found.Look(ctx, files, looking)
	}
	if err != nil || !o.measure {
		return found, err
	}
	var pages []string
	for _, p := range found.Pages {
		if len(p.Uses) > 0 {
			pages = append(pages, p.Path)
		}
	}
	measured, err := browser.Measure(ctx, files, pages, nil)
	if err != nil {
		return nil, fmt.Errorf("nothing was measured: %w", err)
	}
	found.Measured(measured)
	return found, nil
}

// auditText tells the sum, and then what was found, one kind after the other.
func auditText(w io.Writer, r survey.Report, all bool) {
	fmt.Fprintf(w, "%s, %s: %s\n", access.Count(r.Sum.Pages, "page"), access.Count(r.Sum.Pictures, "picture"), r.Sum)
	if r.Sum.Pages == 0 {
		fmt.Fprintln(w, "there is no page in it: is this the folder that the site is served from?")
	}
	if len(r.Columns) > 0 {
		fmt.Fprintf(w, "Widths on a desktop: %s\n", columnsOf(r.Columns))
	}
	if c := r.Sum.Comes; len(c) == len(survey.Viewports) {
		fmt.Fprintf(w, "Pictures that come with a page, as a browser took them: %s at %.0f px, %s at %.0f px, %s at %.0f px\n",
			fit.Weight(c[0]), survey.Viewports[0], fit.Weight(c[1]), survey.Viewports[1], fit.Weight(c[2]), survey.Viewports[2])
	}
	kinds := survey.ByKind(r.Findings)
	if len(kinds) == 0 {
		fmt.Fprintln(w, "Nothing is wrong.")
	}
	for _, kind := range kinds {
		fmt.Fprintf(w, "\n%-4s  %s\n", kind[0].Level, kindTitle(kind))
		shown := kind
		if !all {
			shown = kind[:min(len(kind), fewFindings)]
		}
		for _, f := range shown {
			fmt.Fprintf(w, "      %s\n", auditLine(f))
		}
		if n := len(kind) - len(shown); n > 0 {
			fmt.Fprintf(w, "      … and %d more (--all)\n", n)
		}
	}
}

// fewColumns is how many widths are told.
const fewColumns = 6

func columnsOf(all []survey.Column) string {
	var parts []string
	for _, c := range all[:min(len(all), fewColumns)] {
		parts = append(parts, fmt.Sprintf("%d px (%d pictures)", c.Width, c.Pictures))
	}
	return strings.Join(parts, ", ")
}

// fewFindings is how many of a kind are told where nobody asks for all.
const fewFindings = 3
