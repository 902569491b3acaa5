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
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"mivlet/core/fit"
	"mivlet/core/mend"
	"mivlet/core/survey"
	"mivlet/desk/access"
	"mivlet/edge/browser"
)

// mending is how a site is mended that was made elsewhere.
type mending struct {
	auditing
	out     string
	plan    bool
	compare bool
	words   string
	renames string
}

func mendCommand() *cobra.Command {
	var o mending
	cmd := &cobra.Command{
		Use: "mend PATH --out NEW", Short: "Mend a site that was made elsewhere, as far as that needs no judgement", Args: usageArgs(cobra.ExactArgs(1)),
		Long: "Mend a site that was made elsewhere: a folder or a ZIP archive. The mended site is written to a new folder, or to a new archive where the name ends with .zip.\n" +
			"Pictures are cut at the widths at which they are shown. Positions and names are taken out of files, and tags say how large pictures are.\n" +
			"What is not understood stays as it was, to the byte, and no address stops working.",
		RunE: func(cmd *cobra.Command, args []string) error { return o.run(cmd, args[0]) },
	}
	f := cmd.Flags()
	f.StringVar(&o.out, "out", "", "the new folder, or the new archive (….zip)")
	f.BoolVar(&o.plan, "plan", false, "say what would change, and write nothing")
	f.BoolVar(&o.asJSON, "json", false, "each change and each picture as JSON")
	f.StringVar(&o.words, "words", "", "a file of descriptions: JSON, a list of {page, address, alt}")
	f.StringVar(&o.renames, "names", "", "a file of new names: JSON, {path: name}")
	f.BoolVar(&o.measure, "measure", false, "have Chromium, where it is installed, measure how wide pictures are shown")
	f.BoolVar(&o.compare, "compare", false, "have Chromium compare each changed page with what it was, in three windows, without its pictures")
	f.StringSliceVar(&o.hosts, "host", nil, "names that the site is reached at, such as www.club.example: addresses of those lead into it")
	return cmd
}

func (o *mending) run(cmd *cobra.Command, from string) error {
	if o.out == "" && !o.plan {
		return usage{errors.New("--out is missing: where the mended site goes")}
	}
	if o.compare && o.plan {
		return usage{errors.New("--compare needs a site that was mended, and --plan writes none")}
	}
	choices, err := o.choices()
	if err != nil {
		return err
	}
	return withSite(from, func(files fs.FS) error {
		found, err := o.read(cmd.Context(), files, survey.Options{Hosts: o.hosts})
		if err != nil {
			return err
		}
		plan, err := mend.New(cmd.Context(), files, found, choices)
		if err != nil {
			return err
		}
		var outcomes []mend.Outcome
		if !o.plan {
			if outcomes, err = o.write(cmd.Context(), files, found, plan); err != nil {
				return err
			}
		}
		var compared []mend.Compared
		if o.compare {
			if compared, err = o.beside(cmd.Context(), files, plan); err != nil {
				return err
			}
		}
		return o.tell(cmd.OutOrStdout(), plan, outcomes, compared)
	})
}

// choices are those of whoever calls.
func (o *mending) choices() (c mend.Choices, err error) {
	if o.words != "" {
		var all []struct{ Page, Address, Alt string }
		if err := fromJSON(o.words, &all); err != nil {
			return c, err
		}
		c.Words = map[mend.Spot]string{}
		for _, one := range all {
			c.Words[mend.Spot{Page: one.Page, Address: one.Address}] = one.Alt
		}
	}
	if o.renames != "" {
		err = fromJSON(o.renames, &c.Names)
	}
	return c, err
}

func fromJSON(name string, v any) error {
	data, err := os.ReadFile(name)
	if err != nil {
		return plain(err)
	}
	if err := json.Unmarshal(data, v); err != nil {
		return fmt.Errorf("%s: %w", name, err)
	}
	return nil
}

