package former

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"io/fs"
	"slices"
	"strings"

	"mivlet/core/mend"
	"mivlet/core/survey"
	"mivlet/desk/access"
	"mivlet/store"
)

// Sites returns the former sites, the newest first.
func (d *Desk) Sites() ([]store.FormerSite, error) {
	if err := d.mayHelp(); err != nil {
		return nil, err
	}
	return d.Store.FormerSites()
}

// site is one of them.
func (d *Desk) site(id uint) (store.FormerSite, error) {
	if err := d.mayHelp(); err != nil {
		return store.FormerSite{}, err
	}
	f, err := d.Store.FormerSite(id)
	return f, access.NotFound(err, "That former site")
}

// View is a former site with what is wrong with it.
type View struct {
	store.FormerSite
	Report  survey.Report
	Choices []store.FormerChoice
	ToWrite int             // pictures on pages that a description is needed for, and that nobody wrote one for
	ToName  int             // pictures that are called as a camera did, and that nobody named
	Covered map[string]uint // pictures on the bench that cover files, by the paths of those
	Changed bool            // something was decided after it was mended
	MayKeep bool
	Looking uint // the job that looks into its pictures now; 0 for none
	Seen    bool // they were looked into as they are
	Mending uint // the job that mends it now; 0 for none
	Carried int  // pages that were carried over to the house
}

// Of returns one.
func (d *Desk) Of(id uint) (v View, err error) {
	f, found, err := d.surveyed(id)
	v.FormerSite = f
	if err != nil {
		return v, err
	}
	if v.Choices, err = d.Store.FormerChoices(id); err != nil {
		return v, err
	}
	v.Choices = slices.DeleteFunc(v.Choices, func(c store.FormerChoice) bool {
		if c.Kind == store.FormerCarried && c.Page != "" {
			v.Carried++
		}
		return c.Kind == store.FormerCarried
	})
	v.Report, v.Covered = found.report, coveredBy(v.Choices)
	if v.Report.Findings, err = d.withoutDecided(found, v.Choices); err != nil {
		return v, err
	}
	c := choicesOf(v.Choices)
	v.ToWrite = len(undescribed(found, c))
	v.ToName = len(unnamed(found, c))
	v.MayKeep = d.Person.Keeper
	v.Changed = v.MendedAt != nil && slices.ContainsFunc(v.Choices, func(c store.FormerChoice) bool { return c.At.After(*v.MendedAt) })
	v.Seen = found.looked
	if v.Mending, err = d.Mending(id); err == nil {
		v.Looking, err = d.looking.Going(d.jobs, id)
	}
	return v, err
}

// Known is a former site as it was read, with what was decided about it.
type Known struct {
	store.FormerSite
	*survey.Survey
	Choices mend.Choices
	All     []store.FormerChoice // with what was carried over
}

// Known returns one.
func (d *Desk) Known(id uint) (k Known, err error) {
	f, found, err := d.surveyed(id)
	k.FormerSite = f
	if err != nil {
		return k, err
	}
	k.Survey = found.Survey
	k.All, err = d.Store.FormerChoices(id)
	k.Choices = choicesOf(k.All)
	return k, err
}

// choicesOf are decisions as they are mended by.
func choicesOf(all []store.FormerChoice) mend.Choices {
	c := mend.Choices{Words: map[mend.Spot]string{}, Names: map[string]string{}, Left: map[string]bool{}}
	for _, one := range all {
		switch one.Kind {
		case store.FormerWords:
			c.Words[mend.Spot{Page: one.Page, Address: one.Address}] = one.Text
		case store.FormerName:
			c.Names[one.File] = one.Text
		case store.FormerLeft:
			c.Left[one.File] = true
		}
	}
	return c
}

// File is a file of a site, as visitors would get it.
type File struct {
	*bytes.Reader
	Path string
}

// mostShown is how many bytes of a file are shown, at most.
const mostShown = 64 << 20

// Open opens a file of a former site as it was, or of the mended one: for people who look at it, page by page.
func (d *Desk) Open(id uint, mended bool, at string) (f File, err error) {
	site, err := d.site(id)
	if err != nil {
		return f, err
	}
	hash := site.Hash
	if mended {
		hash = site.MendedHash
	}
	if hash == "" {
		return f, access.Refuse(access.Missing, "The site has not been mended yet.", "Mend it first.")
	}
	a, err := d.Store.OpenFormer(hash)
	if err != nil {
		return f, err
	}
	defer a.Close()
	at = strings.Trim(at, "/")
	for _, name := range []string{at, strings.TrimPrefix(at+"/index.html", "/"), strings.TrimPrefix(at+"/index.htm", "/"), at + ".html"} {
		if !fs.ValidPath(name) {
			continue
		}
		in, err := a.Open(name)
		if err != nil {
			continue
		}
		if info, err := in.Stat(); err != nil || info.IsDir() {
			in.Close()
			continue
		}
		data, err := io.ReadAll(io.LimitReader(in, mostShown))
		in.Close()
		return File{Reader: bytes.NewReader(data), Path: name}, err
	}
	return f, access.Refuse(access.Missing, fmt.Sprintf("There is no %q in that site.", at), "It may be what the report calls a broken link.")
}

// Changes are what mending changes now, page by page.
func (d *Desk) Changes(id uint) (v View, plan *mend.Plan, err error) {
	if v, err = d.Of(id); err != nil {
		return v, nil, err
	}
	plan, err = d.plan(d.Context, v.FormerSite, v.Choices)
	return v, plan, err
}

func (d *Desk) plan(ctx context.Context, f store.FormerSite, choices []store.FormerChoice) (*mend.Plan, error) {
	found, err := d.survey(ctx, f)
	if err != nil {
		return nil, err
	}
	a, err := d.Store.OpenFormer(f.Hash)
	if err != nil {
		return nil, err
	}
	defer a.Close()
	c := choicesOf(choices)
	if c.Covered, err = d.coverings(found.Survey, choices); err != nil {
		return nil, err
	}
	return mend.New(ctx, a, found.Survey, c)
}
