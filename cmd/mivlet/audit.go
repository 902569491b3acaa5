package main

import (
	"archive/zip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"slices"

	"github.com/spf13/cobra"

	"mivlet/core/survey"
	"mivlet/core/words"
)

// auditing is how a site is looked through that was made elsewhere.
type auditing struct {
	asJSON, asCSV, asHTML, all bool
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
			"Nothing is changed, and nothing is fetched. How wide pictures are shown follows from HTML and CSS, as an estimate.\n" +
			"It ends with status 1 where something is found that --fail-on names, or worse.",
		RunE: func(cmd *cobra.Command, args []string) error { return o.run(cmd, args[0]) },
	}
	f := cmd.Flags()
	f.BoolVar(&o.asJSON, "json", false, "the whole report as JSON")
	f.BoolVar(&o.asCSV, "csv", false, "one line for each finding, for a spreadsheet")
	f.BoolVar(&o.asHTML, "html", false, "the report as a page that needs nothing else")
	f.BoolVar(&o.all, "all", false, "tell each finding, and not only the first of a kind")
	f.StringSliceVar(&o.hosts, "host", nil, "names that the site is reached at, such as www.club.example: addresses of those lead into it")
	f.StringVar(&o.failOn, "fail-on", string(words.Stop), "stop, warn, hint or never")
	return cmd
}

func (o *auditing) run(cmd *cobra.Command, path string) error {
	if o.failOn != "never" && !slices.Contains(levels, o.failOn) {
		return usage{fmt.Errorf("invalid fail-on %q: it is stop, warn, hint or never", o.failOn)}
	}
	found, err := o.look(cmd.Context(), path)
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

// look reads a folder or an archive.
func (o *auditing) look(ctx context.Context, path string) (*survey.Survey, error) {
	info, err := os.Stat(path)
	if err != nil {
		return nil, plain(err)
	}
	options := survey.Options{Hosts: o.hosts}
	if info.IsDir() {
		root, err := os.OpenRoot(path) // links do not lead out of it
		if err != nil {
			return nil, plain(err)
		}
		defer root.Close()
		return survey.Read(ctx, root.FS(), options)
	}
	archive, err := zip.OpenReader(path)
	if err != nil {
		return nil, fmt.Errorf("%s is neither a folder nor a ZIP archive: %w", path, plain(err))
	}
	defer archive.Close()
	files, err := survey.Top(archive)
	if err != nil {
		return nil, err
	}
	return survey.Read(ctx, files, options)
}

var errNoPage = errors.New("there is no page in it")

// auditText tells the sum, and then what was found, one kind after the other.
func auditText(w io.Writer, r survey.Report, all bool) {
	fmt.Fprintf(w, "%d pages, %d pictures: %s\n", r.Sum.Pages, r.Sum.Pictures, r.Sum)
	if r.Sum.Pages == 0 {
		fmt.Fprintf(w, "%v: is this the folder that the site is served from?\n", errNoPage)
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

// fewFindings is how many of a kind are told where nobody asks for all.
const fewFindings = 3

var _ fs.FS = (*zip.ReadCloser)(nil)