// write writes the site. What is begun and cannot be finished is taken away again.
func (o *mending) write(ctx context.Context, files fs.FS, found *survey.Survey, plan *mend.Plan) ([]mend.Outcome, error) {
	if strings.EqualFold(filepath.Ext(o.out), ".zip") {
		return o.writeArchive(ctx, files, found, plan)
	}
	if err := os.Mkdir(o.out, 0o755); err != nil {
		return nil, fmt.Errorf("%s: %w", o.out, plain(err))
	}
	root, err := os.OpenRoot(o.out)
	if err != nil {
		return nil, plain(err)
	}
	outcomes, err := plan.Write(ctx, files, found, usualLimits(), mendedFolder{files, root}, nil)
	if err := errors.Join(err, root.Close()); err != nil {
		return nil, errors.Join(err, os.RemoveAll(o.out))
	}
	return outcomes, nil
}

func (o *mending) writeArchive(ctx context.Context, files fs.FS, found *survey.Survey, plan *mend.Plan) ([]mend.Outcome, error) {
	var outcomes []mend.Outcome
	err := newArchive(o.out, func(archive *zip.Writer) (err error) {
		outcomes, err = plan.Write(ctx, files, found, usualLimits(), mend.Archive{Files: files, Into: archive}, nil)
		return err
	})
	return outcomes, err
}

// newArchive writes an archive that is not there yet. Where that fails, none is left behind.
func newArchive(to string, write func(*zip.Writer) error) error {
	file, err := os.OpenFile(to, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o644)
	if err != nil {
		return fmt.Errorf("%s: %w", to, plain(err))
	}
	archive := zip.NewWriter(file)
	err = write(archive)
	if err := errors.Join(err, archive.Close(), file.Close()); err != nil {
		return errors.Join(err, os.Remove(to))
	}
	return nil
}

// beside compares the pages that changed with what they were.
func (o *mending) beside(ctx context.Context, was fs.FS, plan *mend.Plan) (all []mend.Compared, err error) {
	return all, withSite(o.out, func(now fs.FS) error {
		if all, err = browser.Compare(ctx, was, now, plan.Paths(), nil); err != nil {
			return fmt.Errorf("the site was mended, but nothing was compared: %w", err)
		}
		return nil
	})
}

// tellCompared says which pages look otherwise than before, and in which windows.
func tellCompared(w io.Writer, all []mend.Compared) {
	for _, one := range all {
		switch {
		case one.Fault != "":
			fmt.Fprintf(w, "%s could not be compared at %d px: %s\n", one.Page, one.Width(), one.Fault)
		case len(one.Areas) > 0:
			fmt.Fprintf(w, "%s looks different at %d px, from %d px below its top on\n", one.Page, one.Width(), one.Areas[0].Y)
		}
	}
	v := mend.Judge(all)
	fmt.Fprintf(w, "As before, outside of the pictures: %d of %s\n", v.Alike, access.Count(v.Alike+len(v.Other)+len(v.Not), "page"))
}

// tell says what changed, or would.
func (o *mending) tell(w io.Writer, plan *mend.Plan, outcomes []mend.Outcome, compared []mend.Compared) error {
	if o.asJSON {
		changes := []mend.Change{}
		for _, p := range plan.Pages {
			changes = append(changes, p.Changes...)
		}
		e := json.NewEncoder(w)
		e.SetIndent("", " ")
		told := map[string]any{"changes": changes, "pictures": outcomes}
		if o.compare {
			told["compared"] = compared
		}
		return e.Encode(told)
	}
	fmt.Fprintf(w, "%s on %s, %s\n", access.Count(plan.Changes(), "tag"), access.Count(len(plan.Pages), "page"), access.Count(len(plan.Pictures), "picture"))
	if o.plan {
		for _, p := range plan.Pages {
			fmt.Fprintf(w, "\n%s\n", p.Path)
			for _, c := range p.Changes {
				fmt.Fprintf(w, "  - %s\n  + %s\n", c.Before, c.After)
			}
		}
		return nil
	}
	var was, now int64
	for _, one := range outcomes {
		was += one.Was
		now += one.Now
		if one.Fault != "" {
			fmt.Fprintf(w, "%s stays as it was: %s\n", one.Picture, one.Fault)
		}
	}
	fmt.Fprintf(w, "%s before, %s now\n", fit.Weight(was), fit.Weight(now))
	if o.compare {
		tellCompared(w, compared)
	}
	return nil
}
