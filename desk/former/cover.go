package former

import (
	"errors"
	"fmt"
	"path"
	"slices"
	"strconv"

	"mivlet/core/facts"
	"mivlet/core/mend"
	"mivlet/core/page"
	"mivlet/core/raster"
	"mivlet/core/survey"
	"mivlet/desk/access"
	"mivlet/store"
)

// ofPeople are the codes of what is mended by covering a part of a picture.
var ofPeople = []survey.Code{survey.Faces, survey.Readable, survey.WeakVeil, survey.SoftVeil}

// OfPeople reports whether findings of a code are mended by covering a part of the picture.
func OfPeople(code survey.Code) bool { return slices.Contains(ofPeople, code) }

// ToCover brings a picture of a site to the bench of a section, where parts of it are covered. Mending puts the covered
// picture in the place of the file, and of all files with the same content. It returns the picture; where it is on the
// bench already, that one.
func (d *Desk) ToCover(id uint, file, section string) (uint, error) {
	if err := d.MayWork(section); err != nil {
		return 0, err
	}
	f, found, err := d.surveyed(id)
	if err != nil {
		return 0, err
	}
	k, err := found.picture(file)
	if err != nil {
		return 0, err
	}
	if !mend.Covers(*k.Facts) {
		return 0, access.Refuse(access.Bad, path.Base(file)+" cannot be covered as the kind of file that it is.", "Take it off its pages, or carry them over.")
	}
	all, err := d.Store.FormerChoices(id)
	if err != nil {
		return 0, err
	}
	if p := coveredBy(all)[file]; p != 0 {
		if was, err := d.Store.Picture(p); err == nil && was.Station != store.Bin {
			return p, nil
		}
	}
	in, err := d.Open(id, false, file)
	if err != nil {
		return 0, err
	}
	p, err := d.bench.Bring(section, d.Rules().FirstSlot(page.Picture.Takes), path.Base(file), in)
	if err != nil {
		return 0, err
	}
	return p, d.decide(store.FormerChoice{FormerSiteID: id, Kind: store.FormerCovered, File: file, Text: fmt.Sprint(p)}, section, "Brought %s of %s to the bench, to cover parts of it", path.Base(file), f.Title)
}

// Allow notes that what can be seen or read of people in a picture may be, and in all files with the same content.
func (d *Desk) Allow(id uint, file string) error {
	f, found, err := d.surveyed(id)
	if err != nil {
		return err
	}
	if _, err := found.picture(file); err != nil {
		return err
	}
	return d.decide(store.FormerChoice{FormerSiteID: id, Kind: store.FormerAllowed, File: file}, "", "Noted that %s of %s may be shown with the people in it", path.Base(file), f.Title)
}

// coveredBy are the pictures that stand for files of a site on the bench, by the paths of those.
func coveredBy(all []store.FormerChoice) map[string]uint {
	covered := map[string]uint{}
	for _, c := range all {
		if c.Kind == store.FormerCovered {
			n, _ := strconv.ParseUint(c.Text, 10, 63)
			covered[c.File] = uint(n)
		}
	}
	return covered
}

// withoutDecided leaves out of a report what of people is covered on the bench by now, or allowed.
func (d *Desk) withoutDecided(found known, all []store.FormerChoice) ([]survey.Finding, error) {
	done := map[string]bool{}
	for _, c := range all {
		if c.Kind == store.FormerAllowed {
			for _, same := range sameAs(found.Survey, c.File) {
				done[same] = true
			}
		}
	}
	for file, id := range coveredBy(all) {
		p, err := d.Store.Picture(id)
		if errors.Is(err, store.ErrNotFound) {
			continue
		}
		if err != nil {
			return nil, err
		}
		for _, same := range sameAs(found.Survey, file) {
			done[same] = done[same] || p.Station != store.Bin && len(p.Work.Recipe.Veils()) > 0
		}
	}
	return slices.DeleteFunc(slices.Clone(found.report.Findings), func(f survey.Finding) bool {
		return done[f.Picture] && slices.Contains(ofPeople, f.Code)
	}), nil
}

// sameAs are all files of a site with the content of one.
func sameAs(found *survey.Survey, file string) []string {
	all := []string{file}
	k := found.Files[file]
	for at, o := range found.Files {
		if k != nil && at != file && k.Hash != "" && o.Hash == k.Hash {
			all = append(all, at)
		}
	}
	return all
}

// coverings are what stands in the place of files of a site, by their paths. It refuses where somebody had one covered
// and the picture is gone: the site would show what is to be hidden.
func (d *Desk) coverings(found *survey.Survey, all []store.FormerChoice) (map[string]mend.Covering, error) {
	coverings := map[string]mend.Covering{}
	for file, id := range coveredBy(all) {
		p, err := d.Store.Picture(id)
		switch {
		case errors.Is(err, store.ErrNotFound), err == nil && p.Station == store.Bin:
			return nil, access.Refuse(access.Clash, "The picture that covers "+file+" was thrown away.", "Bring it back from the bin, or take the decision back under What changes.")
		case err != nil:
			return nil, err
		}
		if len(p.Work.Recipe.Veils()) == 0 {
			continue // it waits on the bench
		}
		for _, same := range sameAs(found, file) {
			coverings[same] = func() (*raster.Source, error) { return d.covered(p) }
		}
	}
	return coverings, nil
}

// covered is a picture with its veils, and nothing else of what was done to it.
func (d *Desk) covered(p store.Picture) (*raster.Source, error) {
	source, done, err := d.derive.Source(p)
	if err != nil {
		return nil, err
	}
	defer done()
	whole := p.Facts.Upright()
	m := source.Do(raster.Transform{From: whole.Rect(), Size: whole, Turn: facts.Upright, Veils: p.Work.Recipe.Veils()})
	return raster.FromImage(m), nil
}
