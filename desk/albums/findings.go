package albums

import (
	"reflect"
	"slices"

	"mivlet/core/audit"
	"mivlet/core/page"
	"mivlet/core/twin"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// Code names what is wrong with an album as a whole.
type Code string

// What can be wrong with an album.
const (
	Undescribed Code = "undescribed" // some say nothing to who cannot see them
	Refused     Code = "refused"     // somebody on them may not be shown
	Twins       Code = "twins"       // some show nearly the same
	Soft        Code = "soft"        // some are too small to be enlarged much
	Heavy       Code = "heavy"       // some weigh far more than the others
	Nameless    Code = "nameless"    // some have no name yet
)

// Finding is one thing that falls short in an album, with the pictures that it is about.
type Finding struct {
	Level    words.Level
	Code     Code
	Pictures []store.Picture
}

// findings are those of an album as a whole, the worst first.
func (d *Desk) findings(s store.Records, v View) ([]Finding, error) {
	by := map[Code][]store.Picture{}
	for _, i := range v.Items {
		for _, code := range i.codes {
			by[code] = append(by[code], i.Picture)
		}
	}
	by[Twins] = twinsAmong(v.Items)
	var err error
	if by[Heavy], err = d.heavyAmong(s, v.Items); err != nil {
		return nil, err
	}
	var all []Finding
	for _, f := range []Finding{{Level: words.Stop, Code: Refused}, {Level: words.Stop, Code: Undescribed}, {Level: words.Stop, Code: Nameless}, {Level: words.Warn, Code: Twins}, {Level: words.Warn, Code: Soft}, {Level: words.Hint, Code: Heavy}} {
		if f.Pictures = by[f.Code]; len(f.Pictures) > 0 {
			all = append(all, f)
		}
	}
	return all, nil
}

// stops are what keeps a picture from going live.
func (d *Desk) stops(p store.Picture) []audit.Finding {
	return audit.Stops(audit.Check(d.pictures.Work(p)))
}

// judge tells what is wrong with one picture for an album, and at which steps of the walk
// something keeps it from going live: how it is fitted for a slot of its own does not count.
func (d *Desk) judge(p store.Picture) (lacks []string, codes []Code) {
	stops := d.stops(p)
	for _, f := range stops {
		if f.Step != audit.Fit && f.Step != audit.Frame {
			lacks = access.AddOnce(lacks, string(f.Step))
		}
	}
	if p.Work.Alt == "" && !p.Work.Decorative {
		codes = append(codes, Undescribed)
	}
	if p.Work.Name == "" {
		codes = append(codes, Nameless)
	}
	if pictures.Refuses(stops) {
		codes = append(codes, Refused)
	}
	frame := p.Work.Recipe.View(p.Facts.Upright()).Frame
	if 2*max(frame.Dx(), frame.Dy()) < d.Rules().Placing.Enlarged {
		codes = append(codes, Soft)
	}
	return lacks, codes
}

// twinsAmong are the pictures of an album that show nearly the same as one before them.
func twinsAmong(items []Item) []store.Picture {
	hashes := make([]twin.Hash, len(items))
	for i, p := range items {
		hashes[i] = pictures.HashOf(p.TwinA, p.TwinB, p.TwinC)
	}
	var all []store.Picture
	for i, p := range items {
		for j := range i {
			same := !hashes[i].Flat() && hashes[i].Distance(hashes[j]) <= twin.Near
			if p.OriginalHash == items[j].OriginalHash { // then it shows another part, or the same
				same = reflect.DeepEqual(p.Work.Recipe, items[j].Work.Recipe)
			}
			if same {
				all = append(all, p.Picture)
				break
			}
		}
	}
	return all
}

// How many times the usual weight, and how many bytes, make a picture far heavier than the
// rest.
const (
	heavyTimes = 3
	heavyBytes = 200_000
)

// heavyAmong are the pictures whose enlarged cuts weigh far more than the middle one, as far
// as they are made.
func (d *Desk) heavyAmong(s store.Records, items []Item) ([]store.Picture, error) {
	r := d.Rules()
	ids := make([]uint, len(items))
	for i, p := range items {
		ids[i] = p.ID
	}
	made, err := s.CutsIn(ids)
	if err != nil {
		return nil, err
	}
	weight := map[uint]int64{}
	var all []int64
	for _, p := range items {
		key := cuts.CutKey(r, p.Picture, page.EnlargedSlot(r))
		for _, c := range made[p.ID] {
			if c.Key == key {
				weight[p.ID] = max(weight[p.ID], c.Bytes)
			}
		}
		if weight[p.ID] > 0 {
			all = append(all, weight[p.ID])
		}
	}
	if len(all) == 0 {
		return nil, nil
	}
	slices.Sort(all)
	usual := all[len(all)/2]
	var heavy []store.Picture
	for _, p := range items {
		if w := weight[p.ID]; w > heavyBytes && w > heavyTimes*usual {
			heavy = append(heavy, p.Picture)
		}
	}
	return heavy, nil
}
